import { SPEECH_SPECTRUM } from '../measure/speech-spectrum';
import { dbInWords } from '../hearing/names';
import { loudnessTakenDb } from './loudness-taken';
import type { VoiceFacts } from './listen-to-voice';
import { bandsCarried } from './line-band';
import { STRIP_RANGES, withInsert, type InsertName, type StripSettings } from './settings';

/** A strip set for one voice, and why, a sentence each. */
export interface StripProposal {
  strip: StripSettings;
  reasons: { insert: InsertName; sentence: string; set: StripSettings[InsertName] }[];
}

/** So much speech is needed to judge by. */
export const LEAST_SPOKEN_SECONDS = 3;
/** Half of what a voice differs by is taken back, and not more than this: it is to stay this voice. */
const SHARE = 0.5;
const MOST_TONE_DB = 5;
const LEAST_TONE_DB = 1;
/** Quieter pauses than this trouble nobody. */
const QUIET_ROOM_DB = -66;
/** A gate needs so much between the room and quiet words. */
const GATE_GAP_DB = 16;
const NOISY_ROOM_GAP_DB = 25;

/** Where the equaliser's bands are set, and the third octaves each answers for. */
const TONE_BANDS = [
  { hz: 180, q: 0.7, from: 160, to: 250, raised: 'thin', lowered: 'boomy' },
  { hz: 400, q: 0.8, from: 315, to: 630, raised: 'hollow', lowered: 'boxy' },
  { hz: 3200, q: 0.8, from: 2500, to: 5000, raised: 'dull', lowered: 'harsh' },
  { hz: 7500, q: 0.7, from: 6300, to: 10_000, raised: 'covered', lowered: 'sharp' },
] as const;

const half = (value: number): number => Math.round(value * 2) / 2;
const within = (value: number, [least, most]: readonly [number, number]): number => Math.min(most, Math.max(least, value));
const db = (value: number): string => dbInWords(value).replace('+', '');

/**
 * Sets low cut, gate, equaliser and compressor for a voice; what else the strip does stays.
 * @returns null where too little was said to judge by
 */
export function setForVoice(strip: StripSettings, facts: VoiceFacts): StripProposal | null {
  if (facts.spokenSeconds < LEAST_SPOKEN_SECONDS) return null;
  const said: { insert: InsertName; sentence: string }[] = [];
  const say = (insert: InsertName, sentence: string) => said.push({ insert, sentence });
  const steps = [setLowCut, setGate, setEqualiser, setCompressor];
  const proposed = steps.reduce((done, step) => step({ strip: done, facts, say }), strip);
  return { strip: proposed, reasons: said.map((one) => ({ ...one, set: proposed[one.insert] })) };
}

interface Setting {
  strip: StripSettings;
  facts: VoiceFacts;
  say(insert: InsertName, sentence: string): void;
}

function setLowCut({ strip, facts: { lowestHz }, say }: Setting): StripSettings {
  const hz = 5 * Math.round(within((lowestHz ?? 115) * 0.7, [50, 140]) / 5);
  say('lowCut', lowestHz === null ? `Cut below ${hz} Hz, where most voices have nothing.` : `The voice begins at ${Math.round(lowestHz)} Hz; what is below ${hz} Hz is not voice.`);
  return withInsert(strip, 'lowCut', { on: true, hz });
}

function setGate({ strip, facts: { roomDb, quietDb }, say }: Setting): StripSettings {
  if (roomDb < QUIET_ROOM_DB) {
    say('gate', roomDb === -Infinity ? 'Pauses are silent already: no gate.' : `Pauses are at ${db(roomDb)}, quiet enough: no gate.`);
    return withInsert(strip, 'gate', { on: false });
  }
  if (quietDb - roomDb < GATE_GAP_DB) {
    say('gate', `The quietest moment is only ${db(quietDb - roomDb)} below quiet words: a gate would cut them off.`);
    return withInsert(strip, 'gate', { on: false });
  }
  const thresholdDb = within(half(roomDb + 0.45 * (quietDb - roomDb)), STRIP_RANGES.gate.thresholdDb);
  const rangeDb = quietDb - roomDb < NOISY_ROOM_GAP_DB ? 8 : 12;
  say('gate', `Pauses are at ${db(roomDb)} and quiet words at ${db(quietDb)}: between them, at ${db(thresholdDb)}, pauses go down by ${rangeDb} dB.`);
  return withInsert(strip, 'gate', { on: true, thresholdDb, rangeDb });
}

function setEqualiser({ strip, facts: { toneDb }, say }: Setting): StripSettings {
  const heard: string[] = [];
  const line = bandsCarried(toneDb);
  const bands = TONE_BANDS.map(({ hz, q, from, to, raised, lowered }) => {
    const all = SPEECH_SPECTRUM.flatMap(([middle], k) => (middle >= from && middle <= to ? [k] : []));
    const own = all.filter((k) => k >= line.first && k <= line.last);
    const off = own.reduce((sum, k) => sum + toneDb[k], 0) / own.length;
    const gainDb = half(within(-SHARE * off, [-MOST_TONE_DB, MOST_TONE_DB]));
    // What a line does not carry cannot be brought back; only its noise would be.
    if (own.length < all.length / 2 || Math.abs(gainDb) < LEAST_TONE_DB) return { hz, gainDb: 0, q };
    heard.push(`${gainDb > 0 ? raised : lowered} (${gainDb > 0 ? '+' : '−'}${Math.abs(gainDb)} dB around ${hz < 1000 ? `${hz} Hz` : `${hz / 1000} kHz`})`);
    return { hz, gainDb, q };
  });
  const tone = heard.length === 0 ? 'The tone is that of most voices: nothing to shape.' : `A little ${heard.join(', ')}: half of it is taken back.`;
  say('equaliser', line.endsHz === null ? tone : `${tone} Above ${+(line.endsHz / 1000).toFixed(1)} kHz nothing comes by this line, so nothing is raised there.`);
  return withInsert(strip, 'equaliser', { on: heard.length > 0, bands });
}

function setCompressor({ strip, facts, say }: Setting): StripSettings {
  const spread = facts.loudDb - facts.quietDb;
  const ratio = spread < 12 ? 2 : spread < 20 ? 3 : 4;
  const thresholdDb = within(Math.round(facts.speechDb - 4), STRIP_RANGES.compressor.thresholdDb);
  const set = withInsert(strip, 'compressor', { on: true, thresholdDb, ratio, attackMs: 8, releaseMs: 160, makeUpDb: 0 });
  const makeUpDb = within(half(loudnessTakenDb(set, facts)), STRIP_RANGES.compressor.makeUpDb);
  say('compressor', `Quiet and loud words are ${db(spread)} apart: ${ratio} : 1 above ${db(thresholdDb)} brings them together, and ${makeUpDb} dB keep the voice as loud as it was.`);
  return withInsert(set, 'compressor', { makeUpDb });
}
