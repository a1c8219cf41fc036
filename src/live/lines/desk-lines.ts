import { phonesOf, PROGRAM, returnOf, voiceOf, type ListenerId, type SourceId } from '@/core/hearing/ids';
import { talksInto } from '@/core/hearing/on-air';
import { listenerOfLine, seatOfId, sourceOfLine } from '@/core/hearing/seats';
import type { Answer, Ask, CheckForGuest, CheckReport, TestCallSaid, Wish } from '@/core/lines/check-messages';
import type { LineReport } from '@/core/lines/line-report';
import { fromGuestSchema, SERVER, type BoxMessage, type FromServer, type GuestScene } from '@/core/lines/messages';
import type { DeskSeat } from '@/core/session/desk-data';
import type { DeskReader } from '../desk/desk-state';
import { DeskLine } from './desk-line';
import type { LineAudio } from './line-audio';
import { viewOf, type LineView } from './line-view';

const MEASURE_MS = 1000;
/** More than this of a second that had to be made up, ms, is two packets: what was sent did not arrive as it was. */
const BROKE_OFF_MS = 40;
/** Numbers of all lines are shown together, so often. */
const SHOW_MS = 500;

export interface DeskLinesOptions {
  store: DeskReader;
  /** Opens both ends of a link at the audio thread; null while no call runs. */
  openAudio(source: SourceId, listener: ListenerId): LineAudio | null;
  send(seat: string, body: object): void;
  /** Sound of a seat's line came or stopped so long ago. */
  onMedia(seat: string, flowing: boolean, agoMs: number): void;
  /** What the screens show of the links. */
  publish(views: Record<string, LineView>): void;
  onReport(seat: string, report: LineReport): void;
  onChecked(seat: string, what: CheckReport | Answer | { type: 'hear-myself' }): void;
  /** A producer talks privately into these. */
  onTalk(seat: string, to: ListenerId[]): void;
}

/** All links of a desk: one connection for each guest, with this browser at the centre. */
export class DeskLines {
  readonly #options: DeskLinesOptions;
  readonly #lines = new Map<string, DeskLine>();
  #iceServers: RTCIceServer[] = [];
  #timer: ReturnType<typeof setInterval> | undefined;
  #publishing = false;
  #soon: ReturnType<typeof setTimeout> | undefined;
  readonly #views = new Map<string, { changes: number; view: LineView }>();

  constructor(options: DeskLinesOptions) {
    this.#options = options;
    this.seatsChanged();
  }

  /** What helps lines find a way, for those that are opened or look for another way from now on. */
  setIceServers(iceServers: RTCIceServer[]): void {
    this.#iceServers = iceServers;
  }

