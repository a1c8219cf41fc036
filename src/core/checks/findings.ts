import { listInWords } from '../hearing/names';
import type { TakeData, TakeTrack } from '../session/take-data';
import { neverInCall } from '../takes/presence';
import type { TakeCheck, TrackIsolation } from './take-check';

/** One thing a host should know about a take before they edit it. */
export interface CheckFinding {
  severity: 'fault' | 'notice';
  track: string;
  words: string;
  /** What can be done. */
  advice: string;
  /** Where it can be heard, samples; null for the whole track. */
  atSample: number | null;
  /** The track can be repaired by taking the others out of it. */
  repairable: boolean;
  /** Its noise can be suppressed. */
  noisy?: boolean;
}

const RATE = 48000;
/** Bleed above this is heard under an edit; below −55 dB nobody will. */
const BLEED_FAULT_DB = -30;
const BLEED_NOTICE_DB = -55;
/** Copies sooner than this are a microphone in the same room; later ones went round through a line. */
const ROUND_TRIP_MS = 40;
/** Delays this near belong to one way, ms. */
const SAME_WAY_MS = 10;
const LOUD_NOISE_DB = -50;
const QUIET_VOICE_LUFS = -36;
const UNEVEN_VOICES_LU = 6;
const MUCH_DC = 0.004;

/** All findings of a check in words, faults first. */
export function findingsOf(take: Pick<TakeData, 'tracks' | 'lengthSamples' | 'gaps'>, whole: TakeCheck): CheckFinding[] {
  const check = ofThoseInCall(take, whole);
  const nameOf = (id: string) => take.tracks.find((track) => track.id === id)?.name ?? 'another track';
  const findings = [
    ...bleedFindings(check.isolation, nameOf),
    ...check.tracks.flatMap((measured) => {
      const track = take.tracks.find(({ id }) => id === measured.track);
      return track ? trackFindings(track, measured, take) : [];
    }),
    ...unevenVoices(take.tracks, check),
  ];
  return findings.sort((a, b) => Number(b.severity === 'fault') - Number(a.severity === 'fault'));
}

/** A check without those who were never in the call: there is nothing to say of their silence. */
export function ofThoseInCall({ gaps, lengthSamples }: Pick<TakeData, 'lengthSamples' | 'gaps'>, { tracks, isolation }: TakeCheck): TakeCheck {
  const away = neverInCall(gaps, lengthSamples);
  return { tracks: tracks.filter(({ track }) => !away.has(track)), isolation: isolation.filter(({ source, target }) => !away.has(source) && !away.has(target)) };
}

/** What came the same way is said once: a caller's loudspeakers bring everybody back. */
function bleedFindings(pairs: readonly TrackIsolation[], nameOf: (id: string) => string): CheckFinding[] {
  const groups = new Map<string, TrackIsolation[]>();
  for (const pair of pairs.filter(({ verdict, gainDb }) => verdict === 'unknown' || (verdict === 'bleeds' && gainDb !== null && gainDb >= BLEED_NOTICE_DB))) {
    const way = `${pair.target}/${pair.verdict}/${Math.round((pair.delayMs ?? 0) / SAME_WAY_MS)}`;
    groups.set(way, [...(groups.get(way) ?? []), pair]);
  }
  return [...groups.values()].map((group) => bleedFinding(group, nameOf));
}

function bleedFinding(group: readonly TrackIsolation[], nameOf: (id: string) => string): CheckFinding {
  const [{ target, verdict, delayMs, atSample }] = group;
  const where = nameOf(target);
  const late = delayMs === null ? '' : `${Math.abs(Math.round(delayMs))} ms ${delayMs < 0 ? 'early' : 'late'}`;
  if (verdict === 'unknown') {
    return { severity: 'notice', track: target, words: `${where}’s track contains something of ${listInWords(group.map(({ source }) => nameOf(source)))}, ${late}; how much is lost in what else is there.`, advice: 'Listen to it alone where the other speaks.', atSample, repairable: true };
  }
  const why = whyIn(where, delayMs ?? 0);
  const heard = listInWords(group.map(({ source, gainDb }) => `${nameOf(source)} ${Math.round(-(gainDb ?? 0))} dB`));
  return {
    severity: group.some(({ gainDb }) => (gainDb ?? 0) > BLEED_FAULT_DB) ? 'fault' : 'notice',
    track: target,
    words: `${where}’s track contains ${heard} down, ${late}: ${why}.`,
    advice: 'Repair takes it out as far as it can; the track itself stays as it is. Next time: headphones.',
    atSample,
    repairable: true,
  };
}

