/** What the pointer machine looks at, as the state has it. */

import { gridFraction } from '../state/editingSlice.js';
import { selectMeterMap } from '../state/maps.js';
import { selectEndTick, selectHead, selectRows, selectView } from '../state/rollSelectors.js';
import type { RootState } from '../state/root.js';
import { selectArrangement, selectOpenIds, selectWithin } from '../state/selectors.js';
import type { Scene } from './drags.js';
import { gridUnit, type Pressing } from './gestures.js';
import { heldPart } from './heldPart.js';
import type { RollPart } from './layers.js';

/** The scene as the state has it. */
export const sceneOf = (state: RootState, parts: readonly RollPart[], pressing: Pressing): Scene => {
  const { selecting, looking, editing, roll, partsShown } = state;
  const arrangement = selectArrangement(state);
  const meterMap = selectMeterMap(state);
  const { frontPartId } = partsShown;
  return {
    arrangement,
    view: selectView(state),
    rows: selectRows(state),
    head: selectHead(state),
    parts,
    pressing,
    open: selectOpenIds(state),
    reach: selecting.reach,
    frontPartId: frontPartId !== null && selectOpenIds(state).has(frontPartId) ? frontPartId : null,
    selection: selecting.selection,
    within: selectWithin(state),
    held: (part) => {
      const { forward, forwardNotes } = selecting;
      return forward && forwardNotes ? heldPart(part, forward, forwardNotes.get(part.partId)) : part;
    },
    creaseTick: looking.creaseTick ?? Number.POSITIVE_INFINITY,
    endTick: selectEndTick(state),
    drawing: editing.drawing,
    drawn: {
      ...editing.drawn,
      length: editing.drawn.length === null ? null : editing.drawn.length * 4 * arrangement.ppq,
    },
    snapTo: editing.snapTo,
    lineNear: looking.seeing.pageGrid ? (looking.gridOfPage?.nearest ?? null) : null,
    unit: gridUnit(editing.snapOn, gridFraction(editing.grid), arrangement.ppq, roll.ticksPerPixel),
    barStart: (tick) => meterMap.barAt(tick).start,
  };
};
