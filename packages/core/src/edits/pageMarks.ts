/** Marks over the score moved by hand, and put back; bars to a system. */
import type { Arrangement, Part, PartId } from '../model/arrangement.js';
import { type Change, type Edit, overridesChange } from '../model/edit.js';
import { FURTHEST_NUDGE, type Override, overrideKey, type PageMark } from '../model/overrides.js';
import { PAGE_MARK_NAMES } from './correctionList.js';

type Nudge = Extract<Override, { kind: 'nudge' }>;

const nudgesOf = ({ parts }: Arrangement, bar: number, mark: PageMark) =>
  parts.flatMap((part) =>
    (part.overrides?.list ?? []).flatMap((own) =>
      own.kind === 'nudge' && own.bar === bar && own.mark === mark ? [{ part, own }] : [],
    ),
  );

/** By how much a mark of a bar is moved: to the right and up, in tenths of the space between two staff lines. */
export const nudgeOf = (arrangement: Arrangement, bar: number, mark: PageMark): { x: number; y: number } => {
  const [first] = nudgesOf(arrangement, bar, mark);
  return { x: first?.own.x ?? 0, y: first?.own.y ?? 0 };
};

const within = (tenths: number): number => Math.max(-FURTHEST_NUDGE, Math.min(FURTHEST_NUDGE, Math.round(tenths)));

/**
 * Moves a mark of a bar to a place beside its own, or puts it back where that is none; kept with the given part, whoever's
 * part it was kept with before. Null where it stands there already.
 */
export const nudgeEdit = (
  arrangement: Arrangement,
  partId: PartId,
  bar: number,
  mark: PageMark,
  to: { readonly x: number; readonly y: number },
): Edit | null => {
  const known = nudgesOf(arrangement, bar, mark);
  const [x, y] = [within(to.x), within(to.y)];
  const now = nudgeOf(arrangement, bar, mark);
  if (now.x === x && now.y === y) return null;
  const home = x === 0 && y === 0;
  const made: Nudge = { kind: 'nudge', bar, mark, x, y };
  const changes = arrangement.parts.flatMap((part): Change[] => {
    const own = known.filter((one) => one.part === part).map((one) => one.own);
    if (part.id === partId && !home) return [overridesChange(part, [made])];
    return own.length > 0 ? [overridesChange(part, [], own)] : [];
  });
  if (changes.length === 0) return null;
  const name = PAGE_MARK_NAMES[mark];
  return { label: home ? `Put back: ${name} of bar ${bar}` : `Move the ${name} of bar ${bar}`, changes };
};

/**
 * So many bars to a system, from a bar of a part on to the end: systems that were set after it go. With null none are set, and
 * the page divides itself. Bars are given by their numbers, in order. Null where nothing would change.
 */
export const barsToASystem = (part: Part, bars: readonly number[], from: number, each: number | null): Edit | null => {
  const known = (part.overrides?.list ?? []).filter((own) => own.kind === 'systemBreak' && own.bar > from);
  const first = bars.indexOf(from);
  const wanted =
    each === null || first < 0
      ? []
      : bars.filter((_, index) => index > first && (index - first) % Math.max(1, each) === 0);
  const made = wanted.map((bar): Override => ({ kind: 'systemBreak', bar }));
  const gone = known.filter((own) => !made.some((one) => overrideKey(one) === overrideKey(own)));
  const added = made.filter((own) => !known.some((one) => overrideKey(one) === overrideKey(own)));
  if (gone.length === 0 && added.length === 0) return null;
  const label =
    each === null
      ? `Systems from bar ${from} as the page divides them`
      : `${each} ${each === 1 ? 'bar' : 'bars'} to a system from bar ${from}`;
  return { label, changes: [overridesChange(part, added, gone)] };
};
