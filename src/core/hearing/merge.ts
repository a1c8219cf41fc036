import { dbInWords, listenerName } from './names';
import { exceptionAt, operandFor } from './operands';
import { listenerSettings, listenersOf, sourceSettings, sourcesOf, type HearingPlan } from './plan';
import { stripInWords } from '../strip/words';
import { stripOf } from './processing';
import { RULE_IN_WORDS } from './sentences';

/**
 * Two plans that were both made from `base`, as one: what only one side changed is taken from that
 * side; where both changed the same thing, `mine` stays.
 */
export function mergePlans(base: HearingPlan, mine: HearingPlan, theirs: HearingPlan): HearingPlan {
  const exceptions: HearingPlan['exceptions'] = {};
  for (const { id } of [...listenersOf(theirs), ...listenersOf(mine)]) {
    const row = mergeRecords(base.exceptions[id] ?? {}, mine.exceptions[id] ?? {}, theirs.exceptions[id] ?? {});
    if (Object.keys(row).length > 0) exceptions[id] = row;
  }
  return {
    seats: pick(base.seats, mine.seats, theirs.seats),
    players: pick(base.players, mine.players, theirs.players),
    shares: pick(base.shares, mine.shares, theirs.shares),
    inputs: mergeLists(base.inputs, mine.inputs, theirs.inputs, ({ id }) => id),
    feeds: mergeLists(base.feeds, mine.feeds, theirs.feeds, ({ id }) => id),
    groups: mergeLists(base.groups, mine.groups, theirs.groups, ({ id }) => id),
    waiting: mergeLists(base.waiting, mine.waiting, theirs.waiting, (id) => id),
    couplings: mergeLists(base.couplings, mine.couplings, theirs.couplings, ({ id }) => id),
    sources: mergeRecords(base.sources, mine.sources, theirs.sources),
    ducking: mergeRecords(base.ducking, mine.ducking, theirs.ducking),
    processing: mergeRecords(base.processing, mine.processing, theirs.processing),
    listeners: mergeRecords(base.listeners, mine.listeners, theirs.listeners),
    accepted: mergeRecords(base.accepted, mine.accepted, theirs.accepted),
    exceptions,
  };
}

/** Levels are set in steps of this. */
const SET_IN_DB = 0.5;

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

const pick = <Value>(base: Value, mine: Value, theirs: Value): Value => (same(base, mine) ? theirs : mine);

function mergeRecords<Row extends Partial<Record<string, unknown>>>(base: Row, mine: Row, theirs: Row): Row {
  const merged: Partial<Record<string, unknown>> = {};
  for (const key of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
    const value = pick(base[key], mine[key], theirs[key]);
    if (value !== undefined) merged[key] = value;
  }
  return merged as Row;
}

function mergeLists<Entry>(base: Entry[], mine: Entry[], theirs: Entry[], keyOf: (entry: Entry) => string): Entry[] {
  const find = (list: Entry[], key: string) => list.find((entry) => keyOf(entry) === key);
  const keys = [...new Set([...theirs, ...mine].map(keyOf))];
  return keys.flatMap((key) => {
    const value = pick(find(base, key), find(mine, key), find(theirs, key));
    return value === undefined ? [] : [value];
  });
}

/** What is different in a plan, in a few words each: `Priya in Odalys’s return: −3 dB`. */
export function differences(before: HearingPlan, after: HearingPlan): string[] {
  const said: string[] = [];
  for (const source of sourcesOf(after)) {
    const [was, is] = [sourceSettings(before, source.id), sourceSettings(after, source.id)];
    if (was.on !== is.on) said.push(`${source.name}: ${is.on ? 'on' : 'off'}`);
    if (was.trimDb !== is.trimDb) said.push(`${source.name}: gain ${dbInWords(is.trimDb, SET_IN_DB)}`);
    if (!same(before.ducking[source.id], after.ducking[source.id])) said.push(`${source.name}: how it goes under the voices`);
    if (!same(before.processing[source.id], after.processing[source.id])) said.push(`${source.name}: ${stripInWords(stripOf(after, source.id))}`);
    if (was.offsetMs !== is.offsetMs) said.push(`${source.name}: ${is.offsetMs} ms later`);
    if (was.balance !== is.balance || !same(was.offIn, is.offIn)) said.push(`${source.name}: where it is heard`);
    for (const listener of listenersOf(after)) {
      const [old, now] = [exceptionAt(before, listener.id, source.id), exceptionAt(after, listener.id, source.id)];
      if (!operandFor(source, listener) || same(old, now)) continue;
      const words = !now ? 'as the rule says' : now.open ? dbInWords(now.gainDb, SET_IN_DB) : 'closed';
      said.push(`${source.name} in ${listenerName(listener)}: ${words}`);
    }
  }
  for (const listener of listenersOf(after)) {
    const [was, is] = [listenerSettings(before, listener.id), listenerSettings(after, listener.id)];
    if (was.rule !== is.rule) said.push(`${listenerName(listener)}: ${RULE_IN_WORDS[is.rule].toLowerCase()}`);
    if (was.levelDb !== is.levelDb) said.push(`${listenerName(listener)}: level ${dbInWords(is.levelDb, SET_IN_DB)}`);
    if (was.asTheyCome !== is.asTheyCome) said.push(`${listenerName(listener)}: voices ${is.asTheyCome ? 'as they come in' : 'through their strips'}`);
  }
  if (!same(before.couplings, after.couplings)) said.push('what happens outside the desk');
  if (!same(before.waiting, after.waiting)) said.push('who waits');
  if (!same(before.inputs, after.inputs)) said.push('the inputs');
  if (!same(before.feeds, after.feeds)) said.push('the feeds');
  if (!same(before.groups, after.groups)) said.push('the groups to talk to');
  if (!same(before.players, after.players)) said.push('the players');
  if (!same(before.shares, after.shares)) said.push('what is shared');
  if (!same(before.accepted, after.accepted)) said.push('what is intended');
  return said;
}
