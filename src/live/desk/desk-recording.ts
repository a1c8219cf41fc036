import type { CompiledPlan } from '@/core/hearing/compile';
import type { SourceId } from '@/core/hearing/ids';
import { placeName } from '@/core/hearing/names';
import type { SampleFormat } from '@/core/formats/wav/sample-format';
import { voiceOf } from '@/core/hearing/ids';
import type { LineReport } from '@/core/lines/line-report';
import type { FromRecorder, LineGap } from '../recorder/messages';
import { beginTakeRecording, type NumberedInForce, type TakeRecording } from '../recorder/take-recording';
import { CLOCK, RECORDED_FRAMES } from '../worklet/status-board';
import type { AudioDesk } from './audio-desk';
import type { DeskState, Own, RecordingSlice, RecordingState } from './desk-state';
import { LineLog } from './line-log';
import { OpenTakeKeeper } from './open-take-keeper';
import type { PlayLog } from './play-log';
import { TakeGaps } from './take-gaps';
import { PlugLog } from './plug-log';
import { choiceAgain, chooseTracks, placeRecorded, tracksAgain, type AgainTrack, type KeptChoice } from './track-choices';
import type { Conditions } from './conditions';

export interface DeskRecordingOptions {
  episode: string;
  store: Own<RecordingSlice>;
  /** The plan as the engine has it. */
  compiled(): CompiledPlan;
  /** What the engine was given last. */
  inForce(): NumberedInForce;
  /** Sources whose sound does not arrive now, and why. */
  silentSources(): { source: SourceId; cause: LineGap['cause'] }[];
  conditions: Conditions;
  /** Something is not taken because the server no longer knows who sits here. */
  signedOut(): void;
  /** Told of the take's beginning and end. */
  plays: PlayLog;
}

const SAMPLES_PER_MS = 48;

/** Records takes of one desk: begins, follows the lines, and seals. */
export class DeskRecording {
  readonly #options: DeskRecordingOptions;
  #take: TakeRecording | null = null;
  #audio: AudioDesk | null = null;
  #tracks: AgainTrack[] = [];
  #gaps = new TakeGaps();
  /** Where capturing was stopped, and the engine's clock then: the take's time goes on while the last of it is sent. */
  #end: { sample: number; clock: number } | null = null;
  #starting: Promise<void> | null = null;
  /** Those who wait until the audio thread is needed no more. */
  #onCaptured: (() => void)[] = [];
  /** What was chosen when the take began: it holds for whoever comes while it runs. */
  #choice: KeptChoice = { recordMixes: false, recordTalkback: false, recordProcessed: false, leftOut: {} };
  #format: SampleFormat = 'pcm24';
  readonly #lineLog = new LineLog();
  readonly #plugs: PlugLog;

  /** A take that an earlier desk left. */
  readonly openTake: OpenTakeKeeper;

