import { phonesOf, PROGRAM, returnOf, voiceOf } from '../ids';
import { listInWords, placeName } from '../names';
import { areOneCable, endsOf, hostOf, leaveTogether, pairsOf, seatOfReturn, takeTheSame, type WiredInput, type WiredOutlet, type Wiring } from '../wiring';
import type { HearingPlan } from '../plan';
import type { Finding, Fix, Mistake } from './finding';

/** What is wrong with what is plugged in where, each with what to pull. */
export function deviceFindings(plan: HearingPlan, wiring: Wiring): Finding[] {
  if (!wiring.known) return [];
  const { inputs, outlets, cameBack } = wiring;
  const host = hostOf(plan);
  const findings: Finding[] = [];
  const say = (mistake: Mistake, subject: string, path: string[], sentence: string, fixes: Fix[], urgent = true): void => {
    if (findings.some(({ key }) => key === `${mistake}/${subject}`)) return;
    findings.push({ key: `${mistake}/${subject}`, kind: 'device', mistake, urgent, sentence, path, gainDb: null, delayMs: null, fixes });
  };
  const name = (id: string): string => placeName(plan, id);

  for (const input of inputs) {
    for (const outlet of outlets) {
      if (!areOneCable(input, outlet, cameBack)) continue;
      const owner = seatOfReturn(plan, outlet.listener);
      const path = [outlet.listener, input.source];
      const subject = `${outlet.id}/${input.source}`;
      if (owner !== null && voiceOf(owner) === input.source) {
        say('both-ends-one-cable', input.source, path, `Both ends of ${name(input.source)}’s line are one cable, “${input.name}”: what we send comes straight back. The line is kept shut.`, [pull(plan, outlet), take(plan, input)]);
      } else if (owner !== null || outlet.listener === phonesOf(host)) {
        say('input-is-other-return', subject, path, `${name(input.source)} comes from “${input.name}”, which carries ${name(outlet.listener)}: that mix is heard as if ${name(input.source)} said it.`, [take(plan, input), pull(plan, outlet)]);
      } else {
        say('feed-into-input', subject, path, `${capital(name(outlet.listener))} leaves by “${outlet.name}”, which is where ${name(input.source)} comes from: the mix is fed back into itself.`, [pull(plan, outlet), take(plan, input)]);
      }
    }
  }
  for (const [a, b] of pairsOf(outlets)) {
    if (a.listener === b.listener || !leaveTogether(a, b)) continue;
    const owners = [a, b].map(({ listener }) => seatOfReturn(plan, listener));
    const phones = [a, b].find(({ listener }) => listener === phonesOf(host));
    const other = phones === a ? b : a;
    if (owners[0] !== null && owners[1] !== null) {
      const both = listInWords(owners.map((seat) => name(voiceOf(seat!))));
      say('one-output-two-returns', `${a.id}/${b.id}`, [a.listener, b.listener], `The returns of ${both} leave by one output, “${a.name}”: each hears both, and so themselves.`, [pull(plan, b), pull(plan, a)]);
    } else if (phones && seatOfReturn(plan, other.listener) !== null) {
      say('return-at-own-phones', other.id, [other.listener, phones.listener], `${capital(name(other.listener))} leaves by “${other.name}”, where your own phones are: you hear it doubled, and ${name(voiceOf(seatOfReturn(plan, other.listener)!))} hears nobody.`, [pull(plan, other)]);
    } else {
      say('two-mixes-one-output', `${a.id}/${b.id}`, [a.listener, b.listener], `${capital(name(a.listener))} and ${name(b.listener)} leave by one output, “${a.name}”, and meet there.`, [pull(plan, b), pull(plan, a)]);
    }
  }
  for (const [a, b] of pairsOf(inputs)) {
    if (a.source === b.source || !takeTheSame(a, b)) continue;
    say('input-used-twice', `${a.source}/${b.source}`, [a.source, b.source], `${name(a.source)} and ${name(b.source)} come from the same input, “${a.name}”: all of it is heard twice, and each hears themselves as the other.`, [take(plan, b), take(plan, a)]);
  }
  const phones = outlets.find(({ listener, loudspeakers }) => listener === phonesOf(host) && loudspeakers);
  if (phones && inputs.some(({ source }) => source === voiceOf(host))) {
    say('phones-on-loudspeakers', host, [phonesOf(host), voiceOf(host)], `Your phones are “${phones.name}”, loudspeakers by their name, and your microphone is open: everybody would hear themselves.`, [pull(plan, phones)]);
  }
  for (const seat of plan.seats) {
    if (seat.line !== 'pair' || seat.role === 'host') continue;
    const ends = endsOf(wiring, seat);
    if (ends.input === ends.output) continue;
    const missing = ends.input ? `an input only: ${seat.name} hears nobody` : `an output only: nobody hears ${seat.name}`;
    say('one-end-only', seat.id, [returnOf(seat.id), voiceOf(seat.id)], `${seat.name}’s line has ${missing}. Choose its other device in Prepare.`, []);
  }
  return findings;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

const pull = (plan: HearingPlan, outlet: WiredOutlet): Fix => ({
  label: `Unplug ${outlet.listener === PROGRAM ? 'the program' : placeName(plan, outlet.listener)} from “${outlet.name}”`,
  effect: `It no longer leaves by that output; everybody else hears what they heard before.`,
  changes: [],
  wiring: [{ type: 'unplug-outlet', id: outlet.id }],
});

const take = (plan: HearingPlan, input: WiredInput): Fix => ({
  label: `Unplug ${placeName(plan, input.source)} from “${input.name}”`,
  effect: `${placeName(plan, input.source)} is silent until you choose another input; the track goes on.`,
  changes: [],
  wiring: [{ type: 'unplug-input', source: input.source }],
});
