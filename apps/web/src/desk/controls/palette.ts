/** The theme's colours as the canvas needs them. */

import { useMemo, useSyncExternalStore } from 'react';
import { currentTheme, subscribeTheme } from '../../browser/theme.js';

/** Colours by role. */
export interface Palette {
  readonly sheet: string;
  readonly shade: string;
  readonly ink: string;
  readonly soft: string;
  readonly rule: string;
  readonly strong: string;
  readonly fold: string;
  readonly selected: string;
}

const ROLES = {
  sheet: '--sheet',
  shade: '--sheet-shade',
  ink: '--ink',
  soft: '--ink-soft',
  rule: '--rule',
  strong: '--rule-strong',
  fold: '--fold',
  selected: '--selected',
} as const;

/** Reads the palette in force. */
const readPalette = (): Palette => {
  const style = getComputedStyle(document.documentElement);
  return Object.fromEntries(
    Object.entries(ROLES).map(([role, name]) => [role, style.getPropertyValue(name).trim()]),
  ) as unknown as Palette;
};

/** The palette in force, read anew when the theme turns. */
export const usePalette = (): Palette => {
  const theme = useSyncExternalStore(subscribeTheme, currentTheme);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme decides what is read
  return useMemo(readPalette, [theme]);
};
