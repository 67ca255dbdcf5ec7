/** Small things that this browser remembers. Where it keeps nothing they hold until the page goes. */

/** What is kept under a name; null where nothing is. */
export const kept = (name: string): string | null => {
  try {
    return localStorage.getItem(name);
  } catch {
    return null;
  }
};

/** Keeps a text under a name, or forgets it (null). */
export const keptAs = (name: string, text: string | null): void => {
  try {
    if (text === null) localStorage.removeItem(name);
    else localStorage.setItem(name, text);
  } catch {
    // Nothing is kept here.
  }
};

/** What is kept under a name as JSON; undefined where nothing is, or something else. */
export const keptJson = (name: string): unknown => {
  try {
    return JSON.parse(kept(name) ?? 'null') ?? undefined;
  } catch {
    return undefined;
  }
};
