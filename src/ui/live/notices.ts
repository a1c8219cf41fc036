import { voiceOf, type ListenerId } from '@/core/hearing/ids';
import { listInWords, placeName } from '@/core/hearing/names';
import { listenersOf, type HearingPlan } from '@/core/hearing/plan';
import type { DeskSession } from '@/live/desk/desk-session';
import type { DeskState, OpenTake } from '@/live/desk/desk-state';
import { airNotices } from '../air/air-notices';
import { formatDb, formatDuration } from '../format';
import { echoNotices, saidByEchoes } from './echo-notices';
import { lineNotices } from './line-notices';
import { sayTheSame, type Notice } from './notice';
import { outletNotices } from './outlet-notices';

/**
 * What the watch says of the desk's state. Levels, delays and counts change several times a second and the watch rarely: as long as
 * it says and does the same it is the same array, and nothing is drawn.
 */
export function watchOf(desk: DeskSession): (state: DeskState) => Notice[] {
  let before: { state: DeskState; notices: Notice[] } | null = null;
  return (state) => {
    if (before?.state === state) return before.notices;
    const notices = noticesOf(desk, state);
    // What an action does depends on the plan and what the audit says of it, and on nothing else that is not in its words.
    const same = before !== null && before.state.plan === state.plan && before.state.audit === state.audit && sayTheSame(before.notices, notices);
    before = { state, notices: same ? before!.notices : notices };
    return before.notices;
  };
}

function whoseMix(plan: HearingPlan, listener: ListenerId): string {
  const borrowed = listenersOf(plan).find(({ id }) => id === listener);
  return borrowed?.kind === 'return' ? `what ${borrowed.name} hears` : placeName(plan, listener);
}

function keptInWords({ kept }: OpenTake): string {
  if (!kept) return 'What reached the server is safe; seal it to listen and download.';
  if (kept.phase === 'sending') return 'What this computer kept of it is being sent to the server …';
  return `This computer kept it, ${formatDuration(kept.lengthSamples / 48000)} from its beginning. Seal it, or go on with it while the call runs: the time between is listed as a gap.`;
}

/** Voices that are in the plan and neither recorded, nor about to be, nor left out: `Runa is`; empty for nobody. */
function unrecordedInWords({ recording, seats, call }: DeskState): string {
  if (!recording || recording.phase === 'starting' || call !== 'running') return '';
  const accounted = new Set([...recording.recorded, ...recording.coming, ...recording.leftOut.map(({ recorded }) => recorded)]);
  const missing = seats.filter(({ id, role }) => role !== 'producer' && !accounted.has(voiceOf(id))).map(({ name }) => name);
  return missing.length === 0 ? '' : `${listInWords(missing)} ${missing.length === 1 ? 'is' : 'are'}`;
}

/** Everything that needs the host now. */
function noticesOf(desk: DeskSession, state: DeskState): Notice[] {
  const { call, soundStopped, share, onAir, conditions, openTake, planSaving, lastTake, plan, audit, seats, lines, observations } = state;
  const unrecorded = unrecordedInWords(state);
  const notices: Notice[] = conditions.map(({ key, words }) => ({
    key: `condition-${key}`,
    urgent: true,
    words,
    action: { label: 'Dismiss', run: () => desk.dismiss(key) },
  }));
  if (call === 'blocked') {
    notices.push({
      key: 'blocked',
      urgent: true,
      words: 'The call waits: the browser lets no sound out until you press a button, or until a slow device has opened.',
      action: { label: 'Let the sound in', run: () => void desk.startCall() },
    });
  }
  if (soundStopped) {
    notices.push({
      key: 'sound-stopped',
      urgent: true,
      words: 'The browser has stopped the sound: nobody hears anybody through this desk, and nothing is recorded.',
      action: { label: 'Let the sound go on', run: () => void desk.letSoundOn() },
    });
  }
  if (unrecorded !== '') notices.push({ key: 'unrecorded', urgent: true, words: `${unrecorded} on no track of this take. Stop recording and begin another take to have everybody on it.` });
  notices.push(...lineNotices(desk, seats, lines, plan), ...echoNotices(desk, state), ...outletNotices(desk, plan, state.plugged.outlets), ...airNotices(state.air.broadcasts));
  if (share?.phase === 'held' && share.loop) {
    const { delayMs, gainDb } = share.loop;
    notices.push({
      key: 'share-loop',
      urgent: true,
      words: `What you share contains this call: it comes back ${Math.round(delayMs)} ms late at ${formatDb(gainDb)}. It is kept out of every mix, so nobody hears themselves. Share one tab without this call instead of the whole computer.`,
      action: { label: 'Stop sharing', name: 'Stop the share that contains the call', run: () => desk.share.stop() },
      more: { label: 'Let it through all the same', run: () => desk.share.letThrough() },
    });
  }
  const { listenTo } = onAir;
  if (listenTo) {
    const whose = 'source' in listenTo ? `${placeName(plan, listenTo.source)} alone, before the fader` : whoseMix(plan, listenTo.listener);
    notices.push({
      key: 'hear-as',
      urgent: false,
      words: `You hear ${whose}, not your own mix.`,
      action: { label: 'Back to my mix', run: () => desk.hands.hearAs(null) },
    });
  }
  const said = saidByEchoes(observations, state.echoes);
  for (const finding of audit.findings.filter(({ key, urgent, mistake }) => urgent && !said.has(key) && plan.accepted[key] === undefined && !(share?.phase === 'held' && mistake === 'share-contains-call'))) {
    const [fix] = finding.fixes;
    notices.push({
      key: finding.key,
      urgent: true,
      words: finding.noted ? `${finding.sentence} (Noted, not measured.)` : finding.sentence,
      action: fix && { label: fix.label, run: () => desk.mend(fix) },
    });
  }
  if (planSaving === 'failed') {
    notices.push({ key: 'unsaved', urgent: true, words: 'Changes to the hearing plan are not kept yet: the server cannot be reached. They are tried again.' });
  }
  if (openTake) {
    notices.push({
      key: 'open-take',
      urgent: true,
      words: `Take ${openTake.number} was left open. ${keptInWords(openTake)}`,
      action: openTake.kept?.phase === 'sending' ? undefined : { label: `Seal take ${openTake.number}`, run: () => void desk.recording.openTake.seal() },
      more: openTake.kept?.phase === 'sent' && call === 'running' ? { label: `Go on with take ${openTake.number}`, run: () => desk.goOnWithTake() } : undefined,
    });
  }
  if (lastTake && lastTake.lostSamples > 0) {
    notices.push({
      key: 'lost',
      urgent: true,
      words: `Take ${lastTake.number} misses ${formatDuration(lastTake.lostSamples / 48000)}: this machine was too busy. The gaps are listed with the take.`,
    });
  }
  return notices;
}
