import { WATCHERS, type BoxMessage, type ForWatchers, type FromServer } from '@/core/lines/messages';
import { sendJson } from '../api';
import { createMessagePost, type MessagePost } from '../lines/message-post';
import { openMessageStream, type MessageStream } from '../lines/message-stream';
import { windowId } from '../lines/window-id';
import type { Own, PlaceSlice } from './desk-state';
import type { Conditions } from './conditions';

export interface DeskGreeting {
  windows: { seat: string; window: string }[];
  iceServers: RTCIceServer[];
}

export interface DeskPlaceOptions {
  episode: string;
  /** Whether this person may work the desk at all. */
  mayWork: boolean;
  store: Own<PlaceSlice>;
  /** This window is the desk: at first, and after every lost connection. */
  onDesk(greeting: DeskGreeting): void;
  /** What lets calls through a relay was given anew. */
  onIceServers(iceServers: RTCIceServer[]): void;
  onMessage(message: BoxMessage): void;
  /** What the desk tells, while this window only watches. */
  onScene(scene: ForWatchers): void;
  /** Another window took the desk over. */
  onOusted(): void;
  conditions: Conditions;
}

/** A window that was just reloaded or closed gives the desk back within this time. */
const PATIENCE_MS = 4000;
const TRY_AGAIN_MS = 250;
/** The place of a window whose server died as well is free only after this time: until then the next window watches, and looks again. */
const HOPE_MS = 20_000;
const LOOK_AGAIN_MS = 2000;
/** So long after a new sign-in, answers to requests from before it do not count. */
const SIGNED_IN_QUIET_MS = 4000;

/**
 * One window is an episode's desk; the others watch. The place is held by the stream of messages, so
 * it is free as soon as the window is gone.
 */
export class DeskPlace {
  readonly #options: DeskPlaceOptions;
  readonly #address: string;
  #stream: MessageStream | null = null;
  #post: MessagePost | null = null;
  #signedInAt = -Infinity;
  /** Claims the desk beside watching. */
  #hope: { timer: ReturnType<typeof setTimeout>; claim: MessageStream | null } | null = null;

  constructor(options: DeskPlaceOptions) {
    this.#options = options;
    this.#address = `/api/episodes/${options.episode}/messages`;
  }

  open(): void {
    if (this.#options.mayWork) this.#claim(performance.now() + PATIENCE_MS, performance.now() + HOPE_MS);
    else this.#watch();
  }

  /** Makes this window the desk, whichever is it now. @throws {ServerError} */
  async takeOver(): Promise<void> {
    await sendJson('POST', `/api/episodes/${this.#options.episode}/desk`, { window: windowId() });
    this.#close();
    this.#claim(0);
  }

  /** The server no longer knows who sits here. */
  signedOut(): void {
    // What was refused before is still on its way back for a moment.
    if (performance.now() - this.#signedInAt > SIGNED_IN_QUIET_MS) this.#options.store.setState({ signedOut: true });
  }

  /** The host has signed in again: goes on where it was. */
  signedIn(): void {
    this.#signedInAt = performance.now();
    this.#options.store.setState({ signedOut: false });
    if (this.#options.store.getState().place === 'watching') this.#watch();
    else this.#claim(performance.now() + PATIENCE_MS);
  }

  /** To one seat; nothing is sent by a window that only watches. */
  send(to: string, body: object): void {
    this.#post?.send({ window: windowId(), to, body });
  }

  tellWatchers(scene: ForWatchers): void {
    this.send(WATCHERS, scene);
  }

  /** What waits to be said goes on waiting. */
  #claim(patientUntil: number, hopeUntil = 0): void {
    this.#stream?.close();
    const { store } = this.#options;
    this.#stream = this.#asDesk((code, words) => {
      // The call and the recording go on here; the place is claimed again as soon as the host has signed in.
      if (code === 'sign-in') return this.#lose();
      if (code === 'open-elsewhere' && performance.now() < patientUntil) setTimeout(() => this.#claim(patientUntil, hopeUntil), TRY_AGAIN_MS);
      else if (store.getState().place !== 'desk') this.#watch(hopeUntil);
      else if (code === 'open-elsewhere') this.#oust();
      else this.#refuse(words);
    });
  }

  /** Asks again for the desk while this window watches. */
  #hopeUntil(until: number): void {
    const timer = setTimeout(() => {
      const claim = this.#asDesk(() => {
        claim.close();
        if (performance.now() < until) this.#hopeUntil(until);
      });
      this.#hope = { timer, claim };
    }, LOOK_AGAIN_MS);
    this.#hope = { timer, claim: null };
  }

  #asDesk(onRefused: (code: string, words: string) => void): MessageStream {
    const { store, onDesk, onIceServers, onMessage } = this.#options;
    const stream: MessageStream = openMessageStream<DeskGreeting>({
      url: `${this.#address}?as=desk&window=${windowId()}`,
      onOpen: (greeting) => {
        if (this.#stream !== stream) this.#stream?.close();
        this.#stream = stream;
        this.#hope = null;
        this.#post ??= createMessagePost(this.#address, {}, () => undefined);
        this.#post.go();
        store.setState({ place: 'desk', boxAway: false, watched: null });
        this.#options.conditions.end('rights');
        onDesk(greeting);
      },
      onRenew: ({ iceServers }) => iceServers && onIceServers(iceServers),
      onMessage: (message) => {
        const { body } = message;
        if ((body as FromServer).type === 'ousted') return this.#oust();
        onMessage(message);
      },
      onAway: () => {
        if (this.#stream !== stream) return;
        this.#post?.hold();
        store.setState({ boxAway: true });
      },
      onRefused,
    });
    return stream;
  }

  #lose(): void {
    this.#post?.hold();
    this.#options.store.setState({ boxAway: true });
    this.signedOut();
  }

  /** The server will not have this account at the desk any more; what runs here goes on until the host decides. */
  #refuse(words: string): void {
    const { store, conditions } = this.#options;
    store.setState({ boxAway: true });
    conditions.begin('rights', `The server does not let this account work the desk any more. ${words} The call goes on here; what is recorded is kept on this computer.`);
  }

  #oust(): void {
    this.#options.onOusted();
    this.#watch();
  }

  #watch(hopeUntil = 0): void {
    this.#close();
    if (performance.now() < hopeUntil) this.#hopeUntil(hopeUntil);
    const { store } = this.#options;
    store.setState({ place: 'watching', boxAway: false });
    this.#stream = openMessageStream({
      url: `${this.#address}?as=watcher&window=${windowId()}`,
      onOpen: () => store.setState({ boxAway: false }),
      onMessage: ({ body }) => {
        const watched = body as ForWatchers;
        store.setState({ watched });
        this.#options.onScene(watched);
      },
      onAway: () => store.setState({ boxAway: true }),
      onRefused: (code) => (code === 'sign-in' ? this.#lose() : store.setState({ boxAway: true })),
    });
  }

  #close(): void {
    if (this.#hope) clearTimeout(this.#hope.timer);
    this.#hope?.claim?.close();
    this.#stream?.close();
    this.#post?.close();
    this.#stream = this.#post = this.#hope = null;
  }
}
