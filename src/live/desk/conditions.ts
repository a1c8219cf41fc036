import type { StoreApi } from 'zustand/vanilla';

/** Something that needs the host, for as long as it does. */
export interface Condition {
  key: string;
  words: string;
}

/** Says what is wrong, by a key: the same again takes its place, and it is gone as soon as it is over. */
export interface Conditions {
  begin(key: string, words: string): void;
  end(key: string): void;
  /** What only has to be read; it takes the place of the condition it is the end of, and goes by itself. */
  news(key: string, words: string): void;
}

/** Long enough to be read between two questions, ms. */
const NEWS_MS = 45_000;

/** The conditions of a desk. Nobody else writes them. */
export class DeskConditions implements Conditions {
  readonly #store: StoreApi<{ conditions: Condition[] }>;
  readonly #going = new Map<string, ReturnType<typeof setTimeout>>();

  constructor(store: StoreApi<{ conditions: Condition[] }>) {
    this.#store = store;
  }

  begin(key: string, words: string): void {
    this.#stay(key);
    const { conditions } = this.#store.getState();
    const has = conditions.find((one) => one.key === key);
    if (has?.words === words) return;
    this.#store.setState({ conditions: has ? conditions.map((one) => (one === has ? { key, words } : one)) : [...conditions, { key, words }] });
  }

  end(key: string): void {
    this.#stay(key);
    const { conditions } = this.#store.getState();
    if (conditions.some((one) => one.key === key)) this.#store.setState({ conditions: conditions.filter((one) => one.key !== key) });
  }

  news(key: string, words: string): void {
    this.begin(key, words);
    this.#going.set(
      key,
      setTimeout(() => this.end(key), NEWS_MS),
    );
  }

  #stay(key: string): void {
    clearTimeout(this.#going.get(key));
    this.#going.delete(key);
  }
}
