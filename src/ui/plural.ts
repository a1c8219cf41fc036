const rules = new Intl.PluralRules('en');

/** A number with its word: `1 person`, `3 people`. */
export const counted = (count: number, one: string, many = `${one}s`): string => `${count} ${rules.select(count) === 'one' ? one : many}`;
