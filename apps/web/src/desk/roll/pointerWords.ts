/** What a place in the roll offers to a hand: words for the foot, and a cursor. No browser here. */

import { type Edit, type Note, type PartId, selectionSize, unionOf } from '@crispfold/core';
import { tickOfX } from '../state/rollView.js';
import { type Drag, noteToDraw, type Scene, tickOfSign } from './drags.js';
import type { PartNote, Target } from './gestures.js';
import { isOnCrease, signUnder, targetUnder } from './pointer.js';

/** What a press on each kind of target offers. */
const offered = (target: Target, reach: Scene['reach']): string => {
  switch (target.kind) {
    case 'body':
      return 'Drag to move, with Alt for loudness. Click to select, with Shift to add or take away.';
    case 'edge':
      return 'Drag to trim this edge.';
    case 'seam': {
      const notes = selectionSize(unionOf(target.shared.ends, target.shared.starts));
      return `Drag to move the edge that these ${notes} notes share. Further in, a note’s own edge is taken.`;
    }
    case 'empty':
      return reach === 'all'
        ? 'Drag to select in all shown parts.'
        : 'Drag to select. Click a note of another part to bring that part to the front.';
    default:
      return target satisfies never;
  }
};

/** Keys that a drag listens to while it lasts, said at the foot. */
export const DRAG_WORDS: { readonly [kind in Drag['kind']]?: string } = {
  move: 'T time only · P pitch only · C a copy · V loudness, then E all the same',
  trim: 'E all to one length',
  draw: 'R repeats at the grid’s value · G finer · Shift G coarser',
};

const CURSORS: { readonly [kind in Target['kind']]: string } = {
  body: 'grab',
  edge: 'ew-resize',
  seam: 'col-resize',
  empty: 'default',
};
const READ_ONLY_HINT =
  'This side of the crease shows Written, which the plan makes. Move the crease to edit Played here.';

/** The note that an Edit draws. */
const drawnBy = (edit: Edit | null): Note | undefined => {
  const [change] = edit?.changes ?? [];
  return change?.kind === 'notes' ? change.added[0] : undefined;
};

const playedNote = ({ arrangement }: Scene, { partId, note }: PartNote): Note | undefined =>
  arrangement.parts.find(({ id }) => id === partId)?.notes.find(({ id }) => id === note.id);

/** What a place in the roll offers: words for the foot, and a cursor. */
export const offer = (
  scene: Scene,
  x: number,
  y: number,
  words: (partId: PartId, note: Note) => string,
): readonly [words: string, cursor: string] => {
  if (isOnCrease(scene, x, y)) {
    return ['Drag the crease: Played to its left, Written to its right. Double-click sends it home.', 'ew-resize'];
  }
  const sign = signUnder(scene, x, y);
  if (sign) {
    const first = sign.kind !== 'marker' && tickOfSign(scene.arrangement, sign) === 0 && sign.kind !== 'key';
    const what = sign.kind === 'marker' ? sign.marker.text : `the ${sign.kind}`;
    return first
      ? [`The ${sign.kind} that the piece begins in. Double-click to change it.`, 'default']
      : [`Drag ${what} to where it belongs. Double-click to change or remove it.`, 'ew-resize'];
  }
  if (y < 0) return ['Click to put the playhead here. Drag to set a loop.', 'pointer'];
  if (tickOfX(scene.view, x) >= scene.creaseTick) return [READ_ONLY_HINT, 'default'];
  if (scene.frontPartId === null && scene.reach === 'front') {
    return ['The front part is hidden or locked. Show or unlock it to work on it.', 'default'];
  }
  if (scene.drawing) {
    const note = drawnBy(noteToDraw(scene, x, y).edit);
    const would = note && scene.frontPartId !== null ? `Would go there: ${words(scene.frontPartId, note)}. ` : '';
    return [`${would}Click or drag to draw. The draw key goes back to selecting.`, 'crosshair'];
  }
  const target = targetUnder(scene, x, y);
  const under = 'note' in target ? playedNote(scene, target) : undefined;
  const said = under && 'note' in target ? `${words(target.partId, under)}. ` : '';
  return [said + offered(target, scene.reach), CURSORS[target.kind]];
};
