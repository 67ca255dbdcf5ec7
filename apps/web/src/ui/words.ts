/** Numbers and times in words. */

/** Kept: making one takes many times as long as writing a number with it. */
const NUMBER = new Intl.NumberFormat('en');

/** "14", "1,400". */
export const grouped = (count: number): string => NUMBER.format(count);

/** "1 note", "14 notes". */
export const counted = (count: number, one: string, many = `${one}s`): string =>
  `${grouped(count)} ${count === 1 ? one : many}`;

/** Seconds as "1:38". */
export const clock = (seconds: number): string => {
  const whole = Math.floor(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
};

/** When something was changed, near or far: "just now", "12 minutes ago", "3 Nov 2026". */
export const sinceWhen = (iso: string, now = Date.now()): string => {
  const minutes = Math.round((now - Date.parse(iso)) / 60_000);
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${counted(minutes, 'minute')} ago`;
  if (minutes < 24 * 60) return `${counted(Math.round(minutes / 60), 'hour')} ago`;
  return new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
};

const LIST = new Intl.ListFormat('en', { type: 'conjunction' });

/** Names in a row: "Kick, Snare, and Hats". */
export const listed = (names: readonly string[]): string => LIST.format(names);