  /** The message box is open: asks everybody who has a page open how far they are. */
  open(greeting: { windows: { seat: string; window: string }[]; iceServers: RTCIceServer[] }): void {
    this.setIceServers(greeting.iceServers);
    for (const [seat, line] of this.#lines) {
      const there = greeting.windows.find((one) => one.seat === seat);
      line.window(there?.window ?? null);
      if (there) this.#options.send(seat, { type: 'desk-here' });
    }
    this.#timer ??= setInterval(() => {
      for (const line of this.#lines.values()) void line.measure();
    }, MEASURE_MS);
  }

  take({ sender, body }: BoxMessage): void {
    if (sender === SERVER) return this.#takeFromServer(body as FromServer);
    const message = fromGuestSchema.safeParse(body);
    if (message.success) this.#lines.get(sender)?.take(message.data);
  }

  /** Follows the seats: a line for each that is on a link. */
  seatsChanged(): void {
    const { seats, invitations, plan } = this.#options.store.getState();
    const links = seats.filter(({ line, role }) => line === 'link' && role !== 'host');
    for (const [seat, line] of this.#lines) {
      if (links.some(({ id }) => id === seat)) continue;
      line.close();
      this.#lines.delete(seat);
    }
    for (const seat of links) {
      const invited = invitations.some((one) => one.seat === seat.id);
      const line = this.#lines.get(seat.id);
      if (line) {
        line.invitation(invited);
        line.settings(seat.lineSettings);
      } else this.#add(seat, invited, isAdmitted(seat, plan.waiting));
    }
    this.#publish();
  }

  /** The plan or the hands changed: who is admitted, and who is talked to. */
  sceneChanged(): void {
    const { plan, onAir, recording, seats } = this.#options.store.getState();
    const people = plan.seats.filter(({ id, role }) => role !== 'producer' && !plan.waiting.includes(id)).map(({ name }) => name);
    for (const [id, line] of this.#lines) {
      const seat = seats.find((one) => one.id === id);
      if (!seat) continue;
      const admitted = isAdmitted(seat, plan.waiting);
      line.admitted(admitted);
      const [talker] = seat.role === 'caller' ? talksInto(onAir, { id: returnOf(id), kind: 'return' }) : [];
      // A mix that is recorded holds everybody who is let in.
      const isOnTake = seat.role === 'producer' || (recording?.recorded.some((one) => one === voiceOf(id) || (admitted && (one === PROGRAM || one.startsWith('return:')))) ?? false);
      const scene: GuestScene = {
        type: 'scene',
        admitted,
        // Whoever has no track is not told that they are recorded.
        recording: recording?.phase === 'recording' && isOnTake,
        recordingOthers: recording?.phase === 'recording' && !isOnTake,
        take: admitted && recording?.phase === 'recording' && recording.recorded.includes(voiceOf(id)) ? recording.take : null,
        people: admitted ? people : [],
        talkingToYou: talker ? (plan.seats.find((one) => one.id === seatOfId(talker))?.name ?? null) : null,
        voiceKbps: seat.lineSettings.voiceKbps,
        talkTargets: seat.role === 'producer' ? plan.seats.filter(({ role }) => role !== 'producer').map((one) => ({ seat: one.id, name: one.name })) : [],
      };
      line.tell(scene);
    }
  }

  /** A call began: everybody who is ready is connected. */
  connect(): void {
    for (const line of this.#lines.values()) line.connect();
    this.sceneChanged();
  }

  hangUp(): void {
    for (const line of this.#lines.values()) line.hangUp();
  }

  /** Says something of a check to a guest; false where nobody hears it. */
  check(seat: string, what: CheckForGuest | Ask | TestCallSaid | Wish): boolean {
    return this.#lines.get(seat)?.check(what) ?? false;
  }

  askReload(seat: string): void {
    this.#lines.get(seat)?.askReload();
  }

  /** Seats on a link whose sound does not arrive now. */
  silentSeats(): string[] {
    return [...this.#lines.values()].filter(({ line }) => line.media !== 'flowing').map(({ seat }) => seat);
  }

  /** Links that broke off since then, ms since 1970: by their source what came here, by their listener what went there. */
  breaks(since: number): (SourceId | ListenerId)[] {
    return this.#options.store.getState().plan.seats.flatMap((seat) => {
      if (seat.role === 'producer') return [];
      const reports = (this.#lines.get(seat.id)?.history ?? []).filter(({ atMs }) => atMs > since).map(({ report }) => report);
      const broke = (way: 'toDesk' | 'toGuest') => reports.some((report) => (report[way]?.concealedMs ?? 0) > BROKE_OFF_MS);
      return [...(broke('toDesk') ? [sourceOfLine(seat)] : []), ...(broke('toGuest') ? [listenerOfLine(seat)] : [])];
    });
  }

  /** This window is not the desk any more. */
  close(): void {
    clearInterval(this.#timer);
    this.#timer = undefined;
    for (const line of this.#lines.values()) line.close();
  }

  #takeFromServer(body: FromServer): void {
    if (body.type === 'window-opened') this.#lines.get(body.seat)?.window(body.window);
    if (body.type === 'window-closed') {
      const line = this.#lines.get(body.seat);
      if (line?.line.window === body.window) line.window(null);
    }
  }

  #add(seat: DeskSeat, invited: boolean, admitted: boolean): void {
    const { openAudio, send, onMedia, onReport, onTalk, onChecked } = this.#options;
    const line = new DeskLine({
      seat: seat.id,
      invited,
      admitted,
      settings: seat.lineSettings,
      iceServers: () => this.#iceServers,
      openAudio: () => openAudio(sourceOfLine(seat), listenerOfLine(seat)),
      send: (body) => send(seat.id, body),
      onChange: (when) => (when === 'now' ? this.#publish() : this.#publishSoon()),
      onReport: (report) => onReport(seat.id, report),
      onMedia: (flowing, agoMs) => {
        onMedia(seat.id, flowing, agoMs);
        // Whoever talked has gone: nobody is left being talked to.
        if (!flowing && seat.role === 'producer') onTalk(seat.id, []);
      },
      onChecked: (what) => onChecked(seat.id, what),
      onTalk: (to) => seat.role === 'producer' && onTalk(seat.id, this.#listenersOf(to)),
    });
    this.#lines.set(seat.id, line);
  }

  /** The phones or return of each seat, where it has one. */
  #listenersOf(seats: readonly string[]): ListenerId[] {
    const { plan } = this.#options.store.getState();
    return plan.seats
      .filter(({ id, role }) => seats.includes(id) && role !== 'producer')
      .map((seat) => (seat.role === 'host' ? phonesOf(seat.id) : listenerOfLine(seat)));
  }

  /** Many changes of one moment are shown once. */
  #publish(): void {
    if (this.#publishing) return;
    this.#publishing = true;
    queueMicrotask(() => {
      this.#publishing = false;
      this.#options.publish(Object.fromEntries([...this.#lines].map(([seat, line]) => [seat, this.#viewOf(line)])));
    });
  }

  #publishSoon(): void {
    this.#soon ??= setTimeout(() => {
      this.#soon = undefined;
      this.#publish();
    }, SHOW_MS);
  }

  /** The same object as before when nothing on it changed. */
  #viewOf(line: DeskLine): LineView {
    const before = this.#views.get(line.seat);
    if (before?.changes === line.changes) return before.view;
    const view = viewOf(line);
    this.#views.set(line.seat, { changes: line.changes, view });
    return view;
  }
}

const isAdmitted = (seat: DeskSeat, waiting: readonly string[]): boolean => seat.role === 'producer' || !waiting.includes(seat.id);
