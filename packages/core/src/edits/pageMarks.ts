/** Marks over the score moved by hand, and put back. */
import type { Arrangement, PartId } from '../model/arrangement.js';
import { type Change, type Edit, overridesChange } from '../model/edit.js';
import { FURTHEST_NUDGE, type Override, type PageMark } from '../model/overrides.js';
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
