import { describe, expect, it } from 'vitest';
import type { Broadcast } from '@/core/air/broadcast';
import type { FeedReading } from '@/live/air/air-messages';
import { delayOf } from '@/live/air/air-state';
import { airNotices } from './air-notices';
import { figuresInWords, loudnessInWords, stateInWords } from './air-words';

const broadcast: Broadcast = { id: 'b', station: 's', name: 'Ferry radio', startedAt: '2026-11-28T19:00:00Z', endedAt: null, onSince: '2026-11-28T19:00:01Z', ending: false, state: 'on', reason: '', bytes: 1_400_000, reconnections: 0, droppedMs: 0, silenceMs: 0, bufferedMs: 300, nextPiece: 8, sent: { session: 4, sample: 480_000, agoMs: 120 }, title: '' };
const reading: FeedReading = { heardSample: 489_600, waitingMs: 200, droppedMs: 0, level: { inLufs: -21, outLufs: -16.2, gainDb: 3.1, takenDb: 0.4 } };

describe('a stream in words', () => {
  it('says how it goes, and what was lost only where something was', () => {
    expect([stateInWords(undefined), stateInWords(broadcast), stateInWords({ ...broadcast, state: 'away' }), stateInWords({ ...broadcast, ending: true }), stateInWords({ ...broadcast, endedAt: 'x' })]).toEqual(['off the air', 'on the air', 'server lost', 'ending', 'off the air']);
    expect(figuresInWords(broadcast, reading, 640)).toEqual(['1.4 MB', 'sent 0.6 s late', '0.5 s buffered']);
    expect(figuresInWords({ ...broadcast, reconnections: 1, droppedMs: 2000, silenceMs: 900 }, { ...reading, droppedMs: 500 }, null)).toEqual(['1.4 MB', '0.5 s buffered', '1 reconnection', '2.5 s dropped', '0.9 s of silence sent']);
    expect(loudnessInWords(reading, true)).toBe('−16.2 LUFS, gain +3.1 dB, limiter −0.4 dB');
  });

  it('is as late as its oldest sample was when it was sent, and not known of another audio thread', () => {
    // 200 ms newer here than there; the reading is 50 ms older than the news, which is 120 ms old; and a piece of half a second.
    expect(delayOf(broadcast, reading, 4, 50)).toBe(200 + 50 - 120 + 500);
    expect([delayOf(broadcast, reading, 5, 0), delayOf({ ...broadcast, sent: null }, reading, 4, 0), delayOf(broadcast, undefined, 4, 0)]).toEqual([null, null, null]);
  });

  it('is in the watch while its server is lost', () => {
    expect(airNotices({ s: broadcast })).toEqual([]);
    const [notice] = airNotices({ s: { ...broadcast, state: 'away', reason: 'Nothing answers.' } });
    expect(notice).toMatchObject({ urgent: true, words: expect.stringContaining('“Ferry radio” is not on the air. Nothing answers.') });
  });
});
