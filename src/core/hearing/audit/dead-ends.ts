import { compilePlan, compiledGain } from '../compile';
import type { ListenerId, SourceId } from '../ids';
import { listenerName } from '../names';
import { exceptionAt, operandFor, ruleSays } from '../operands';
import { listenersOf, sourceSettings, sourcesOf, type HearingPlan } from '../plan';
import type { Wiring } from '../wiring';
import type { Finding, Fix, Mistake } from './finding';

/** What leads nowhere: sources nobody hears, listeners who hear nothing, exceptions without effect. */
export function deadEnds(plan: HearingPlan, { outlets }: Pick<Wiring, 'outlets'>): Finding[] {
  const compiled = compilePlan(plan);
  const sources = sourcesOf(plan);
  const listeners = listenersOf(plan);
  const findings: Finding[] = [];
  const say = (mistake: Mistake, subject: string, urgent: boolean, sentence: string, fixes: Fix[]) =>
    findings.push({ key: `${mistake}/${subject}`, kind: 'dead-end', mistake, urgent, sentence, path: [], gainDb: null, delayMs: null, fixes });

  for (const source of sources) {
    if (source.kind === 'talkback') continue;
    if (source.kind === 'voice' && plan.waiting.includes(source.seat.id)) continue;
    const heardBy = listeners.filter(({ id }) => compiledGain(compiled, source.id, id) > 0);
    const isCaller = source.kind === 'voice' && source.seat.role === 'caller';
    const people = heardBy.filter(({ kind }) => kind === 'phones' || kind === 'return');
    if (heardBy.length === 0 && !isCaller) {
      say('nobody-hears-source', source.id, false, `Nobody hears ${source.name}.`, [lightAgain(source.id, source.name)]);
    } else if (isCaller && people.length === 0) {
      const where = heardBy.length > 0 ? ' in the call' : '';
      say('nobody-hears-caller', source.id, true, `Nobody hears ${source.name}${where}, who believes to be heard.`, [lightAgain(source.id, source.name)]);
    }
  }
  for (const listener of listeners) {
    if (listener.kind === 'return' && plan.waiting.includes(listener.seat.id)) continue;
    const hears = sources.some(({ id }) => compiledGain(compiled, id, listener.id) > 0);
    if (hears) continue;
    const isCaller = listener.kind === 'return';
    const mistake = isCaller ? 'caller-hears-nobody' : 'listener-hears-nothing';
    const sentence = isCaller ? `${listener.name} hears nobody.` : `Nothing is sent to ${listenerName(listener)}.`;
    say(mistake, listener.id, isCaller, sentence, [
      {
        label: `Give ${listenerName(listener)} back to the rule`,
        effect: `${listener.name} hears everybody else and the sounds again.`,
        changes: [
          { type: 'back-to-rule', source: null, listener: listener.id },
          { type: 'listener', listener: listener.id, settings: { rule: 'everyone-and-sounds' } },
        ],
      },
    ]);
  }
  for (const feed of plan.feeds) {
    const id: ListenerId = `feed:${feed.id}`;
    if (plan.couplings.some(({ from }) => from === id) || outlets.some(({ listener }) => listener === id)) continue;
    say('listener-no-way-out', id, false, `The feed “${feed.name}” leaves the desk nowhere; it is only recorded, with the mixes. Give it an outlet in Prepare.`, [
      { label: 'Remove the feed', effect: 'Nobody hears a difference.', changes: [{ type: 'remove-feed', feed: feed.id }] },
    ]);
  }
  return [...findings, ...idleExceptions(plan)];
}

/** Everything that keeps a source dark, undone: its switch, its kinds, its exceptions. */
function lightAgain(source: SourceId, name: string): Fix {
  return {
    label: `Let everybody hear ${name}`,
    effect: `${name} is heard again by everybody whose rule says so.`,
    changes: [
      { type: 'source', source, settings: { on: true, offIn: [] } },
      { type: 'back-to-rule', source, listener: null },
    ],
  };
}

/** Exceptions that say what the rule says, or that a switched-off source keeps from being heard. */
function idleExceptions(plan: HearingPlan): Finding[] {
  return listenersOf(plan).flatMap((listener) =>
    sourcesOf(plan).flatMap((source): Finding[] => {
      const operand = operandFor(source, listener);
      const exception = exceptionAt(plan, listener.id, source.id);
      if (!operand || !exception) return [];
      const rule = ruleSays(plan, operand);
      const same = exception.open === rule.open && (!exception.open || exception.gainDb === rule.gainDb);
      const { on, offIn } = sourceSettings(plan, source.id);
      const hidden = exception.open && (!on || offIn.includes(listener.kind));
      if (!same && !hidden) return [];
      const why = same ? 'says what the rule says' : `has no effect while ${source.name} is off there`;
      return [
        {
          key: `idle-exception/${source.id}/${listener.id}`,
          kind: 'dead-end',
          mistake: 'idle-exception',
          urgent: false,
          sentence: `The change by hand of ${source.name} in ${listenerName(listener)} ${why}.`,
          path: [source.id, listener.id],
          gainDb: null,
          delayMs: null,
          fixes: [giveBack(source.id, listener.id)],
        },
      ];
    }),
  );
}

const giveBack = (source: SourceId, listener: ListenerId): Fix => ({
  label: 'Give it back to the rule',
  effect: 'Nobody hears a difference.',
  changes: [{ type: 'back-to-rule', source, listener }],
});
