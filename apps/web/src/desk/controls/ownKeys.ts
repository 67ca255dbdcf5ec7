/** What has its keys to itself while letters are notes: fields, lists that are open, the table, lanes. */
const OWN_KEYS = 'input, textarea, select, [role="dialog"], [role="menu"], [role="grid"], [id^="lane-"]';

/** True where a key is not for the notes: it has a modifier, or the focus is in what takes keys itself. */
export const isElsewhere = (event: KeyboardEvent): boolean =>
  event.ctrlKey || event.metaKey || event.altKey || (event.target as Element | null)?.closest?.(OWN_KEYS) != null;
