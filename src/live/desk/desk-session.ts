import { createStore, type StoreApi } from 'zustand/vanilla';
import { mayIn } from '@/core/access/rights';
import { compilePlan, type CompiledPlan } from '@/core/hearing/compile';
import { auditPlan, type PlanChange } from '@/core/hearing/audit/index';
import { differences } from '@/core/hearing/merge';
import { COMPUTER_SHARE, withShareLoop } from '@/core/hearing/computer-share';
import { phonesOf, voiceOf, type SourceId } from '@/core/hearing/ids';
import { sourceSettings, type HearingPlan } from '@/core/hearing/plan';
import { listenerOfLine, sourceOfLine, withSeats } from '@/core/hearing/seats';
import { keepSlots, slotsInOrder, type Slots } from '@/core/hearing/slots';
import type { RecordingSettings } from '@/core/takes/recording-settings';
import type { SoundSettings } from '@/core/sounds/sound-settings';
import type { DeskAction } from '@/core/session/desk-actions';
import type { DeskData, DeskSeat, SeatInvitation } from '@/core/session/desk-data';
import type { ForWatchers } from '@/core/lines/messages';
import { getJson, sendJson } from '../api';
import { DeskLines, MOST_LINES } from '../lines/desk-lines';
import { openLineAudio } from '../lines/line-audio';
import type { StatusBoard } from '../worklet/status-board';
import { lineConnector, openAudioDesk, SAMPLE_RATE, type AudioDesk } from './audio-desk';
import { createHealthReader, type EngineHealth } from './engine-health';
import { DeskPads } from './desk-pads';
import { DeskPlace, type DeskGreeting } from './desk-place';
import { DeskRecording } from './desk-recording';
import { PlayLog } from './play-log';
import { TakeMarks } from './take-marks';
import { actByMidi } from '../midi/act-by-midi';
import { DeskMidi } from '../midi/desk-midi';
import { DeskShare, type ShareKind } from '../share/desk-share';
import { deskActions } from './desk-hands';
import type { KeyAction } from './hold-or-latch';
import { HandsOnAir } from './hands-on-air';
import { initialDeskState, type DeskState } from './desk-state';
import { openMicrophone, type Microphone } from './microphone';
import { PlanSteps } from './plan-steps';
import { createPlanKeeper, type PlanKeeper } from './plan-keeper';
import { loadPracticeCall } from './sound-files';

/** Room of the engine: sources and listeners of the largest episode. */
const MOST_PLACES = 32;
/** The audio thread's input for shared computer sound, behind the microphone and the lines. */
const SHARE_CONNECTOR = lineConnector(MOST_LINES);
/** A caller who is brought up, or taken down, comes and goes in this time. */
const BRING_UP_SECONDS = 0.35;
/** Windows that watch are told so often. */
const TELL_WATCHERS_MS = 2000;

/**
 * The desk of one episode in the host's browser: owns the audio thread, the microphone, the
 * recorder and the plan. The screens read `store` and call the methods.
 */
export class DeskSession {
  readonly data: DeskData;
  readonly store: StoreApi<DeskState>;
  readonly hands: HandsOnAir;
  readonly #keeper: PlanKeeper;
  #audio: AudioDesk | null = null;
  #health: (() => EngineHealth) | null = null;
  #microphone: Microphone | null = null;
  readonly #pads: DeskPads;
  readonly #recording: DeskRecording;
  readonly marks: TakeMarks;
  readonly share: DeskShare;
  readonly midi: DeskMidi;
  /** What keys and controllers do here. */
  readonly actions: Record<DeskAction, KeyAction>;
  readonly #lines: DeskLines;
  readonly #place: DeskPlace;
  #resumeCall: boolean;
  #watching: ReturnType<typeof setInterval> | undefined;
  #compiled: CompiledPlan;
  #slots: Slots;
  readonly #steps: PlanSteps;