  constructor(options: DeskRecordingOptions) {
    this.#options = options;
    this.#plugs = new PlugLog(options.store);
    this.openTake = new OpenTakeKeeper({ store: options.store, conditions: options.conditions, signedOut: options.signedOut, onRecorder: (message) => this.#onRecorder(message) });
    options.store.subscribe((now, before) => {
      if (now.cancelling !== before.cancelling) this.followSources();
    });
  }

  start(audio: AudioDesk): Promise<void> {
    return (this.#starting ??= this.#start(audio).finally(() => (this.#starting = null)));
  }

  async #start(audio: AudioDesk): Promise<void> {
    const { store, episode, compiled, conditions } = this.#options;
    if (store.getState().recording) return;
    const { plan, recordingSettings, habits, seats, cancelling, leftOut: unwanted } = store.getState();
    const { stopAfterMinutes, recordMixes, recordTalkback, recordProcessed } = habits;
    const choice = { recordMixes, recordTalkback, recordProcessed, leftOut: unwanted };
    const { tracks, leftOut } = chooseTracks(plan, compiled(), { ...choice, seats, cancelling });
    if (tracks.length === 0) return conditions.begin('recording', 'Recording did not start. Every track is left out; choose at least one in Show settings.');
    this.#tracks = tracks;
    this.#choice = choice;
    this.#format = recordingSettings.format;
    this.#reset(audio);
    store.setState({ recording: { ...this.#beginning(), leftOut, stopsAt: stopAfterMinutes > 0 ? stopAfterMinutes * 60_000 * SAMPLES_PER_MS : null }, lastTake: null });
    try {
      this.#take = await beginTakeRecording(audio, episode, tracks, recordingSettings.format, leftOut, this.#options.inForce, (message) => this.#onRecorder(message));
      this.#follow(this.#take.take, 0);
      this.#update({ phase: 'recording', take: this.#take.take, number: this.#take.number });
      // Whoever came while it was starting.
      this.followSources();
    } catch (error) {
      store.setState({ recording: null });
      conditions.begin('recording', `Recording did not start. ${(error as Error).message}`);
    }
  }

  #reset(audio: AudioDesk): void {
    this.#audio = audio;
    this.#gaps = new TakeGaps();
    this.#end = null;
    for (const key of ['recording', 'recorder', 'take']) this.#options.conditions.end(key);
  }

  /** A take of which nothing is captured yet. */
  #beginning(): RecordingState {
    return {
      phase: 'starting',
      take: '',
      number: 0,
      trackNames: this.#tracks.map(({ name }) => name),
      recorded: this.#tracks.map((track) => track.recorded),
      coming: [],
      leftOut: [],
      stopsAt: null,
      capturedFrames: 0,
      keptFrames: 0,
      safeFrames: this.#tracks.map(() => 0),
      waiting: null,
    };
  }

  /** Follows the lines and what is played, from a sample of the take on. */
  #follow(take: string, fromSample: number): void {
    for (const { source, cause } of this.#options.silentSources()) this.#openGap(source, fromSample, cause);
    this.#take?.lineGaps(this.#gaps.all);
    this.#options.plays.begin(this.#audio!, take, fromSample);
    this.#plugs.begin(take, () => Math.max(fromSample, this.now()?.sample ?? 0));
    this.#lineLog.begin(take);
  }

  /** Stops capturing and resolves when all of it is captured: the rest is sent and sealed as soon as the server takes it. */
  async stop(): Promise<void> {
    // A take that is just being begun ends as any other.
    if (this.#starting) await this.#starting;
    if (!this.#take || !this.#audio) return;
    if (!this.#end) {
      this.#update({ phase: 'finishing' });
      this.#end = { sample: this.#now(), clock: this.#audio.board.clocks[CLOCK] };
      this.#take.stop(this.#gaps.all);
    }
    await new Promise<void>((resolve) => this.#onCaptured.push(resolve));
  }

  /** The audio thread goes: what becomes of the lines from now on is no matter of the take. */
  letGo(): void {
    this.#audio = null;
  }

  /** Stops capturing for a while, or goes on at the very next sample of the take. */
  pause(paused: boolean): void {
    const { recording } = this.#options.store.getState();
    if (!this.#take || !this.#audio || recording?.phase !== (paused ? 'recording' : 'paused')) return;
    this.#audio.tell({ type: 'pause-recording', paused });
    this.#update({ phase: paused ? 'paused' : 'recording' });
  }

  /** The audio thread is given this next. */
  planInForce(inForce: NumberedInForce): void {
    this.#take?.inForce(inForce);
  }

  /** Sources and mixes whose places a track records from. */
  pinned(): ReadonlySet<string> {
    return new Set(this.#options.store.getState().recording === null ? [] : this.#tracks.map(({ recorded }) => placeRecorded(recorded)));
  }

  /** A source that appears while a take runs gets a track from there on, and so does a voice whose echo is cancelled from now on; one that is back is recorded on its own again. */
  followSources(): void {
    const { store, compiled } = this.#options;
    const { recording, plan, seats, cancelling } = store.getState();
    if (!this.#take || (recording?.phase !== 'recording' && recording?.phase !== 'paused')) return;
    const { tracks } = chooseTracks(plan, compiled(), { ...this.#choice, seats, cancelling });
    const more = tracks.filter((track) => !this.#tracks.some(({ recorded }) => recorded === track.recorded));
    const there = this.#tracks.map((track) => (track.tap.slot >= 0 ? track : { ...track, tap: tracks.find(({ recorded }) => recorded === track.recorded)?.tap ?? track.tap }));
    if (more.length === 0 && there.every(({ tap }, k) => tap === this.#tracks[k].tap)) return;
    this.#tracks = [...there, ...more];
    this.#take.addTracks(more, this.#format, this.#tracks.map(({ tap }) => tap));
    this.#update({ coming: [...recording.coming, ...more.map(({ recorded }) => recorded)] });
    for (const { source, cause } of this.#options.silentSources()) if (more.some(({ recorded }) => recorded === source)) this.#openGap(source, this.#now(), cause);
    this.#take.lineGaps(this.#gaps.all);
  }

  /** A source fell silent, or its sound came, so many milliseconds ago: the track holds silence meanwhile. */
  sourceMedia(source: SourceId, flowing: boolean, agoMs: number, cause: LineGap['cause'] = 'line-lost'): void {
    if (!this.#take || !this.#audio) return;
    const at = Math.max(0, this.#now() - Math.round(agoMs * SAMPLES_PER_MS));
    if (flowing) this.#gaps.end(source, at);
    else this.#openGap(source, at, cause);
    this.#take.lineGaps(this.#gaps.all);
  }

  lineReport(seat: string, report: LineReport): void {
    if (!this.#take || this.#end) return;
    const { echoes, cancelling } = this.#options.store.getState();
    const echo = echoes[voiceOf(seat)];
    const seen = echo && { echo: { delayMs: echo.delayMs, levelDb: echo.levelDb, cancelled: cancelling.includes(voiceOf(seat)) } };
    this.#lineLog.add({ seat, atSample: this.#now(), report: { ...report, ...seen } });
  }

  /** Goes on with a take that an earlier desk left open; the time without a desk is silence on every track, and listed. */
  goOn(audio: AudioDesk): void {
    const { store, compiled, conditions } = this.#options;
    if (store.getState().recording) return;
    const going = this.openTake.goOn();
    if (!going) return conditions.begin('recording', 'This take cannot be gone on with here. Seal it, and begin another one.');
    const { take, tracks, atSample, lineGaps, leftOut, recovery } = going;
    this.#tracks = tracksAgain(tracks, store.getState().plan, compiled(), store.getState());
    this.#choice = choiceAgain(tracks, leftOut);
    this.#format = tracks[0].format;
    this.#reset(audio);
    this.#gaps = new TakeGaps(lineGaps, atSample);
    store.setState({ recording: { ...this.#beginning(), phase: 'recording', take: take.id, number: take.number, capturedFrames: atSample }, lastTake: null });
    this.#take = recovery.goOn(audio, take.number, this.#tracks.map(({ tap }) => tap), atSample, this.#options.inForce());
    this.#follow(take.id, atSample);
    this.followSources();
  }

  /** What stood in the way of sending may be gone. */
  tryAgain(): void {
    this.#take?.tryAgain();
    this.openTake.tryAgain();
  }

  /** The take that runs and how far it is, samples; null while there is none. */
  now(): { take: string; sample: number } | null {
    return this.#take && { take: this.#take.take, sample: this.#end?.sample ?? this.#now() };
  }

  #now(): number {
    const clocks = this.#audio?.board.clocks;
    if (!this.#end) return Math.round(clocks?.[RECORDED_FRAMES] ?? 0);
    return Math.round(this.#end.sample + (clocks ? clocks[CLOCK] - this.#end.clock : 0));
  }

  #openGap(source: SourceId, atSample: number, cause: LineGap['cause']): void {
    if (this.#tracks.some(({ recorded }) => recorded === source)) this.#gaps.begin(source, atSample, cause);
  }

  #onRecorder(message: FromRecorder): void {
    switch (message.type) {
      case 'progress': {
        const { recording } = this.#options.store.getState();
        const how = { capturedFrames: message.capturedFrames, keptFrames: message.keptFrames, safeFrames: message.safeFrames, waiting: message.waiting?.message ?? null };
        if (recording && shownOf(how) !== shownOf(recording)) this.#update(how);
        if (message.waiting?.code === 'sign-in') this.#options.signedOut();
        if (recording?.phase === 'recording' && recording.stopsAt !== null && message.capturedFrames >= recording.stopsAt) void this.stop();
        return;
      }
      case 'sealed':
        return this.#finish({ lengthSamples: message.lengthSamples, lostSamples: message.lostSamples });
      // The first is heard where a take begins, the other said of a take that was kept.
      case 'ready':
      case 'recovered':
        return;
      case 'added': {
        const { recording, plan } = this.#options.store.getState();
        const name = (recorded: string) => this.#tracks.find((track) => track.recorded === recorded)?.name ?? placeName(plan, recorded);
        if (recording) this.#update({ recorded: [...recording.recorded, ...message.recorded], trackNames: [...recording.trackNames, ...message.recorded.map(name)], coming: recording.coming.filter((one) => !message.recorded.includes(one)) });
        return;
      }
      case 'trouble':
        return this.#options.conditions.begin('recorder', message.message);
      case 'captured':
        // What played at its end is in the log by now.
        void this.#options.plays.end();
        return this.#captured();
      case 'failed':
        this.#audio?.tell({ type: 'stop-recording' });
        this.#options.conditions.begin('take', `The take could not be completed. ${message.message}`);
        return this.#finish(null);
    }
  }

  #captured(): void {
    for (const go of this.#onCaptured.splice(0)) go();
  }

  #finish(sealed: { lengthSamples: number; lostSamples: number } | null): void {
    this.#captured();
    this.#lineLog.end();
    void this.#options.plays.end();
    this.#plugs.end();
    const recording = this.#take;
    this.#take = null;
    recording?.close();
    const { take: id, number } = recording ?? { take: '', number: 0 };
    this.#options.store.setState(sealed ? { recording: null, lastTake: { id, number, ...sealed } } : { recording: null, openTake: { id, number } });
  }

  #update(change: Partial<NonNullable<DeskState['recording']>>): void {
    this.#options.store.setState(({ recording }) => ({ recording: recording && { ...recording, ...change } }));
  }
}

/** What a host sees of how far a take is, as text: whole seconds. The recorder says it ten times a second. */
function shownOf({ capturedFrames, keptFrames, safeFrames, waiting }: Pick<RecordingState, 'capturedFrames' | 'keptFrames' | 'safeFrames' | 'waiting'>): string {
  const seconds = (frames: number | null) => frames === null ? 'none' : Math.floor(frames / (1000 * SAMPLES_PER_MS));
  return [seconds(capturedFrames), seconds(keptFrames), seconds(Math.min(...safeFrames)), waiting].join();
}
