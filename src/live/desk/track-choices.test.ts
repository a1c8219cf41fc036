import { describe, expect, it } from 'vitest';
import { compilePlan } from '@/core/hearing/compile';
import { setStrip } from '@/core/hearing/edit';
import { voiceOf } from '@/core/hearing/ids';
import { createPlan, type Seat } from '@/core/hearing/plan';
import { withSeats } from '@/core/hearing/seats';
import { chooseTracks, trackCandidates, tracksAgain } from './track-choices';
import { withInsert } from '@/core/strip/settings';

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'practice', reflexive: 'themselves' });
const SEATS = [seat('maren', 'host'), seat('odalys', 'caller'), seat('jude', 'producer')];
const seats = SEATS.map((one) => ({ ...one, fullName: `${one.id} of the boathouse` })) as never;
const plan = createPlan(SEATS, [{ id: 'bed', name: 'Bed' }]);
const choice = { seats, recordMixes: false, recordTalkback: false, recordProcessed: false, cancelling: [], leftOut: {} };
const kinds = (more: Partial<typeof choice>, using = plan) => trackCandidates(using, { ...choice, ...more }).map(({ kind, recorded, channels }) => `${kind} ${recorded} ${channels}`);

describe('what a take holds', () => {
  it('is every source by itself, voices in mono, and more only where it is asked for', () => {
    expect(kinds({})).toEqual(['voice voice:maren 1', 'voice voice:odalys 1', 'sounds sounds:bed 2']);
    expect(kinds({ recordTalkback: true })).toContain('talkback talkback:jude 1');
    expect(kinds({ recordMixes: true }).slice(3)).toEqual(['phones phones:maren 2', 'return return:odalys 2', 'program program 2']);
  });

  it('has a second track of a voice that is processed, taken behind the processing', () => {
    expect(kinds({ recordProcessed: true })).toEqual(kinds({}));
    const processed = setStrip(plan, voiceOf('odalys'), (strip) => withInsert(strip, 'lowCut', { on: true }));
    expect(kinds({ recordProcessed: true }, processed).slice(3)).toEqual(['processed processed:odalys 1']);
    const compiled = compilePlan(processed);
    const { tracks } = chooseTracks(processed, compiled, { ...choice, recordProcessed: true });
    const slot = compiled.sourceIds.indexOf(voiceOf('odalys'));
    expect(tracks.filter(({ tap }) => tap.slot === slot).map(({ kind, tap }) => [kind, tap.of])).toEqual([
      ['voice', 'source'],
      ['processed', 'processed'],
    ]);
  });

  it('says what was left out, and why', () => {
    const { tracks, leftOut } = chooseTracks(plan, compilePlan(plan), { ...choice, leftOut: { 'sounds:bed': 'rights' } });
    expect(tracks.map(({ recorded }) => recorded)).toEqual(['voice:maren', 'voice:odalys']);
    expect(leftOut).toEqual([{ recorded: 'sounds:bed', name: 'Bed', reason: 'rights' }]);
  });

  it('is found again by a desk that goes on; whose source is gone has no place', () => {
    const processed = setStrip(plan, voiceOf('odalys'), (strip) => withInsert(strip, 'compressor', { on: true }));
    const recorded = ['voice:odalys', 'processed:odalys', 'voice:maren', 'program'].map((one, k) => ({ id: String(k), recorded: one, channels: one === 'program' ? 2 : 1, format: 'pcm24' }) as const);
    const again = (using: typeof plan) => tracksAgain(recorded, using, compilePlan(using), { seats }).map(({ tap }) => [tap.of, tap.slot < 0 ? 'gone' : 'there']);
    expect(again(processed)).toEqual([
      ['source', 'there'],
      ['processed', 'there'],
      ['source', 'there'],
      ['listener', 'there'],
    ]);
    expect(again(withSeats(processed, [SEATS[0]])).slice(0, 2)).toEqual([
      ['listener', 'gone'],
      ['processed', 'gone'],
    ]);
  });
});
