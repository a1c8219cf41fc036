import { isClosed, type InsertName, type StripSettings } from './settings';

const minus = (db: number): string => (db < 0 ? `−${-db}` : `${db}`);

/** What each insert that is on does, in a few words. */
const SAID: { [Name in InsertName]: (settings: StripSettings[Name]) => string } = {
  lowCut: ({ hz }) => `cut below ${hz} Hz`,
  noise: () => 'noise suppressed',
  gate: ({ rangeDb }) => `pauses ${minus(-rangeDb)} dB`,
  equaliser: () => 'tone shaped',
  compressor: ({ ratio, makeUpDb }) => `evened out ${ratio} : 1${makeUpDb > 0 ? `, ${makeUpDb} dB louder` : ''}`,
  deEsser: () => 'sharp s softened',
  limiter: ({ ceilingDb }) => `peaks under ${minus(ceilingDb)} dB`,
};

/** What is done to a voice, in words: `cut below 80 Hz, evened out 3 : 1`. */
export function stripInWords(strip: StripSettings): string {
  if (isClosed(strip)) return 'as it comes';
  const say = <Name extends InsertName>(name: Name): string[] => (strip[name].on ? [SAID[name](strip[name])] : []);
  return [...say('lowCut'), ...say('noise'), ...say('gate'), ...say('equaliser'), ...say('compressor'), ...say('deEsser'), ...say('limiter')].join(', ');
}
