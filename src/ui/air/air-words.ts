import { isOn, type Standing } from '@/live/air/air-state';
import type { FeedReading } from '@/live/air/air-messages';
import type { Broadcast } from '@/core/air/broadcast';
import { PRACTICE_RADIO, type StationSettings } from '@/core/air/station';
import { sizeInWords } from '../format';

/** Where a station's stream is sent to, in few words. */
export const placeInWords = ({ address }: StationSettings): string => (address === PRACTICE_RADIO ? 'the practice radio on this machine' : address.replace(/^https?:\/\//, ''));

/** How a stream goes, in one or two words. */
export function stateInWords(broadcast: Standing | undefined): string {
  if (broadcast?.ending && broadcast.endedAt === null) return 'ending';
  if (!isOn(broadcast)) return 'off the air';
  switch (broadcast.state) {
    case 'on':
      return 'on the air';
    case 'silent':
      return 'on the air, silent';
    case 'away':
      return 'server lost';
    default:
      return 'connecting';
  }
}

const seconds = (ms: number): string => `${(ms / 1000).toFixed(1)} s`;

/** What was measured of a stream that is on the air. */
export function figuresInWords(broadcast: Broadcast, reading: FeedReading | undefined, delay: number | null): string[] {
  const { bytes, bufferedMs, reconnections, droppedMs, silenceMs } = broadcast;
  const dropped = droppedMs + (reading?.droppedMs ?? 0);
  return [
    sizeInWords(bytes),
    ...(delay === null ? [] : [`sent ${seconds(delay)} late`]),
    `${seconds(bufferedMs + (reading?.waitingMs ?? 0))} buffered`,
    ...(reconnections > 0 ? [`${reconnections} ${reconnections === 1 ? 'reconnection' : 'reconnections'}`] : []),
    ...(dropped > 0 ? [`${seconds(dropped)} dropped`] : []),
    ...(silenceMs > 0 ? [`${seconds(silenceMs)} of silence sent`] : []),
  ];
}

/** `−16.2 LUFS, +3.1 dB`: how loud it is when it is coded, and by how much it was brought there. */
export function loudnessInWords({ level }: FeedReading, levelled: boolean): string {
  if (level.outLufs === null) return 'too quiet to measure';
  const signed = (value: number): string => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(1)}`;
  return `${signed(level.outLufs).replace('+', '')} LUFS${levelled ? `, gain ${signed(level.gainDb)} dB` : ''}${level.takenDb > 0.1 ? `, limiter −${level.takenDb.toFixed(1)} dB` : ''}`;
}
