/** Light or dark: the person's choice, else the system's. What is in force stands on the page itself. */
const KEY = 'crispfold-theme';
/** Told on the page when it turns. */
const TURNED = 'crispfold-theme-turned';

/** The theme in force. */
export type Theme = 'light' | 'dark';

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
  document.dispatchEvent(new Event(TURNED));
};

/** For useSyncExternalStore: canvases repaint when the theme turns. */
export const subscribeTheme = (listener: () => void): (() => void) => {
  document.addEventListener(TURNED, listener);
  return () => document.removeEventListener(TURNED, listener);
};
