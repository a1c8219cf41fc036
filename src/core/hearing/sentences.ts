import { heardAt } from './compile';
import { dbInWords, listenerName, listInWords, personInWords } from './names';
import { NOTHING_ON_AIR, type OnAir } from './on-air';
import { placeNow, whoWaits, type PlaceState } from './place-now';
import { exceptionAt, isOwnVoice, operandFor, ruleSays } from './operands';
import { listenersOf, sourcesOf, type HearingPlan, type HearingRule, type Listener, type Seat, type Source } from './plan';

/** The rules as a host chooses them. */
export const RULE_IN_WORDS: Record<HearingRule, string> = {
  'everyone-and-sounds': 'Everybody else and the sounds',
  everyone: 'Everybody else',
  'host-and-sounds': 'The host and the sounds',
  host: 'The host only',
  'own-choice': 'Own choice',
};

/** `Odalys hears Maren and Tomasz, Priya at −3 dB, the sounds at −6 dB; never herself.` */
export function hearsSentence(plan: HearingPlan, listener: Listener, onAir: OnAir = NOTHING_ON_AIR): string {
  const listeners = listenersOf(plan);
  const heard = sourcesOf(plan).flatMap((source): Heard[] => {
    const db = heardAt(plan, onAir, source, listener, listeners);
    return db === null ? [] : [{ name: sourceInWords(source), db }];
  });
  const who = listener.kind === 'phones' ? `${listener.name}’s phones` : listener.kind === 'return' ? personInWords(listener.seat) : capital(listenerName(listener));
  const verb = listener.kind === 'phones' ? 'carry' : listener.kind === 'return' ? (listener.seat.people ? 'hear' : 'hears') : 'carries';
  const never = listener.kind === 'return' ? neverInWords(listener.seat) : '';
  if (heard.length === 0) return `${who} ${verb} nothing${never}.`;
  return `${who} ${verb} ${withLevels(heard)}${never}.`;
}

/** `Priya is heard by Maren, Odalys at −3 dB and the program.` */
export function heardBySentence(plan: HearingPlan, source: Source, onAir: OnAir = NOTHING_ON_AIR): string {
  const listeners = listenersOf(plan);
  const heard = listeners.flatMap((listener): Heard[] => {
    const db = heardAt(plan, onAir, source, listener, listeners);
    const name = listener.kind === 'phones' || listener.kind === 'return' ? listener.name : listenerName(listener);
    return db === null ? [] : [{ name, db }];
  });
  if (heard.length === 0) return `Nobody hears ${sourceInWords(source)}.`;
  const verb = source.kind === 'voice' && source.seat.people ? 'are' : 'is';
  return `${capital(sourceInWords(source))} ${verb} heard by ${withLevels(heard)}.`;
}

/** One crosspoint: what it does, and whether a rule or a hand says so. */
export function crosspointSentence(plan: HearingPlan, source: Source, listener: Listener, onAir: OnAir = NOTHING_ON_AIR): string {
  if (isOwnVoice(source, listener)) return `${source.name}’s own voice has no place in ${source.name}’s return.`;
  const operand = operandFor(source, listener);
  if (!operand) return `${source.name} is private and stays out of ${listenerName(listener)}.`;
  const { state, gainDb } = placeNow(plan, onAir, source, listener, listenersOf(plan));
  const rule = ruleSays(plan, operand);
  const why = exceptionAt(plan, listener.id, source.id)
    ? `changed by hand; the rule says ${rule.open ? '0 dB' : 'closed'}`
    : 'as the rule says';
  const name = capital(sourceInWords(source));
  const where = listenerName(listener);
  if (state === 'lit') return `${name} is heard at ${dbInWords(gainDb)} in ${where}, ${why}.`;
  if (state === 'dark') return `${name} is not heard in ${where}, ${why}.`;
  return `${name} is not heard in ${where} now: ${reasonInWords(plan, state, source, listener)}. The lamp stays set to ${dbInWords(gainDb)}, ${why}.`;
}

/** Why a place that the plan has open is not heard now. */
function reasonInWords(plan: HearingPlan, state: PlaceState, source: Source, listener: Listener): string {
  switch (state) {
    case 'held':
      return `${sourceInWords(source)} is kept out of every mix`;
    case 'waiting':
      return `${whoWaits(plan, source, listener)} is waiting to be let in`;
    case 'coughed':
      return `${source.name} is muted by the cough key`;
    case 'off':
      return `${sourceInWords(source)} is switched off`;
    case 'kept-out':
      return `${sourceInWords(source)} is kept out of ${KIND_IN_WORDS[listener.kind]}`;
    default:
      return 'these phones carry something else for the moment';
  }
}

const KIND_IN_WORDS: Record<Listener['kind'], string> = { phones: 'your phones', return: 'all returns', program: 'the program', feed: 'the feeds' };


interface Heard {
  name: string;
  db: number;
}

/** Those at 0 dB first, without a number; the others with theirs. */
function withLevels(heard: readonly Heard[]): string {
  const plain = heard.filter(({ db }) => Math.round(db) === 0).map(({ name }) => name);
  const levelled = heard.filter(({ db }) => Math.round(db) !== 0).map(({ name, db }) => `${name} at ${dbInWords(db)}`);
  return listInWords([...plain, ...levelled]);
}

function sourceInWords(source: Source): string {
  return source.kind === 'sounds' || source.kind === 'share' ? `the ${source.name.toLowerCase()}` : source.kind === 'voice' ? personInWords(source.seat) : source.name;
}

/** `; never herself`; of several people on one line, that they hear each other there. */
const neverInWords = ({ people, reflexive }: Seat): string => (people ? '; each other in their own program, never from here' : `; never ${reflexive}`);

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
