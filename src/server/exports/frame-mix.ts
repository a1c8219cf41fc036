import { FLACDecoder } from '@wasm-audio-decoders/flac';
import type pg from 'pg';
import { joinBytes } from '@/core/formats/join-bytes';
import { closingGain, frame, openingGain, type FrameSound, type Framing, type FrameWay, type UnderTalk } from '@/core/takes/framing';
import { applyEdit } from '@/core/sounds/sound-edit';
import { dbToGain } from '@/core/dsp/decibels';
import { RefusedTask } from '../jobs/refused';
import { findSound } from '../sounds/queries';
import { soundPieces } from '../sounds/sound-file';
import type { SoundSource } from './sound-source';

const RATE = 48_000;
const PIECE = RATE;

/** A sound at one end of a mix, as its edit and its level in the library have it. */
interface LoadedSound extends FrameSound {
  name: string;
  sides: Float32Array[];
}

/** What is wanted at the ends of a mix, by the library's ids. */
export interface WantedFrame {
  opening: { sound: string; way: FrameWay } | null;
  closing: { sound: string; way: FrameWay } | null;
}

/** A mix with an opening and a closing, and where everything lies in it. */
export interface FramedMix {
  source: SoundSource;
  framing: Framing;
  /** The opening's and the closing's names, where there are any. */
  names: { opening: string | null; closing: string | null };
}

/** Lays the show's sounds around a stereo mix at 48 kHz. @throws {RefusedTask} when a sound is gone */
export async function framedMix(pool: pg.Pool, talk: SoundSource, wanted: WantedFrame, under: UnderTalk): Promise<FramedMix> {
  const load = (one: WantedFrame['opening']) => one && loadSound(pool, one.sound, one.way);
  const [opening, closing] = [await load(wanted.opening), await load(wanted.closing)];
  const framing = frame(talk.frames, opening, closing);
  const add = (into: Float32Array[], at: number, sound: LoadedSound, from: number, gainAt: (sample: number) => number): void => {
    const first = Math.max(0, from - at);
    const end = Math.min(into[0].length, from + sound.lengthSamples - at);
    for (let i = first; i < end; i++) {
      const gain = gainAt(at + i);
      into.forEach((side, c) => (side[i] += gain * sound.sides[c][at + i - from]));
    }
  };
  return {
    framing,
    names: { opening: opening?.name ?? null, closing: closing?.name ?? null },
    source: {
      channels: 2,
      sampleRate: RATE,
      frames: framing.lengthSamples,
      async *pieces() {
        for await (const [at, piece] of spread(talk, framing)) {
          if (opening) add(piece, at, opening, 0, (sample) => openingGain(sample, opening, framing, under));
          if (closing) add(piece, at, closing, framing.closingFrom, (sample) => closingGain(sample, closing, framing, under));
          yield piece;
        }
      },
    },
  };
}

/** The talk in its place, with silence before and after it, and where each piece begins; mono is heard on both sides. */
async function* spread(talk: SoundSource, { talkFrom, lengthSamples }: Framing): AsyncGenerator<[number, Float32Array<ArrayBuffer>[]]> {
  const silence = (length: number) => [new Float32Array(length), new Float32Array(length)];
  let at = 0;
  for (; at < talkFrom; at += Math.min(PIECE, talkFrom - at)) yield [at, silence(Math.min(PIECE, talkFrom - at))];
  for await (const piece of talk.pieces()) {
    yield [at, [piece[0].slice(), (piece[1] ?? piece[0]).slice()]];
    at += piece[0].length;
  }
  for (; at < lengthSamples; at += Math.min(PIECE, lengthSamples - at)) yield [at, silence(Math.min(PIECE, lengthSamples - at))];
}

async function loadSound(pool: pg.Pool, id: string, way: FrameWay): Promise<LoadedSound> {
  const sound = await findSound(pool, id).catch(() => {
    throw new RefusedTask('The opening or closing sound is not in the library any more. Choose another one, or none.');
  });
  const parts: Uint8Array[] = [];
  for await (const part of soundPieces(pool, id)) parts.push(part);
  const decoder = new FLACDecoder();
  await decoder.ready;
  try {
    const { channelData } = await decoder.decodeFile(joinBytes(parts));
    const { left, right, fadeInSamples = 0 } = applyEdit(channelData, sound.edit, false);
    const level = dbToGain(sound.gainDb);
    // The player fades in what the edit says; here that is done beforehand.
    const gainAt = (i: number) => level * (i < fadeInSamples ? Math.sin((Math.PI / 2) * (i / fadeInSamples)) : 1);
    const sides = [left, right].map((side) => side.map((sample, i) => gainAt(i) * sample));
    return { name: sound.name, way, sides, lengthSamples: left.length };
  } finally {
    decoder.free();
  }
}