function whyIn(where: string, delayMs: number): string {
  if (delayMs > ROUND_TRIP_MS) return `so late, most likely ${where}’s loudspeakers or open headphones bring it back`;
  if (delayMs < -ROUND_TRIP_MS) return `before it is on their own track, so most likely ${where}’s microphone is in the same room, and their own line is the later one`;
  return 'so soon, most likely one microphone hears both';
}

function trackFindings(track: TakeTrack, measured: TakeCheck['tracks'][number], take: Pick<TakeData, 'lengthSamples' | 'gaps'>): CheckFinding[] {
  const found: CheckFinding[] = [];
  const say = (severity: CheckFinding['severity'], words: string, advice: string, atSample: number | null = null) =>
    found.push({ severity, track: track.id, words, advice, atSample, repairable: false });
  const { name } = track;
  if (measured.storedSamples !== take.lengthSamples) {
    const missing = ((take.lengthSamples - measured.storedSamples) / RATE).toFixed(2);
    say('fault', `${name}’s track lacks ${missing} s that never arrived; they are silence.`, 'The gaps are drawn on the track.', take.gaps.find((gap) => gap.track === track.id && gap.cause === 'not-received')?.atSample ?? null);
  }
  if (measured.clippedRuns > 0) {
    say(measured.clippedRuns > 20 ? 'fault' : 'notice', `${name} was too loud ${measured.clippedRuns === 1 ? 'once' : `${measured.clippedRuns} times`}: the sound is cut off at full scale.`, 'Lower the microphone’s gain next time; 32-bit float keeps what a line sends above full scale.', measured.clipped[0]?.atSample ?? null);
  }
  if (track.kind !== 'voice') return found;
  if (measured.peakDb === null) {
    say('notice', `${name}’s track is silent from beginning to end.`, 'Was somebody there who should be heard?');
    return found;
  }
  if (measured.hum) say('notice', `${name}’s track hums at ${measured.hum.hz} Hz, ${whole(measured.hum.db)} dBFS.`, 'A cable, a charger or a lamp near the microphone.', measured.quietAtSample);
  if (measured.noiseFloorDb !== null && measured.noiseFloorDb > LOUD_NOISE_DB) {
    found.push({ severity: 'notice', track: track.id, words: `${name}’s room is loud: ${whole(measured.noiseFloorDb)} dBFS where nobody speaks.`, advice: 'A fan or the street; a closer microphone helps. Noise suppression makes a second track without it.', atSample: measured.quietAtSample, repairable: false, noisy: true });
  }
  if (measured.integratedLufs !== null && measured.integratedLufs < QUIET_VOICE_LUFS) {
    say('notice', `${name} is quiet: ${whole(measured.integratedLufs)} LUFS.`, 'Raising it afterwards raises its noise as well.');
  }
  if (Math.abs(measured.dc) > MUCH_DC) say('notice', `${name}’s track is off centre by ${(100 * measured.dc).toFixed(1)} % of full scale.`, 'A high-pass filter in the editor takes it away.');
  return found;
}

/** The loudest and the quietest voice, when they are far apart. */
function unevenVoices(tracks: readonly TakeTrack[], check: TakeCheck): CheckFinding[] {
  const voices = tracks
    .filter(({ kind }) => kind === 'voice')
    .flatMap(({ id, name }) => {
      const lufs = check.tracks.find(({ track }) => track === id)?.integratedLufs ?? null;
      return lufs === null ? [] : [{ id, name, lufs }];
    })
    .sort((a, b) => a.lufs - b.lufs);
  const [quietest] = voices;
  const loudest = voices.at(-1);
  if (!loudest || loudest.lufs - quietest.lufs < UNEVEN_VOICES_LU) return [];
  const words = `${quietest.name} is ${Math.round(loudest.lufs - quietest.lufs)} LU quieter than ${loudest.name}.`;
  return [{ severity: 'notice', track: quietest.id, words, advice: 'Level the tracks before anything else.', atSample: null, repairable: false }];
}

const whole = (db: number): string => String(Math.round(db)).replace('-', '−');
