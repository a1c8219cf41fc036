import { talkbackOf, type ListenerId, type SourceId } from '@/core/hearing/ids';
import { NOTHING_ON_AIR, type Cough, type ListenTo, type OnAir } from '@/core/hearing/on-air';
import type { HandsSlice, Own } from './desk-state';

/** What the hands need of their desk. */
interface HandledDesk {
  /** Compiles the plan with the hands over it and gives it to the engine. */
  apply(): void;
  /** Sends a seat's microphone to its talkback; null for back again. */
  talk(seat: string | null): void;
  hostSeat(): string;
}

/** Everything the host does on air over the plan: it lasts as long as it is held, and is never stored. */
export class HandsOnAir {
  readonly #store: Own<HandsSlice>;
  readonly #desk: HandledDesk;
  #listenTimer: ReturnType<typeof setTimeout> | undefined;

  constructor(store: Own<HandsSlice>, desk: HandledDesk) {
    this.#store = store;
    this.#desk = desk;
  }

  /** Puts one source, before its fader, or another mix into the phones; null for the host's own. */
  listenTo(what: OnAir['listenTo']): void {
    clearTimeout(this.#listenTimer);
    const { listenSeconds } = this.#store.getState().habits;
    if (what !== null) this.#listenTimer = setTimeout(() => this.listenTo(null), listenSeconds * 1000);
    this.#store.setState({ listeningUntil: what === null ? null : performance.now() + listenSeconds * 1000 });
    this.#setOnAir({ listenTo: what });
  }

  /** Changes how what is listened to sounds; it ends when it would have. */
  adjustListening(what: ListenTo): void {
    this.#setOnAir({ listenTo: what });
  }

  hearAs(listener: ListenerId | null): void {
    this.listenTo(listener === null ? null : { listener });
  }

  /** Keeps a voice out of the call, the program or both; null lets it in again. The track goes on. */
  cough(source: SourceId, what: Cough | null): void {
    const { [source]: _, ...others } = this.#store.getState().onAir.cough;
    this.#setOnAir({ cough: what === null ? others : { ...others, [source]: what } });
  }

  /** The host talks privately into these returns; an empty list ends it. */
  talkTo(listeners: readonly ListenerId[]): void {
    const seat = this.#desk.hostSeat();
    this.#desk.talk(listeners.length > 0 ? seat : null);
    this.#setOnAir({ talk: listeners.length > 0 ? { from: talkbackOf(seat), to: [...listeners] } : null });
  }

  /** A producer talks privately into these returns and phones; an empty list ends it. */
  sideTalk(seat: string, listeners: readonly ListenerId[]): void {
    const from = talkbackOf(seat);
    const others = this.#store.getState().onAir.sideTalk.filter((talk) => talk.from !== from);
    this.#setOnAir({ sideTalk: listeners.length > 0 ? [...others, { from, to: [...listeners] }] : others });
  }

  /** Keeps a source out of every mix, whatever the plan says, until it is let go. */
  hold(source: SourceId, held: boolean): void {
    const others = this.#store.getState().onAir.held.filter((id) => id !== source);
    this.#setOnAir({ held: held ? [...others, source] : others });
  }

  dimPhones(phonesDim: boolean): void {
    this.#setOnAir({ phonesDim });
  }

  /** Takes one listener into the private talk, or out of it. */
  talkWith(listener: ListenerId, on: boolean): void {
    const others = (this.#store.getState().onAir.talk?.to ?? []).filter((id) => id !== listener);
    this.talkTo(on ? [...others, listener] : others);
  }

  setTalkDim(talkDimDb: number): void {
    this.#setOnAir({ talkDimDb });
  }

  /** Lets go of everything that is held: the window lost the keys. */
  releaseHeld(): void {
    const { onAir } = this.#store.getState();
    if (onAir.talk) this.talkTo([]);
    for (const source of Object.keys(onAir.cough) as SourceId[]) this.cough(source, null);
  }

  /** Lets go of everything and listens to nothing else; the dims the host has set stay. */
  rest(): void {
    clearTimeout(this.#listenTimer);
    this.#store.setState(({ onAir: { talkDimDb, phonesDimDb } }) => ({ onAir: { ...NOTHING_ON_AIR, talkDimDb, phonesDimDb }, listeningUntil: null }));
    this.#desk.apply();
  }

  #setOnAir(change: Partial<OnAir>): void {
    this.#store.setState(({ onAir }) => ({ onAir: { ...onAir, ...change } }));
    this.#desk.apply();
  }
}
