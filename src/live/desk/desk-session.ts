// Long, because it is the one place that says which part of the desk knows which other, and who writes what.
import { createStore, type StoreApi } from 'zustand/vanilla';
import { mayIn } from '@/core/access/rights';
import type { InputChoice } from '@/core/devices/choices';
import type { Fix } from '@/core/hearing/audit/finding';
import { COMPUTER_SHARE } from '@/core/hearing/computer-share';
import type { LoopFound } from '@/core/echo/loop-guard';
import { phonesOf, voiceOf } from '@/core/hearing/ids';
import { observeCoupling } from '@/core/hearing/observation';
import type { HearingPlan } from '@/core/hearing/plan';
import type { DeskAction } from '@/core/session/desk-actions';
import type { DeskData } from '@/core/session/desk-data';
import type { ForWatchers } from '@/core/lines/messages';
import { getJson, sendJson } from '../api';
import { DeskAir } from '../air/desk-air';
import { AskGuests } from '../check/ask-guests';
import { DeskLineCheck } from '../check/desk-line-check';
import { EchoCancels } from '../echo/echo-cancels';
import { EchoWatches } from '../echo/echo-watches';
import { TestCalls } from '../check/test-calls';
import { DeskStrips } from '../strip/desk-strips';
import { VoiceWatch } from '../check/voice-watch';
import { DeskLines } from '../lines/desk-lines';
import { LineViews } from '../lines/line-views';
import { PairLines } from '../lines/pair-lines';
import { DeskDevices } from '../devices/desk-devices';
import type { StatusBoard } from '../worklet/status-board';
import { DeskConditions } from './conditions';
import { DeskCall } from './desk-call';
import type { EngineHealth } from './engine-health';
import { DeskPads } from './desk-pads';
import { DeskPlace, type DeskGreeting } from './desk-place';
import { DeskPlan } from './desk-plan';
import { DeskRecording } from './desk-recording';
import { DeskSeats } from './desk-seats';
import { DeskSettings } from './desk-settings';
import { PlayLog } from './play-log';
import { isLit } from '@/core/hearing/is-lit';
import { sceneForWatchers } from './scene-for-watchers';
import { furnishRooms } from './practice-rooms';
import { SoundStops } from './sound-stops';
import { watchSpace } from './space';
import { TakeMarks } from './take-marks';
import { actByMidi } from '../midi/act-by-midi';
import { DeskMidi } from '../midi/desk-midi';
import { DeskShare, type ShareKind } from '../share/desk-share';
import { deskActions } from './desk-hands';
import type { KeyAction } from './hold-or-latch';
import { HandsOnAir } from './hands-on-air';
import type { DeskState } from './desk-state';
import { initialDeskState } from './initial-desk-state';
import { HostInput } from './host-input';

/** Windows that watch are told so often. */
const TELL_WATCHERS_MS = 2000;

/**
 * The desk of one episode in the host's browser: owns the audio thread and brings the plan, the host's voice and hands,
 * the lines, the sounds and the recorder to it. The screens read `store` and call the methods.
 */
export class DeskSession {
  readonly data: DeskData;
  readonly store: Pick<StoreApi<DeskState>, 'getState' | 'getInitialState' | 'subscribe'>;
  readonly #conditions: DeskConditions;
  readonly plan: DeskPlan;
  readonly settings: DeskSettings;
  readonly hands: HandsOnAir;
  readonly #input: HostInput;
  readonly #call: DeskCall;
  /** Everything that comes or goes by a device of this computer. */
  readonly devices: DeskDevices;
  readonly #pairs: PairLines;
  readonly #pads: DeskPads;
  readonly recording: DeskRecording;
  readonly marks: TakeMarks;
  readonly share: DeskShare;
  readonly midi: DeskMidi;
  /** The line check: every crosspoint and every way back, measured. */
  readonly check: DeskLineCheck;
  /** Echoes that are cancelled here. */
  readonly cancels: EchoCancels;
  /** What is done to voices: set by listening, compared, and what it needs to run. */
  readonly strips: DeskStrips;
  /** What somebody is sent, or says, played back to whoever wants to know. */
  readonly testCalls: TestCalls;
  /** What leaves for internet radio. */
  readonly air: DeskAir;
  /** What everybody hears, in their own words. */
  readonly asking: AskGuests;
  /** How everybody sounds, while somebody looks. */
  readonly voices: VoiceWatch;
  /** What keys and controllers do here. */
  readonly actions: Record<DeskAction, KeyAction>;
  readonly #lines: DeskLines;
  readonly #place: DeskPlace;
  /** Who takes part. */
  readonly seats: DeskSeats;
  #resumeCall: boolean;
  readonly #stops: SoundStops;
  /** Keeps an eye on the free space; gives what ends it. */
  readonly watchSpace: () => () => void;
  #watching: ReturnType<typeof setInterval> | undefined;

