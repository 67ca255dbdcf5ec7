/** The settings of a part as they stand in its panel, before they are taken. No browser here. */

import { instrumentById, type Part, type PartStart, partStart } from '@crispfold/core';
import { GUESSED } from '../../controls/guessed.js';

/** What is set in the panel. */
export interface PartDraft {
  readonly name: string;
  readonly instrument: string;
  /** 0 to 15. */
  readonly channel: number;
  /** What the part starts with, where it was changed: null says no value. */
  readonly start: Partial<PartStart>;
}

/** A part's settings as they are. */
export const draftOf = ({ name, instrument, channel }: Part): PartDraft => ({ name, instrument, channel, start: {} });

/** What the part would start with. */
export const startOf = (part: Part, { start }: PartDraft): PartStart => ({ ...partStart(part), ...start });

/** Another instrument, with its own program where the one that is set is not among those it has. */
export const withInstrument = (draft: PartDraft, part: Part, instrument: string): PartDraft => {
  const { programs } = instrumentById(instrument);
  const [own] = programs;
  const fits = own === undefined || programs.includes(startOf(part, draft).program ?? -1);
  return { ...draft, instrument, start: fits ? draft.start : { ...draft.start, program: own } };
};

/** Why it is written for this instrument, and what the file called it. */
export const whyInstrument = (part: Part, { instrument }: PartDraft): string => {
  const guessed = instrument === part.instrument && part.instrumentFrom ? GUESSED[part.instrumentFrom] : null;
  const called = part.trackName ? `; the file calls it “${part.trackName}”` : '';
  return (guessed ?? 'chosen by you') + called;
};

/** Parts that share the channel, in words; null where none does. */
export const sharedWith = (others: readonly string[]): string | null => {
  if (others.length === 0) return null;
  const more = others.length > 3 ? ` and ${others.length - 3} more` : '';
  return `shared with ${others.slice(0, 3).join(', ')}${more}: program and controllers are one`;
};
