import type { PracticeCallOptions, PracticeSpeaker } from '@/core/practice/practice-call';
import { callerSettings } from '@/core/practice/caller';
import { DEMO_TURNS, DEMO_VOICES, demoClipPath } from '@/core/practice/demo-conversation';
import { seedFor } from '@/core/random';
import type { DeskSeat } from '@/core/session/desk-data';

/** Seed of every practice call: a rehearsal can be heard again exactly. */
export const PRACTICE_SEED = 14;

/** Fetches a sound and decodes it at the context's rate. @throws {Error} with a sentence */
export async function loadSound(context: BaseAudioContext, url: string): Promise<AudioBuffer> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`A sound could not be loaded from the server (${response.status}).`);
  return context.decodeAudioData(await response.arrayBuffer());
}

/** The same as channels of its own. */
export async function loadChannels(context: BaseAudioContext, url: string): Promise<Float32Array[]> {
  const buffer = await loadSound(context, url);
  return Array.from({ length: buffer.numberOfChannels }, (_, k) => buffer.getChannelData(k).slice());
}

/**
 * What the practice seats say. The host has turns among them, in which the simulated voice speaks only while
 * there is no microphone.
 */
export async function loadPracticeCall(
  context: BaseAudioContext,
  seats: readonly DeskSeat[],
): Promise<PracticeCallOptions> {
  const speakers = DEMO_VOICES.map(async (voice): Promise<PracticeSpeaker> => {
    const clips = await Promise.all(
      voice.lines.map(async (_, line) => (await loadSound(context, demoClipPath(voice.id, line))).getChannelData(0).slice()),
    );
    const seat = seats.find(({ practice }) => practice?.voice === voice.id);
    // Whoever comes by a link speaks for themselves.
    if (!seat?.practice || (seat.line !== 'practice' && seat.role !== 'host')) return { seat: '', clips, caller: null };
    if (seat.role === 'host') return { seat: seat.id, clips, caller: null };
    return { seat: seat.id, clips, caller: callerSettings(seat.practice, seedFor(PRACTICE_SEED, seat.id)) };
  });
  return { seed: PRACTICE_SEED, speakers: await Promise.all(speakers), turns: [...DEMO_TURNS] };
}
