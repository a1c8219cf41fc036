import { AirLevel } from '@/core/air/air-level';
import { joinPackets } from '@/core/air/packets';
import { lateMs, PieceQueue } from '@/core/air/piece-queue';
import type { Broadcast } from '@/core/air/broadcast';
import { RING_BLOCK, ringReader, type RingReader } from '../recorder/ring';
import type { FeedRequest, FromFeed } from './air-messages';
import { streamEncoder, type StreamEncoder } from './stream-encoder';

const RATE = 48_000;
const DRAIN_MS = 100;
/** The encoder is given so many blocks at a time: 43 ms. */
const BATCH_BLOCKS = 16;
const READ_EVERY_MS = 500;
const ANSWER_WITHIN_MS = 10_000;
const TRY_AGAIN_MS = 500;
/** A gap in what comes is filled with silence, so that time goes on as it does; a longer one is left out, samples. */
const MOST_FILLED = 5 * RATE;

let request: FeedRequest;
let reader: RingReader;
let level: AirLevel;
let encoder: StreamEncoder;
/** Sample after the last one that was taken; −1 before the first. */
let heard = -1;
const left = new Float32Array(BATCH_BLOCKS * RING_BLOCK);
const right = new Float32Array(BATCH_BLOCKS * RING_BLOCK);
let filled = 0;
/** Session sample at which the next packet begins. */
let packetAt = 0;
let queue: PieceQueue;
let sending = false;
let over = false;

const tell = (message: FromFeed): void => self.postMessage(message);

function take(block: [Float32Array, Float32Array]): void {
  left.set(block[0], filled);
  right.set(block[1], filled);
  filled += RING_BLOCK;
  if (filled < left.length) return;
  level.process([left, right], filled);
  encoder.take(left, right);
  filled = 0;
}

const silent = new Float32Array(RING_BLOCK);

function drain(): void {
  reader.drain((position, channels) => {
    if (heard < 0) packetAt = Math.max(0, position - encoder.delaySamples);
    else if (position > heard && position - heard <= MOST_FILLED) for (; heard < position; heard += RING_BLOCK) take([silent, silent]);
    else if (position > heard) packetAt += position - heard;
    take([channels.subarray(0, RING_BLOCK), channels.subarray(RING_BLOCK, 2 * RING_BLOCK)]);
    heard = position + RING_BLOCK;
  });
  const packets = encoder.packets();
  queue.push(packets, packetAt);
  packetAt += packets.length * encoder.packetSamples;
  queue.forgetOld(heard);
  void send();
}

async function send(): Promise<void> {
  if (sending || over) return;
  sending = true;
  for (let piece = queue.next(); piece && !over; piece = queue.next()) {
    const { number, from, samples, packets } = piece;
    const query = new URLSearchParams({ number: String(number), session: String(request.session), from: String(from), samples: String(samples), lateMs: String(Math.round(lateMs(piece, heard))) });
    if ((await post(`${request.url}?${query.toString()}`, joinPackets(packets))) === 'sent') queue.sent();
    else {
      queue.failed(heard);
      await new Promise((resolve) => setTimeout(resolve, TRY_AGAIN_MS));
    }
  }
  sending = false;
}

async function post(url: string, body: Uint8Array<ArrayBuffer>): Promise<'sent' | 'later'> {
  try {
    const response = await fetch(url, { method: 'POST', body: new Blob([body]), signal: AbortSignal.timeout(ANSWER_WITHIN_MS) });
    if (response.ok) {
      tell({ type: 'state', broadcast: (await response.json()) as Broadcast });
      return 'sent';
    }
    if (response.status !== 410 && response.status !== 404) return 'later';
    over = true;
    const { message } = (await response.json().catch(() => ({}))) as { message?: string };
    tell({ type: 'ended', reason: message ?? 'This stream has ended.' });
  } catch {
    // Not reached, or not in time: it is sent again.
  }
  return 'later';
}

self.onmessage = async ({ data }: MessageEvent<FeedRequest>) => {
  request = data;
  level = new AirLevel(data.targetLufs, left.length);
  try {
    encoder = await streamEncoder(data.coding, (reason) => tell({ type: 'failed', reason }));
  } catch (error) {
    return tell({ type: 'failed', reason: (error as Error).message });
  }
  queue = new PieceQueue(encoder.packetSamples, data.nextPiece);
  reader = ringReader(data.ring, 2);
  setInterval(drain, DRAIN_MS);
  setInterval(() => {
    const { waitingMs, droppedMs } = queue.facts;
    tell({ type: 'reading', reading: { heardSample: heard, waitingMs: waitingMs + Math.round((1000 * filled) / RATE), droppedMs, level: level.read() } });
  }, READ_EVERY_MS);
};
