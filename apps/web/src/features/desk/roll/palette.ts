/** The theme's colours as the canvas needs them. */

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
export const readPalette = (): Palette => {
  const style = getComputedStyle(document.documentElement);
  return Object.fromEntries(
    Object.entries(ROLES).map(([role, name]) => [role, style.getPropertyValue(name).trim()]),
  ) as unknown as Palette;
};
