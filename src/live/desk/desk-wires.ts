import { COMPUTER_SHARE } from '@/core/hearing/computer-share';
import type { CompiledPlan } from '@/core/hearing/compile';
import { phonesOf, voiceOf } from '@/core/hearing/ids';
import type { Seat } from '@/core/hearing/plan';
import { listenerOfLine, sourceOfLine } from '@/core/hearing/seats';
import { lineConnector } from './audio-desk';

/** Where nothing is connected. */
const NOWHERE = -1;

/** What is plugged into the audio thread just now. */
export interface Plugged {
  hostSeat: string;
  /** The host's microphone, at the first input. */
  microphone: boolean;
  /** Another program's sound, at the last input. */
  share: boolean;
  /** Who sits at which line. */
  lines: readonly { seat: Pick<Seat, 'id' | 'role'>; place: number }[];
}

/**
 * Which source each input of the audio thread feeds, and which listener each output carries: slots of the compiled
 * plan by connector, −1 for none. The host's ears are output 0; a line's output is its owner's return and nothing else.
 */
export function wiresOf({ sourceIds, listenerIds }: CompiledPlan, plugged: Plugged, mostLines: number): { inputs: number[]; outputs: number[] } {
  const shareConnector = lineConnector(mostLines);
  const inputs = new Array<number>(shareConnector + 1).fill(NOWHERE);
  const outputs = new Array<number>(1 + mostLines).fill(NOWHERE);
  if (plugged.microphone) inputs[0] = sourceIds.indexOf(voiceOf(plugged.hostSeat));
  if (plugged.share) inputs[shareConnector] = sourceIds.indexOf(COMPUTER_SHARE);
  outputs[0] = listenerIds.indexOf(phonesOf(plugged.hostSeat));
  for (const { seat, place } of plugged.lines) {
    inputs[lineConnector(place)] = sourceIds.indexOf(sourceOfLine(seat));
    outputs[lineConnector(place)] = listenerIds.indexOf(listenerOfLine(seat));
  }
  return { inputs, outputs };
}
