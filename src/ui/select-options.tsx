/** The choices of a select: each value with its words. */
export function SelectOptions({ options }: { options: readonly (readonly [value: string, words: string])[] }) {
  return options.map(([value, words]) => (
    <option key={value} value={value}>
      {words}
    </option>
  ));
}
