/** Answers in words short enough to be read in a change, each with a number that stands for all of it. */
import { pitchName } from '../../reading/noteWords.js';
import type { StepNote } from '../../reading/stepNote.js';
import type { StepResult } from '../../steps/step.js';

/** A short hash of any text (FNV-1a, Fowler, Noll and Vo), for seeing that something changed. */
export const hashOf = (text: string): string => {
  let hash = 0x811c9dc5;
  for (let at = 0; at < text.length; at += 1) hash = Math.imul(hash ^ text.charCodeAt(at), 0x01000193) >>> 0;
  return hash.toString(16).padStart(8, '0');
};

const noteInWords = ({ pitch, onset, duration, velocity }: StepNote): string =>
  `${pitchName(pitch)} ${onset}+${duration} v${velocity}`;

/** What a step did: how many notes, the first of them with its reason, and a hash of all. */
export const resultInWords = ({ notes, changes, remarks = [], notice, picked, follows }: StepResult): string => {
  const [first] = changes;
  const example = first
    ? `${noteInWords(first.from)} → ${first.to ? noteInWords(first.to) : 'out'} (${first.reason})`
    : 'nothing';
  const said = [remarks.length > 0 ? `${remarks.length} remarks` : '', notice ?? ''].filter(Boolean).join('; ');
  const hash = hashOf(JSON.stringify([notes, changes, remarks, picked, follows]));
  return `${changes.length}: ${example}${said ? ` | ${said}` : ''} #${hash}`;
};
