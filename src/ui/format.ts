const MINUS = '\u2212';

/** `−6 dB`, `+2.5 dB`, `0 dB`; whole or half steps. Silence is a dash. */
export function formatDb(db: number, unit = ' dB'): string {
  if (!Number.isFinite(db)) return `\u2013${unit}`;
  const rounded = Math.round(db * 2) / 2;
  const sign = rounded < 0 ? MINUS : rounded > 0 ? '+' : '';
  return `${sign}${Math.abs(rounded)}${unit}`;
}

/** A level that is never positive by intent: no plus sign, whole numbers. */
export function formatLevel(db: number): string {
  if (!Number.isFinite(db) || db < -70) return '\u2013';
  const rounded = Math.round(db);
  return `${rounded < 0 ? MINUS : ''}${Math.abs(rounded)}`;
}

/** `0:42`, `12:05`, `1:02:03` */
export function formatDuration(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  const two = (value: number) => String(value).padStart(2, '0');
  const hours = Math.floor(whole / 3600);
  const minutes = Math.floor(whole / 60) % 60;
  return hours > 0 ? `${hours}:${two(minutes)}:${two(whole % 60)}` : `${minutes}:${two(whole % 60)}`;
}

/** `00:12:47`, for the recording clock. */
export function formatClock(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  return [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60]
    .map((value) => String(value).padStart(2, '0'))
    .join(':');
}

/** `1.4 GB` */
export function sizeInWords(bytes: number): string {
  const [divisor, unit] = bytes >= 1e9 ? [1e9, 'GB'] : bytes >= 1e6 ? [1e6, 'MB'] : [1e3, 'kB'];
  return `${(bytes / divisor).toFixed(bytes / divisor < 10 ? 1 : 0)} ${unit}`;
}

export const dropOutsInWords = (count: number): string => (count === 1 ? '1 drop-out' : `${count} drop-outs`);
