/** Light or dark: the person's choice, else the system's. */

const KEY = 'crispfold-theme';

/** The theme in force. */
export type Theme = 'light' | 'dark';

const listeners = new Set<() => void>();

export const currentTheme = (): Theme => (document.documentElement.dataset.theme === 'dark' ? 'dark' : 'light');

/** Applies the stored theme, or the system's where none is stored. */
export const applyStoredTheme = (): void => {
  const stored = localStorage.getItem(KEY);
  const system = matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
  document.documentElement.dataset.theme = stored === 'dark' || stored === 'light' ? stored : system;
};

/** Turns to the other theme and remembers it. */
export const toggleTheme = (): void => {
  const theme = currentTheme() === 'dark' ? 'light' : 'dark';
  localStorage.setItem(KEY, theme);
  document.documentElement.dataset.theme = theme;
  for (const listener of listeners) listener();
};

/** For useSyncExternalStore: canvases repaint when the theme turns. */
export const subscribeTheme = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};
