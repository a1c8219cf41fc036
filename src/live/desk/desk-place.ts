import type { StoreApi } from 'zustand/vanilla';
import { WATCHERS, type BoxMessage, type ForWatchers, type FromServer } from '@/core/lines/messages';
import { createMessagePost, type MessagePost } from '../lines/message-post';
import { openMessageStream, type MessageStream } from '../lines/message-stream';
import { windowId } from '../lines/window-id';
import type { DeskState } from './desk-state';

export interface DeskGreeting {
  windows: { seat: string; window: string }[];
  iceServers: RTCIceServer[];
}

export interface DeskPlaceOptions {
  episode: string;
  /** Whether this person may work the desk at all. */
  mayWork: boolean;
  store: StoreApi<DeskState>;
  /** This window is the desk: at first, and after every lost connection. */
  onDesk(greeting: DeskGreeting): void;
  onMessage(message: BoxMessage): void;
  /** What the desk tells, while this window only watches. */
  onScene(scene: ForWatchers): void;
  /** Another window took the desk over. */
  onOusted(): void;
}

/** A window that was just reloaded or closed gives the desk back within this time. */
const PATIENCE_MS = 4000;
const TRY_AGAIN_MS = 250;

/**
 * One window is an episode's desk; the others watch. The place is held by the stream of messages, so
 * it is free as soon as the window is gone.
 */
export class DeskPlace {
  readonly #options: DeskPlaceOptions;
  readonly #address: string;
  #stream: MessageStream | null = null;
  #post: MessagePost | null = null;

  constructor(options: DeskPlaceOptions) {
    this.#options = options;
    this.#address = `/api/episodes/${options.episode}/messages`;
  }

  open(): void {
    if (this.#options.mayWork) this.#claim(false, performance.now() + PATIENCE_MS);
    else this.#watch();
  }

  takeOver(): void {
    this.#claim(true, 0);
  }

  /** To one seat; nothing is sent by a window that only watches. */
  send(to: string, body: object): void {
    this.#post?.send({ window: windowId(), to, body });
  }

  tellWatchers(scene: ForWatchers): void {
    this.send(WATCHERS, scene);
  }

  #claim(takeOver: boolean, patientUntil: number): void {
    this.#close();
    const { store, onDesk, onMessage } = this.#options;
    this.#stream = openMessageStream<DeskGreeting>({
      url: `${this.#address}?as=desk&window=${windowId()}&takeOver=${takeOver}`,
      onOpen: (greeting) => {
        this.#post ??= createMessagePost(this.#address, {}, () => undefined);
        this.#post.go();
        store.setState({ place: 'desk', boxAway: false, watched: null });
        onDesk(greeting);
      },
      onMessage: (message) => {
        const { body } = message;
        if ((body as FromServer).type === 'ousted') return this.#oust();
        onMessage(message);
      },
      onAway: () => {
        this.#post?.hold();
        store.setState({ boxAway: true });
      },
      onRefused: (code) => {
        if (code === 'open-elsewhere' && performance.now() < patientUntil) {
          setTimeout(() => this.#claim(false, patientUntil), TRY_AGAIN_MS);
        } else if (store.getState().place === 'desk') this.#oust();
        else this.#watch();
      },
    });
  }

  #oust(): void {
    this.#options.onOusted();
    this.#watch();
  }

  #watch(): void {
    this.#close();
    const { store } = this.#options;
    store.setState({ place: 'watching', boxAway: false });
    this.#stream = openMessageStream({
      url: `${this.#address}?as=watcher&window=${windowId()}`,
      onOpen: () => store.setState({ boxAway: false }),
      onMessage: ({ body }) => this.#options.onScene(body as ForWatchers),
      onAway: () => store.setState({ boxAway: true }),
      onRefused: () => store.setState({ boxAway: true }),
    });
  }

  #close(): void {
    this.#stream?.close();
    this.#post?.close();
    this.#stream = this.#post = null;
  }
}
