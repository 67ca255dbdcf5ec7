/** Every check. Adding one means one file (or one export) and one line here. */
import { type Arrangement, compareNotes, type Part } from '../model/arrangement.js';
import { playedContext } from '../plan/context.js';
import type { Written } from '../plan/written.js';
import { pickup } from './barLines.js';
import { doubles, hiddenNotes, samePitchOverlap, specks, zeroLength } from './doubles.js';
import { drifted } from './drifted.js';
import type { Check, Finding } from './finding.js';
import { outOfRange, sameInTwoParts, soundWithoutLine, widerThanHand } from './instrument.js';
import { ownTempo } from './ownTempo.js';
import { earlyStart, hungNotes, pedalNeverLifts, twoAtOnce, unevenEnds, velocityOut } from './playing.js';
import { doubtfulGrid, eitherEnd, eitherWay, farOffGrid, swing, wideRoll } from './reading.js';

const ALL_CHECKS = {
  ownTempo,
  pickup,
  doubles,
  hiddenNotes,
  specks,
  zeroLength,
  samePitchOverlap,
  twoAtOnce,
  hungNotes,
  earlyStart,
  farOffGrid,
  eitherWay,
  eitherEnd,
  outOfRange,
  soundWithoutLine,
  widerThanHand,
  velocityOut,
  unevenEnds,
  pedalNeverLifts,
  sameInTwoParts,
  wideRoll,
  doubtfulGrid,
  swing,
  drifted,
} as const;

/** The name of a kind of finding in files. */
export type FindingKind = keyof typeof ALL_CHECKS;

/** All kinds, in the order screens list them. */
export const FINDING_KINDS = Object.keys(ALL_CHECKS) as FindingKind[];

/** The check of a kind. */
export const checkOf = (kind: FindingKind): Check => ALL_CHECKS[kind];

/** Which checks are run: all, those that look at the part alone, or those that compare it with other parts. */
export type Checks = 'all' | 'own' | 'comparing';

const asked = (check: Check, checks: Checks): boolean =>
  checks === 'all' || (checks === 'comparing') === !!check.compares;

/** Everything the checks notice in a part, in order of time; `written` is its Written layer. */
export const findingsOf = (
  arrangement: Arrangement,
  part: Part,
  written: Written,
  checks: Checks = 'all',
): Finding[] => {
  const notes = part.notes.filter((note) => !note.muted).sort(compareNotes);
  if (notes.length === 0) return [];
  const input = { arrangement, part, notes, written, context: playedContext(arrangement, part) };
  return FINDING_KINDS.flatMap((kind) => {
    const check: Check = ALL_CHECKS[kind];
    if (!asked(check, checks)) return [];
    return check.run(input).map(
      (noticed): Finding => ({
        ...noticed,
        kind,
        partId: part.id,
        severity: noticed.severity ?? check.severity,
        key: `${kind}:${noticed.noteIds.slice(0, 8).join('.')}`,
      }),
    );
  }).sort((a, b) => a.tick - b.tick);
};

/** How many of each kind there are; kinds with none are left out. */
export const countFindings = (findings: readonly Finding[]): { [kind: string]: number } => {
  const counts: { [kind: string]: number } = {};
  for (const { kind } of findings) counts[kind] = (counts[kind] ?? 0) + 1;
  return counts;
};
