/** `moment`: a day with its hour; `day`: without; `clock`: the hour to the second. */
export type MomentStyle = 'moment' | 'day' | 'clock';

const STYLES: Record<MomentStyle, Intl.DateTimeFormatOptions> = {
  moment: { day: 'numeric', month: 'long', year: 'numeric', hour: '2-digit', minute: '2-digit' },
  day: { day: 'numeric', month: 'long', year: 'numeric' },
  clock: { hour: '2-digit', minute: '2-digit', second: '2-digit' },
};
const formatters = new Map<string, Intl.DateTimeFormat>();

/**
 * The one way in which a moment is written: `7 March 2027 at 15:30`.
 * @param zone an IANA time zone; null for wherever this machine stands
 */
export function momentInWords(at: string | number, zone: string | null, style: MomentStyle = 'moment'): string {
  const key = `${style} ${zone}`;
  const formatter = formatters.get(key) ?? new Intl.DateTimeFormat('en-GB', { ...STYLES[style], timeZone: zone ?? undefined });
  formatters.set(key, formatter);
  return formatter.format(new Date(at));
}