  constructor(data: DeskData) {
    this.data = data;
    this.store = createStore(() => initialDeskState(data));
    this.hands = new HandsOnAir(this.store, {
      apply: () => this.#applyPlan(),
      talk: (seat) => this.#audio?.tell({ type: 'talk', seat }),
      hostSeat: () => this.#hostSeat(),
    });
    this.#steps = new PlanSteps(this.store, (plan, rampSeconds) => this.#setPlan(plan, rampSeconds));
    this.#slots = slotsInOrder(data.plan);
    this.#compiled = compilePlan(data.plan);
    this.#keeper = createPlanKeeper(data.episode.id, { version: data.planVersion, plan: data.plan }, {
      onState: (planSaving) => this.store.setState({ planSaving }),
      onMerged: (merged, theirs) => this.#takeOver(merged, theirs),
    });
    this.#pads = new DeskPads({ episode: data.episode.id, store: this.store, trouble: (sentence) => this.#trouble(sentence) });
    this.#recording = new DeskRecording({
      episode: data.episode.id,
      store: this.store,
      compiled: () => this.#compiled,
      silentSeats: () => this.#lines.silentSeats(),
      plays: new PlayLog(this.#pads),
      trouble: (sentence) => this.#trouble(sentence),
    });
    this.marks = new TakeMarks({ store: this.store, now: () => this.#recording.now() });
    this.share = new DeskShare({
      store: this.store,
      hands: this.hands,
      connected: () => this.#tellPlaces(),
      coupled: (loop) => this.#setPlan(withShareLoop(this.store.getState().plan, phonesOf(this.#hostSeat()), loop)),
      trouble: (sentence) => this.#trouble(sentence),
    });
    this.actions = deskActions(this);
    this.midi = new DeskMidi({ store: this.store, act: (target, message) => actByMidi(this, target, message), trouble: (sentence) => this.#trouble(sentence) });
    this.#lines = new DeskLines({
      store: this.store,
      openAudio: (place) => (this.#audio ? openLineAudio(this.#audio, place) : null),
      send: (seat, body) => this.#place.send(seat, body),
      onMedia: (seat, flowing, agoMs) => this.#recording.lineMedia(seat, flowing, agoMs),
      onReport: (seat, report) => this.#recording.lineReport(seat, report),
      onTalk: (seat, to) => this.hands.sideTalk(seat, to),
    });
    this.#resumeCall = data.callRunning;
    this.#place = new DeskPlace({
      episode: data.episode.id,
      mayWork: mayIn(data.role, 'work'),
      store: this.store,
      onDesk: (greeting) => this.#becomeDesk(greeting),
      onMessage: (message) => this.#lines.take(message),
      onOusted: () => void this.#giveWay(),
      onScene: (scene) => this.#follow(scene),
    });
  }

  /** Finds out whether this window is the desk; a call that ran is then taken up again. */
  open(): void {
    this.#place.open();
  }

  /** The audio thread's readings, or null while no call runs. */
  board(): StatusBoard | null {
    return this.#audio?.board ?? null;
  }

  /** How the audio thread keeps up, or null while no call runs. */
  engineHealth(): EngineHealth | null {
    return this.#health?.() ?? null;
  }

  /** The plan as the engine has it: which slot is which source and listener. */
  compiled(): CompiledPlan {
    return this.#compiled;
  }

  /** Opens the audio thread and lets the practice callers in. */
  async startCall(): Promise<void> {
    const { call, place } = this.store.getState();
    if (place !== 'desk') return;
    if (call === 'blocked') return this.#unblock();
    if (call !== 'off') return;
    this.store.setState({ call: 'starting' });
    try {
      const audio = await this.#openAudio();
      if (audio.context.state !== 'running') {
        // Without a press of a button the browser may keep the sound shut; it then says nothing.
        await Promise.race([audio.context.resume(), new Promise((resolve) => setTimeout(resolve, 700))]);
      }
      if (audio.context.state !== 'running') {
        this.store.setState({ call: 'blocked' });
        return;
      }
      await this.#beginCall(audio);
    } catch (error) {
      this.#trouble((error as Error).message);
      await this.endCall();
    }
  }

  async endCall(): Promise<void> {
    await this.#closeCall();
    this.#letGuestsWait();
    await this.#noteCall(false);
  }

  /** Nobody is in the next call before the host has brought them up. */
  #letGuestsWait(): void {
    const { plan } = this.store.getState();
    const guests = plan.seats.filter(({ role, line }) => role === 'caller' && line === 'link').map(({ id }) => id);
    if (guests.every((id) => plan.waiting.includes(id))) return;
    this.#setPlan({ ...plan, waiting: [...new Set([...plan.waiting, ...guests])] });
  }

  async #closeCall(): Promise<void> {
    await this.#recording.stop();
    this.#lines.hangUp();
    this.share.stop();
    this.#microphone?.close();
    this.#microphone = null;
    const audio = this.#audio;
    this.#pads.close();
    this.#audio = null;
    this.#health = null;
    this.store.setState({ call: 'off', voice: { from: 'nothing' }, onAir: this.hands.atRest() });
    this.#applyPlan();
    await audio?.close();
  }

  /** Uses the simulated host voice, or the microphone again, from now on. */
  async choosePractice(preferPractice: boolean): Promise<void> {
    this.store.setState({ preferPractice });
    if (this.#audio && this.store.getState().call === 'running') await this.#beginCall(this.#audio);
  }

  /**
   * Changes the plan: heard within 10 ms, kept on the server a moment later. Changes of one control
   * that follow each other are one step of undo.
   */
  changePlan(change: (plan: HearingPlan) => HearingPlan, control = ''): void {
    this.#steps.change(change, control);
  }

  /** Changes of a fix, a row or a column, as one step. */
  applyChanges(changes: readonly PlanChange[], rampSeconds?: number): void {
    this.#steps.apply(changes, rampSeconds);
  }

  undo(): void {
    this.#steps.undo();
  }

  redo(): void {
    this.#steps.redo();
  }

  /** Opens a waiting caller smoothly into all the right places, or takes one down again. */
  setWaiting(seat: string, waiting: boolean): void {
    this.applyChanges([{ type: waiting ? 'wait' : 'admit', seat }], BRING_UP_SECONDS);
  }

  /** Gives an action another key and keeps it. */
  async setKey(action: DeskAction, key: string): Promise<void> {
    const before = this.store.getState().keys;
    const keys = { ...before, [action]: key };
    this.store.setState({ keys });
    await sendJson('PUT', '/api/keys', keys).catch((error: Error) => {
      this.store.setState({ keys: before });
      this.#trouble(`The key was not kept. ${error.message}`);
    });
  }

  /** The pads of this desk: pressed, levelled and arranged. */
  get pads(): DeskPads {
    return this.#pads;
  }

  /** Shares another program's sound into the call; one at a time. */
  async startShare(kind: ShareKind): Promise<void> {
    if (this.#audio) await this.share.start(this.#audio, SHARE_CONNECTOR, kind);
  }

  /** Keeps how the show records; from the next take on. */
  async setRecordingSettings(recordingSettings: RecordingSettings): Promise<void> {
    await sendJson('PUT', `/api/shows/${this.data.episode.showId}/recording-settings`, recordingSettings);
    this.store.setState({ recordingSettings });
  }

  /** Keeps how the show deals with its sounds. */
  async setSoundSettings(soundSettings: SoundSettings): Promise<void> {
    await sendJson('PUT', `/api/shows/${this.data.episode.showId}/sound-settings`, soundSettings);
    this.store.setState({ soundSettings });
  }

  async startRecording(): Promise<void> {
    if (this.#audio) await this.#recording.start(this.#audio);
    this.#lines.sceneChanged();
  }

  /** Stops capturing and resolves when the take is sealed, or cannot be. */
  async stopRecording(): Promise<void> {
    await this.#recording.stop();
    this.#lines.sceneChanged();
  }

  /** What the next take holds, and when it ends. */
  chooseRecording(choice: Partial<Pick<DeskState, 'recordMixes' | 'recordTalkback' | 'leftOut' | 'stopAfterMinutes'>>): void {
    this.store.setState(choice);
  }

  /** Pauses the take that runs, or lets it go on. */
  pauseRecording(paused: boolean): void {
    this.#recording.pause(paused);
  }

  /** Seals a take that an earlier desk left open, with what the server has of it. */
  sealOpenTake(): Promise<void> {
    return this.#recording.sealOpenTake();
  }

  /** Makes this window the desk; whichever was is told, and watches. A call that runs goes on here. */
  async takeOver(): Promise<void> {
    try {
      this.#resumeCall = (await this.#refresh()).callRunning;
      this.#place.takeOver();
    } catch (error) {
      this.#trouble(`The desk was not taken over. ${(error as Error).message}`);
    }
  }

  /** The seats are others now: somebody was added, changed or taken out. */
  setSeats(seats: DeskSeat[], invitations: SeatInvitation[]): void {
    const { plan, seats: before } = this.store.getState();
    this.store.setState({ seats, invitations });
    if (seats !== before) {
      const places = seats.map(({ id, name, role, line, reflexive }) => ({ id, name, role, line, reflexive }));
      // A step back must not bring back somebody who is not there.
      this.store.setState({ past: [], future: [] });
      this.#setPlan(withSeats(plan, places));
    }
    this.#lines.seatsChanged();
    this.#tellPlaces();
    this.#lines.sceneChanged();
  }

  /** Asks a guest's page to load again. */
  askReload(seat: string): void {
    this.#lines.askReload(seat);
  }

  dismissTrouble(place: number): void {
    this.store.setState(({ troubles }) => ({ troubles: troubles.filter((_, k) => k !== place) }));
  }

  /** Sends what is not yet kept. Called when the page is being left. */
  flush(): void {
    this.#keeper.flush();
  }

  async #openAudio(): Promise<AudioDesk> {
    const audio = await openAudioDesk({
      sources: MOST_PLACES,
      listeners: MOST_PLACES,
      inputs: SHARE_CONNECTOR + 1,
      outputs: 1 + MOST_LINES,
      onFailure: (message) => this.#trouble(message),
    });
    this.#audio = audio;
    this.#health = createHealthReader(audio);
    this.#applyPlan();
    await this.#pads.open(audio);
    return audio;
  }

  async #unblock(): Promise<void> {
    if (!this.#audio) return;
    await this.#audio.context.resume();
    await this.#beginCall(this.#audio);
  }

  async #beginCall(audio: AudioDesk): Promise<void> {
    const simulated = !(await this.#findVoice(audio));
    const options = await loadPracticeCall(audio.context, this.store.getState().seats, simulated);
    audio.tell({ type: 'stop-practice' });
    audio.tell({ type: 'start-practice', options });
    this.#furnishRooms(audio);
    this.store.setState({ call: 'running' });
    this.#lines.connect();
    await this.#noteCall(true);
  }

  /** Connects the host's microphone where it can be had; says otherwise why not. */
  async #findVoice(audio: AudioDesk): Promise<boolean> {
    this.#microphone?.close();
    this.#microphone = null;
    if (this.store.getState().preferPractice) {
      this.#tellPlaces();
      this.store.setState({ voice: { from: 'practice', reason: 'you chose it' } });
      return false;
    }
    const result = await openMicrophone(audio.context, null, () => {
      this.store.setState({ voice: { from: 'nothing' } });
      this.#trouble('Your microphone went away. Plug it in again, then end and start the call.');
    });
    if (!result.found) {
      this.#tellPlaces();
      this.store.setState({ voice: { from: 'practice', reason: result.reason } });
      return false;
    }
    this.#microphone = result.microphone;
    result.microphone.node.connect(audio.node, 0, 0);
    this.#tellPlaces();
    this.store.setState({ voice: { from: 'microphone', label: result.microphone.label } });
    return true;
  }

  #setPlan(plan: HearingPlan, rampSeconds?: number): void {
    const { plan: before, onAir } = this.store.getState();
    this.store.setState({ plan, audit: auditPlan(plan) });
    const heard = onAir.listenTo && 'source' in onAir.listenTo ? onAir.listenTo.source : null;
    // Listening first is over when the source goes on air.
    if (heard && !isLit(before, heard) && isLit(plan, heard)) this.hands.listenTo(null);
    this.#applyPlan(rampSeconds);
    if (this.#audio) this.#furnishRooms(this.#audio);
    this.#keeper.changed(plan);
    this.#recording.planChanged(plan);
  }

  /** Practice callers sit where the plan says they sit: on loudspeakers or with a headset. */
  #furnishRooms(audio: AudioDesk): void {
    const { couplings } = this.store.getState().plan;
    for (const { id, practice, role } of this.store.getState().seats) {
      if (!practice || role !== 'caller') continue;
      const own = couplings.find(({ kind, to }) => kind === 'loudspeakers' && to === voiceOf(id));
      audio.tell({ type: 'practice-room', seat: id, couplingDb: own?.gainDb ?? null });
    }
  }

  /** Another window changed the plan too: both changes are in force now, and the host is told. */
  #takeOver(merged: HearingPlan, theirs: HearingPlan): void {
    const { plan: mine } = this.store.getState();
    const news = differences(mine, merged);
    this.store.setState({ plan: merged, audit: auditPlan(merged), past: [], future: [] });
    this.#applyPlan();
    const [first, more] = [news.slice(0, 3).join('; '), news.length > 3 ? ` and ${news.length - 3} more` : ''];
    const what = news.length > 0 ? `${first}${more}` : 'nothing you had not changed yourself';
    this.#trouble(`Another window changed the plan. Taken over from it: ${what}. Yours stayed: ${differences(theirs, merged).length}.`);
  }

  #applyPlan(rampSeconds?: number): void {
    const { plan, onAir } = this.store.getState();
    this.#slots = keepSlots(this.#slots, plan, MOST_PLACES);
    this.#compiled = compilePlan(plan, { onAir, slots: this.#slots });
    this.#audio?.tell({ type: 'plan', plan: this.#compiled, rampSeconds });
    this.#tellPlaces();
    this.#lines.sceneChanged();
  }

  /** Which source each input of the audio thread feeds and which listener each output carries. */
  #tellPlaces(): void {
    const { sourceIds, listenerIds } = this.#compiled;
    const host = this.#hostSeat();
    const inputs = new Array<number>(SHARE_CONNECTOR + 1).fill(-1);
    const outputs = new Array<number>(1 + MOST_LINES).fill(-1);
    if (this.#microphone) inputs[0] = sourceIds.indexOf(voiceOf(host));
    if (this.share.feeding()) inputs[SHARE_CONNECTOR] = sourceIds.indexOf(COMPUTER_SHARE);
    outputs[0] = listenerIds.indexOf(phonesOf(host));
    for (const { seat, place } of this.#lines.connectors()) {
      inputs[lineConnector(place)] = sourceIds.indexOf(sourceOfLine(seat));
      outputs[lineConnector(place)] = listenerIds.indexOf(listenerOfLine(seat));
    }
    this.#audio?.tell({ type: 'places', inputs, outputs });
  }

  #becomeDesk(greeting: DeskGreeting): void {
    this.#lines.open(greeting);
    void this.#recording.findKept();
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
    await this.#closeCall();
  }

  /** Takes over what the server has now, in a window that only watched. */
  async #refresh(): Promise<DeskData> {
    const data = await getJson<DeskData>(`/api/episodes/${this.data.episode.id}`);
    const { seats, invitations, plan, planVersion: version, openTake } = data;
    this.#keeper.adopt({ version, plan });
    this.store.setState({ seats, invitations, plan, openTake, audit: auditPlan(plan), past: [], future: [] });
    this.#applyPlan();
    this.#lines.seatsChanged();
    return data;
  }

  /** A window that watches shows the plan the desk has. */
  #follow(scene: ForWatchers): void {
    this.store.setState({ watched: scene });
    if (scene.planVersion !== this.#keeper.version()) void this.#refresh().catch(() => undefined);
  }

  #tellWatchers(): void {
    const { call, recording, lines } = this.store.getState();
    this.#place.tellWatchers({
      type: 'scene',
      call: call === 'running',
      recording: recording?.phase === 'recording' ? { number: recording.number, seconds: recording.capturedFrames / SAMPLE_RATE } : null,
      planVersion: this.#keeper.version(),
      lines: Object.fromEntries(Object.entries(lines).map(([seat, { state, sinceMs }]) => [seat, { state, sinceMs }])),
    });
  }

  async #noteCall(running: boolean): Promise<void> {
    await sendJson('PUT', `/api/episodes/${this.data.episode.id}/call`, { running }).catch((error: Error) =>
      this.#trouble(`The server was not told about the call. ${error.message}`),
    );
  }

  #trouble(sentence: string): void {
    this.store.setState(({ troubles }) => ({ troubles: [...troubles, sentence] }));
  }

  #hostSeat(): string {
    const host = this.store.getState().seats.find(({ role }) => role === 'host');
    if (!host) throw new Error('This episode has no host.');
    return host.id;
  }
}

/** Whether a source is in the mixes at all. */
function isLit(plan: HearingPlan, source: SourceId): boolean {
  const { on, offIn } = sourceSettings(plan, source);
  const waits = plan.waiting.some((seat) => voiceOf(seat) === source);
  return on && !waits && !offIn.includes('program');
}