  constructor(data: DeskData) {
    this.data = data;
    // Each part reads all of it and writes what it owns; nobody else can write.
    const store = createStore(() => initialDeskState(data));
    this.store = store;
    const conditions = new DeskConditions(store);
    this.#conditions = conditions;
    this.#call = new DeskCall({
      episode: data.episode.id,
      store,
      parts: () => ({ plan: this.plan, hands: this.hands, devices: this.devices, input: this.#input, pads: this.#pads, lines: this.#lines, recording: this.recording, share: this.share, check: this.check, testCalls: this.testCalls, air: this.air, stops: this.#stops }),
      conditions,
    });
    this.hands = new HandsOnAir(store, {
      apply: () => this.plan.enforce(),
      talk: (seat) => this.#call.audio?.tell({ type: 'talk', seat }),
      hostSeat: () => this.seats.host(),
    });
    this.plan = new DeskPlan(data, store, {
      inForce: (plan, what) => {
        // The recorder first: the number the audio thread writes down must be known there.
        this.recording.planInForce(what);
        this.#call.audio?.tell({ type: 'plan', number: what.number, plan, rampSeconds: what.rampSeconds });
        this.recording.followSources();
        this.#call.patchbay?.replan();
        this.#lines.sceneChanged();
      },
      changed: (plan, before) => this.#planChanged(plan, before),
      pinned: () => this.recording.pinned(),
      wiring: () => this.devices.wiring(),
      conditions,
    });
    this.devices = new DeskDevices({
      episode: data.episode.id,
      store,
      rewired: () => this.plan.auditAgain(),
      hold: (source, held) => this.hands.hold(source, held),
      media: (source, flowing, agoMs, cause) => this.recording.sourceMedia(source, flowing, agoMs, cause),
      conditions,
    });
    const views = new LineViews(store, this.plan);
    this.#pairs = new PairLines({
      store,
      devices: this.devices,
      publish: (pairs) => views.showPairs(pairs),
      onReport: (seat, report) => this.recording.lineReport(seat, report),
    });
    this.settings = new DeskSettings({
      show: data.episode.showId,
      episode: data.episode.id,
      store,
      conditions,
      applied: ({ talkDimDb }) => this.hands.setTalkDim(talkDimDb),
    });
    this.#input = new HostInput({
      store,
      device: (changed) => this.devices.hostInput(changed),
      chosen: () => this.devices.inputChoice(voiceOf(this.seats.host())),
      practise: (speaks) => this.#call.audio?.tell({ type: 'practice-speaks', seat: this.seats.host(), speaks }),
      media: (flowing) => this.recording.sourceMedia(voiceOf(this.seats.host()), flowing, 0, 'device-away'),
      conditions,
    });
    this.#pads = new DeskPads({ episode: data.episode.id, store, conditions });
    this.air = new DeskAir({ episode: data.episode, store, plan: this.plan, pads: this.#pads, audio: () => this.#call.audio, conditions });
    this.recording = new DeskRecording({
      episode: data.episode.id,
      store,
      compiled: () => this.plan.compiled(),
      inForce: () => this.plan.inForce(),
      signedOut: () => this.#place.signedOut(),
      silentSources: () => [...this.#lines.silentSeats().map((seat) => ({ source: voiceOf(seat), cause: 'not-in-call' as const })), ...this.devices.silentSources()],
      plays: new PlayLog(this.#pads),
      conditions,
    });
    this.watchSpace = () => watchSpace(store);
    this.marks = new TakeMarks({ store, now: () => this.recording.now() });
    this.#stops = new SoundStops({ store, recording: () => this.recording.now() !== null, note: (words) => this.marks.note(words), conditions });
    this.share = new DeskShare({
      store,
      hands: this.hands,
      place: () => this.plan.compiled().sourceIds.indexOf(COMPUTER_SHARE),
      phones: () => phonesOf(this.seats.host()),
      coupled: (loop) => this.#shareContains(loop),
      conditions,
    });
    this.actions = deskActions(this);
    this.midi = new DeskMidi({ store, act: (target, message) => actByMidi(this, target, message), conditions });
    this.#lines = new DeskLines({
      store,
      openAudio: (source, listener) => this.#call.patchbay?.openLine(source, listener) ?? null,
      publish: (links) => views.showLinks(links),
      send: (seat, body) => this.#place.send(seat, body),
      onMedia: (seat, flowing, agoMs) => this.recording.sourceMedia(voiceOf(seat), flowing, agoMs),
      onReport: (seat, report) => this.recording.lineReport(seat, report),
      onTalk: (seat, to) => this.hands.sideTalk(seat, to),
      onChecked: (seat, what) => (what.type === 'answer' ? this.asking.answered(seat, what) : what.type === 'check-report' ? this.check.take(seat, what) : void this.testCalls.hearThemselves(seat)),
    });
    this.asking = new AskGuests(store, this.#lines);
    const probing = { store, audio: () => this.#call.audio, lines: this.#lines, plan: this.plan, conditions };
    this.testCalls = new TestCalls(probing);
    this.check = new DeskLineCheck({ ...probing, devices: this.devices, episode: data.episode.id, onBegin: () => this.testCalls.stop() });
    new EchoWatches(store, this.plan, () => this.#call.audio);
    this.cancels = new EchoCancels(store, this.plan, () => this.#call.audio);
    this.strips = new DeskStrips({ store, plan: this.plan, hands: this.hands, audio: () => this.#call.audio, conditions });
    this.voices = new VoiceWatch(store, this.plan, () => this.#call.audio);
    this.#resumeCall = data.callRunning;
    this.#place = new DeskPlace({
      episode: data.episode.id,
      mayWork: mayIn(data.role, 'work'),
      store,
      onDesk: (greeting) => this.#becomeDesk(greeting),
      onIceServers: (iceServers) => this.#lines.setIceServers(iceServers),
      onMessage: (message) => this.#lines.take(message),
      onOusted: () => void this.#giveWay(),
      onScene: (scene) => this.#follow(scene),
      conditions,
    });
    this.seats = new DeskSeats(store, {
      people: (seats) => this.plan.followSeats(seats),
      any: () => {
        this.#lines.seatsChanged();
        this.devices.follow();
        this.#lines.sceneChanged();
      },
    });
    // Whether it is recorded is shown to everybody in the call.
    store.subscribe((now, before) => {
      if (now.recording?.phase !== before.recording?.phase || now.recording?.recorded !== before.recording?.recorded) this.#lines.sceneChanged();
    });
  }

  /** Finds out whether this window is the desk; a call that ran is then taken up again. */
  open(): void {
    this.devices.open();
    this.#pairs.open();
    this.#place.open();
  }

  /** The audio thread's readings, or null while no call runs. */
  board(): StatusBoard | null {
    return this.#call.audio?.board ?? null;
  }

  /** How the audio thread keeps up, or null while no call runs. */
  engineHealth(): EngineHealth | null {
    return this.#call.health();
  }

  /** Opens the audio thread and lets the practice callers in. */
  startCall(): Promise<void> {
    return this.#call.start();
  }

  endCall(): Promise<void> {
    return this.#call.end();
  }

  /** Uses the simulated host voice, or the microphone again, from now on. */
  choosePractice(preferPractice: boolean): Promise<void> {
    return this.#input.prefer(preferPractice);
  }

  /** Lets the sound of a call go on that the browser has stopped. */
  letSoundOn(): Promise<void> {
    return this.#call.letSoundOn();
  }

  /** Does what a fix of the audit says: changes the plan, pulls plugs. */
  mend({ changes, wiring = [], enforce }: Fix): void {
    const removed = changes.flatMap((change) => (change.type === 'remove-coupling' ? [change.id] : []));
    this.plan.forget((one) => one.of === 'coupling' && removed.includes(one.coupling.id));
    if (changes.length > 0) this.plan.apply(changes);
    if (enforce) this.plan.enforce();
    this.devices.applyWiring(wiring);
  }

  /** Another microphone for the host, from now on. */
  chooseMicrophone(choice: Omit<InputChoice, 'source'> | null): void {
    this.devices.chooseInput(voiceOf(this.seats.host()), choice);
    void this.#input.prefer(false);
  }

  /** The pads of this desk: pressed, levelled and arranged. */
  get pads(): DeskPads {
    return this.#pads;
  }

  /** Shares another program's sound into the call; one at a time. */
  async startShare(kind: ShareKind): Promise<void> {
    const { audio, patchbay } = this.#call;
    if (audio && patchbay) await this.share.start(audio, patchbay, kind);
  }

  async startRecording(): Promise<void> {
    if (this.#call.audio) await this.recording.start(this.#call.audio);
  }

  /** Goes on with a take that an earlier desk left open. */
  goOnWithTake(): void {
    if (this.#call.audio) this.recording.goOn(this.#call.audio);
  }

  /** Makes this window the desk; whichever was is told, and watches. A call that runs goes on here. */
  async takeOver(): Promise<void> {
    try {
      this.#resumeCall = (await this.#refresh()).callRunning;
      await this.#place.takeOver();
      this.#conditions.end('take-over');
    } catch (error) {
      this.#conditions.begin('take-over', `The desk was not taken over. ${(error as Error).message}`);
    }
  }

  /** Signs in again without leaving the desk; what waited for it goes on. @throws {ServerError} */
  async signInAgain(email: string, password: string): Promise<void> {
    await sendJson('POST', '/api/sign-in', { email, password });
    this.#place.signedIn();
    this.recording.tryAgain();
    this.plan.flush();
  }

  /** Asks a guest's page to load again. */
  askReload(seat: string): void {
    this.#lines.askReload(seat);
  }

  /** The host has read it. */
  dismiss(condition: string): void {
    this.#conditions.end(condition);
  }

  #planChanged(plan: HearingPlan, before: HearingPlan): void {
    const { listenTo } = this.store.getState().onAir;
    const heard = listenTo && 'source' in listenTo ? listenTo.source : null;
    // Listening first is over when the source goes on air.
    if (heard && !isLit(before, heard) && isLit(plan, heard)) this.hands.listenTo(null);
    if (this.#call.audio) furnishRooms(this.#call.audio, this.store.getState());
    if (plan.inputs !== before.inputs || plan.feeds !== before.feeds) this.devices.follow();
  }

  #shareContains(loop: LoopFound | null): void {
    if (loop) return this.plan.observe([observeCoupling({ kind: 'share-contains', from: phonesOf(this.seats.host()), to: COMPUTER_SHARE, ...loop }, 'the loop guard', new Date())]);
    this.plan.forget((one) => one.of === 'coupling' && one.coupling.kind === 'share-contains' && one.coupling.to === COMPUTER_SHARE);
  }

  #becomeDesk(greeting: DeskGreeting): void {
    this.#lines.open(greeting);
    this.#call.tellAgain();
    void this.plan.bringBack();
    this.marks.sendKept();
    void this.recording.openTake.find();
    this.#watching ??= setInterval(() => this.#tellWatchers(), TELL_WATCHERS_MS);
    if (!this.#resumeCall) return;
    this.#resumeCall = false;
    void this.startCall();
  }

  /** Another window is the desk now: this one lets go of everything, and the call goes on there. */
  async #giveWay(): Promise<void> {
    clearInterval(this.#watching);
    this.#watching = undefined;
    this.#lines.close();
    await this.#call.close();
  }

  /** Takes over what the server has now, in a window that only watched. */
  async #refresh(): Promise<DeskData> {
    const data = await getJson<DeskData>(`/api/episodes/${this.data.episode.id}`);
    this.seats.adopt(data);
    this.recording.openTake.adopt(data.openTake);
    this.plan.adopt({ version: data.planVersion, plan: data.plan });
    this.#lines.seatsChanged();
    return data;
  }

  /** A window that watches shows the plan the desk has. */
  #follow(scene: ForWatchers): void {
    if (scene.planVersion !== this.plan.version()) void this.#refresh().catch(() => undefined);
  }

  #tellWatchers(): void {
    this.#place.tellWatchers(sceneForWatchers(this.store.getState(), this.plan.version()));
  }
}
