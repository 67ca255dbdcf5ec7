/** How each arrangement was left: parts hidden, locked, muted, the view, the panels; kept in the browser, by arrangement. */

import { PAGE_MARKS, SCALE_IDS } from '@crispfold/core';
import * as yup from 'yup';
import { deskActions, LEFT_AS, type LeftAs, NAMES_SHOWN, ROWS_SHOWN } from '../state/deskSlice.js';
import { HUES } from '../state/hueModes.js';
import { rollActions } from '../state/rollSlice.js';
import type { RollView } from '../state/rollView.js';
import type { RootState } from '../state/root.js';

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

/** What is kept of one arrangement. */
interface Left {
  readonly desk: LeftAs;
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

/** Remembers how the open arrangement stands. */
export const rememberAsLeft = ({ desk, roll }: RootState): void => {
  if (desk.id === null || desk.status !== 'ready') return;
  const { left, ticksPerPixel, top, rowHeight } = roll;
  const own: Left = {
    desk: Object.fromEntries(LEFT_AS.map((key) => [key, desk[key]])) as unknown as LeftAs,
    view: { left, ticksPerPixel, top, rowHeight },
  };
  const others = remembered().filter(([id]) => id !== desk.id);
  try {
    localStorage.setItem(KEY, JSON.stringify([...others, [desk.id, own]].slice(-MOST_REMEMBERED)));
  } catch {
    // The browser keeps nothing: the Desk begins as new the next time.
  }
};

/** How an arrangement was left; null where that is not known. */
export const asLeft = (arrangementId: string): Left | null => {
  const own = remembered().find(([id]) => id === arrangementId)?.[1];
  return leftSchema.isValidSync(own, { strict: true }) ? (own as Left) : null;
};

/** Puts the Desk as it was left; false where that is not known. */
export const restoreAsLeft = (
  arrangementId: string,
  dispatch: (action: ReturnType<typeof deskActions.leftAs> | ReturnType<typeof rollActions.viewSet>) => void,
  view: RollView,
): boolean => {
  const left = asLeft(arrangementId);
  if (!left) return false;
  dispatch(deskActions.leftAs(left.desk));
  dispatch(rollActions.viewSet({ ...view, ...left.view }));
  return true;
};
