/** Lanes of several parts worked in together: what one Edit of one part would be, as one Edit of all. */
import { labelFor } from '../edits/labels.js';
import { type Arrangement, type Part, type PartId, partById } from '../model/arrangement.js';
import { applyEdit, type Edit } from '../model/edit.js';
import { changePoints, drawInLane, type PointDrawn, thinLane } from './laneEdits.js';
import { type Lane, type LanePoint, laneName, lanePoints, type MessageLane } from './lanes.js';

interface OfPart {
  readonly part: Part;
  readonly edit: Edit;
  readonly count: number;
}

const NONE: ReadonlySet<number> = new Set();

/** How many notes or messages an Edit changes. */
const changed = ({ changes }: Edit): number =>
  changes.reduce(
    (sum, change) =>
      change.kind === 'notes' || change.kind === 'events'
        ? sum + Math.max(change.added.length, change.removed.length) + change.changed.length
        : sum,
    0,
  );

/** One Edit of what is made part by part, each on what the one before left; a part that has nothing to change is left out. */
const together = (
  arrangement: Arrangement,
  partIds: readonly PartId[],
  verb: string,
  one: 'note' | 'point',
  make: (now: Arrangement, partId: PartId) => Edit | null,
): Edit | null => {
  let now = arrangement;
  const made: OfPart[] = [];
  for (const partId of partIds) {
    const part = partById(now, partId);
    const edit = part && make(now, partId);
    if (!part || !edit) continue;
    now = applyEdit(now, edit);
    made.push({ part, edit, count: changed(edit) });
  }
  const [first] = made;
  if (!first) return null;
  if (made.length === 1) return first.edit;
  return { label: labelFor(verb, made, one), changes: made.flatMap(({ edit }) => edit.changes) };
};

const kindOf = (lane: Lane) => (lane.kind === 'velocity' ? 'note' : 'point');

/** {@link changePoints} in several parts: `ids` are of any of them. */
export const changePointsIn = (
  arrangement: Arrangement,
  partIds: readonly PartId[],
  lane: Lane,
  ids: ReadonlySet<number>,
  change: (point: LanePoint) => PointDrawn | null,
  verb = laneName(lane),
): Edit | null => {
  if (lane.kind === 'tempo') return changePoints(arrangement, null, lane, ids, change, verb);
  return together(arrangement, partIds, verb, kindOf(lane), (now, partId) => {
    const part = partById(now, partId);
    const own = part ? lanePoints(part, lane).filter(({ id }) => ids.has(id)) : [];
    return own.length === 0 ? null : changePoints(now, partId, lane, new Set(own.map(({ id }) => id)), change, verb);
  });
};

/** Gives the notes of several parts that begin along a line its loudness; those of `only` alone, where it is not empty. */
export const drawVelocitiesIn = (
  arrangement: Arrangement,
  partIds: readonly PartId[],
  drawn: readonly PointDrawn[],
  only: ReadonlySet<number> = NONE,
): Edit | null =>
  together(arrangement, partIds, 'Velocity', 'note', (now, partId) =>
    drawInLane(now, partId, { kind: 'velocity' }, drawn, only),
  );

/** {@link thinLane} in several parts. */
export const thinLaneIn = (arrangement: Arrangement, partIds: readonly PartId[], lane: MessageLane): Edit | null =>
  together(arrangement, partIds, `Thin ${laneName(lane)}`, 'point', (now, partId) => thinLane(now, partId, lane));
