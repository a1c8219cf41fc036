/** Something that can be done, as it is looked for: by the beginnings of its words. */
export interface Findable {
  name: string;
}

const wordsOf = (text: string): string[] => text.toLocaleLowerCase().split(/[^\p{L}\p{N}]+/u).filter((word) => word !== '');

/**
 * Those of which every typed word begins a word: `ta od` finds *Talk to Odalys*. Those whose name begins as it was typed come
 * first; otherwise the order stays. All of them where nothing was typed.
 */
export function findActions<Action extends Findable>(actions: readonly Action[], typed: string): Action[] {
  const wanted = wordsOf(typed);
  const found = actions.filter(({ name }) => {
    const words = wordsOf(name);
    return wanted.every((one) => words.some((word) => word.startsWith(one)));
  });
  const begins = ({ name }: Action): boolean => name.toLocaleLowerCase().startsWith(typed.trim().toLocaleLowerCase());
  return [...found.filter(begins), ...found.filter((action) => !begins(action))];
}
