/** How each arrangement was left: parts hidden, locked, muted, the view, the panels; kept in the browser, by arrangement. */

import { PAGE_MARKS, type PartId, SCALE_IDS } from '@crispfold/core';
import * as yup from 'yup';
import { type CorrectingState, correctingActions } from '../state/correctingSlice.js';
import { HUES } from '../state/hueModes.js';
import { type LanesState, lanesActions } from '../state/lanesSlice.js';
import { type LayoutState, layoutActions } from '../state/layoutSlice.js';
import { type LookingState, lookingActions, NAMES_SHOWN, ROWS_SHOWN } from '../state/lookingSlice.js';
import { type PartsShownState, partsShownActions } from '../state/partsShownSlice.js';
import { rollActions } from '../state/rollSlice.js';
import type { RollView } from '../state/rollView.js';
import type { RootState } from '../state/root.js';
import { type SelectingState, selectingActions } from '../state/selectingSlice.js';
import type { AppDispatch } from './desk.js';

/** So many arrangements are remembered; the one opened longest ago is forgotten first. */
const MOST_REMEMBERED = 40;
const KEY = 'crispfold-as-left';

const ids = yup.array(yup.number().integer().required()).required();
const number = yup.number().required();
const leftSchema = yup
  .object({
    desk: yup
      .object({
        frontPartId: yup.number().integer().nullable().defined(),
        hidden: ids,
        locked: ids,
        muted: ids,
        soloed: ids,
        reach: yup.string().oneOf(['front', 'all']).required(),
        seeing: yup
          .object({
            hue: yup.string().oneOf(HUES).required(),
            names: yup.string().oneOf(NAMES_SHOWN).required(),
            rows: yup.string().oneOf(ROWS_SHOWN).required(),
            scale: yup
              .object({ id: yup.string().oneOf(SCALE_IDS).required(), root: number.integer().min(0).max(11) })
              .nullable()
              .defined(),
            outline: yup.boolean().required(),
            keyMarked: yup.boolean().required(),
            strip: yup.boolean().required(),
            pageGrid: yup.boolean().required(),
            follow: yup.boolean().required(),
            // Left out by those that were kept before there were recordings.
            recording: yup.boolean().default(false).optional(),
            recordingBehind: yup.boolean().default(false).optional(),
          })
          .required(),
        panel: yup.string().oneOf(['plan', 'findings', 'note', 'page', 'more']).required(),
        pageShown: yup.boolean().required(),
        pageOfFrontOnly: yup.boolean().required(),
        partsFolded: yup.boolean().required(),
        sideFolded: yup.boolean().required(),
        // Left out by those that were kept before there were lanes.
        lanes: yup.array(yup.string().required()).default([]).optional(),
        // Left out by those that were kept before marks could be moved.
        marksLocked: yup.array(yup.string().oneOf(PAGE_MARKS).required()).default([]).optional(),
      })
      .required(),
    view: yup
      .object({ left: number, ticksPerPixel: number.positive(), top: number, rowHeight: number.positive() })
      .required(),
  })
  .required();

/** What of the Desk is found again when an arrangement is opened anew. */
type DeskLeft = PartsShownState &
  Pick<SelectingState, 'reach'> &
  Pick<LookingState, 'seeing'> &
  Pick<LayoutState, 'panel' | 'pageShown' | 'pageOfFrontOnly' | 'partsFolded' | 'sideFolded'> & {
    /** Left out by those that were kept before there were lanes, and marks that could be moved. */
    readonly lanes?: LanesState['lanes'];
    readonly marksLocked?: CorrectingState['marksLocked'];
  };

/** What is kept of one arrangement. */
interface Left {
  readonly desk: DeskLeft;
  readonly view: Pick<RollView, 'left' | 'ticksPerPixel' | 'top' | 'rowHeight'>;
}

/** All that is remembered, the newest last. Storage that is refused, or holds something else, remembers nothing. */
const remembered = (): [id: string, left: unknown][] => {
  try {
    const all: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]');
    return Array.isArray(all) ? all.filter((one) => Array.isArray(one) && typeof one[0] === 'string') : [];
  } catch {
    return [];
  }
};

const leftOf = (state: RootState): Left => {
  const { partsShown, selecting, looking, layout, lanes, correcting, roll } = state;
  const { panel, pageShown, pageOfFrontOnly, partsFolded, sideFolded } = layout;
  const { left, ticksPerPixel, top, rowHeight } = roll;
  return {
    desk: {
      ...partsShown,
      reach: selecting.reach,
      seeing: looking.seeing,
      ...{ panel, pageShown, pageOfFrontOnly, partsFolded, sideFolded },
      lanes: lanes.lanes,
      marksLocked: correcting.marksLocked,
    },
    view: { left, ticksPerPixel, top, rowHeight },
  };
};

/** Remembers how the open arrangement stands. */
export const rememberAsLeft = (state: RootState): void => {
  const { id, status } = state.piece;
  if (id === null || status !== 'ready') return;
  const others = remembered().filter(([other]) => other !== id);
  try {
    localStorage.setItem(KEY, JSON.stringify([...others, [id, leftOf(state)]].slice(-MOST_REMEMBERED)));
  } catch {
    // The browser keeps nothing: the Desk begins as new the next time.
  }
};

/** How an arrangement was left; null where that is not known. */
export const asLeft = (arrangementId: string): Left | null => {
  const own = remembered().find(([id]) => id === arrangementId)?.[1];
  return leftSchema.isValidSync(own, { strict: true }) ? (own as Left) : null;
};

/**
 * Puts the Desk as the open arrangement was left, parts that are no more passed over. Answers what was in view, for when the
 * roll has its size; null where it is not known how it was left.
 */
export const restoreAsLeft =
  () =>
  (dispatch: AppDispatch, getState: () => RootState): Left['view'] | null => {
    const { piece } = getState();
    const left = piece.id === null ? null : asLeft(piece.id);
    if (!left) return null;
    const { frontPartId, hidden, locked, muted, soloed, reach, seeing, lanes, marksLocked, ...layout } = left.desk;
    const parts = (piece.arrangement?.parts ?? []).map(({ id }) => id);
    const there = (ids: readonly PartId[]) => ids.filter((id) => parts.includes(id));
    dispatch(
      partsShownActions.partsLeftAs({
        frontPartId: parts.find((id) => id === frontPartId) ?? parts[0] ?? null,
        hidden: there(hidden),
        locked: there(locked),
        muted: there(muted),
        soloed: there(soloed),
      }),
    );
    dispatch(selectingActions.reachSet(reach));
    dispatch(lookingActions.seen(seeing));
    dispatch(layoutActions.layoutLeftAs(layout));
    dispatch(lanesActions.lanesShown(lanes ?? []));
    dispatch(correctingActions.marksLockedSet(marksLocked ?? []));
    return left.view;
  };

/** Looks at what was in view. */
export const lookAsLeft =
  (view: Left['view']) =>
  (dispatch: AppDispatch, getState: () => RootState): void => {
    const { before: _, ...now } = getState().roll;
    dispatch(rollActions.viewSet({ ...now, ...view }));
  };
