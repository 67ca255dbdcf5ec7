/** The painter of what lies under the notes: rows, bar lines and the page's own lines, the recording, the ruler, names. */

import { type ArrangementFields, type Bar, beatsOfBars, type Edit } from '@crispfold/core';
import { useCallback, useEffect, useMemo } from 'react';
import { useAppDispatch } from '../session/desk.js';
import { lookingActions } from '../state/lookingSlice.js';
import { selectBars } from '../state/maps.js';
import { type PageGrid, pageGrid } from '../state/pageGrid.js';
import { NAMES_WIDTH, RULER_HEIGHT } from '../state/rollLayout.js';
import { selectKeyPitches } from '../state/rollSelectors.js';
import { type RollView, tickOfX } from '../state/rollView.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import type { RollPart } from './layers.js';
import { paintGround, paintNames, paintRuler, type RulerSigns } from './paintGround.js';
import { paintWave } from './paintWave.js';
import { creaseX, FOLD_SIZE } from './pointer.js';
import { signsOfRuler } from './rulerLabels.js';
import type { RollScene } from './useRollScene.js';
import { useWaveBehind } from './useWaveBehind.js';
import { within } from './within.js';

const NO_LINES: readonly number[] = [];

/** How plain the recording is behind the notes. */
const BEHIND = 0.5;

/** The page's own divisions for the front part; null where the grid is one value. */
const usePageGrid = (front: RollPart | undefined, bars: readonly Bar[], ppq: number): PageGrid | null => {
  const dispatch = useAppDispatch();
  const asked = useAppSelector((state) => state.looking.seeing.pageGrid);
  const written = front?.written;
  const grid = useMemo(
    () => (asked && written ? pageGrid(beatsOfBars(bars, ppq), written.notes) : null),
    [asked, written, bars, ppq],
  );
  useEffect(() => {
    dispatch(lookingActions.gridFound(grid));
    return () => void dispatch(lookingActions.gridFound(null));
  }, [grid, dispatch]);
  return grid;
};

/** Signs of the ruler as an Edit has them; none of those it is not about. */
const movedSigns = (edit: Edit | null): Partial<ArrangementFields> => {
  const [change] = edit?.changes ?? [];
  return change?.kind === 'arrangementFields' ? change.after : {};
};

/** What the ruler shows; a sign that is dragged where letting go would leave it. */
const useRulerSigns = (view: RollView, drag: Edit | null): RulerSigns => {
  const arrangement = useAppSelector(selectArrangement);
  const bars = useAppSelector(selectBars);
  const loop = useAppSelector((state) => state.playback.loop);
  const loopOn = useAppSelector((state) => state.playback.loopOn);
  const creaseTick = useAppSelector((state) => state.looking.creaseTick);
  const { markers, meters, keys, tempos } = { ...arrangement, ...movedSigns(drag) };
  const engraved = useAppSelector(({ layout }) => layout.pageBars);
  const firstBar = engraved && bars[engraved.first - 1];
  const lastBar = engraved && bars[engraved.last - 1];
  const signs = useMemo(
    () => ({
      ...signsOfRuler({ markers, meters, keys, tempos }),
      loop,
      loopOn,
      page: engraved && firstBar && lastBar ? { start: firstBar.start, end: lastBar.end } : null,
    }),
    [markers, meters, keys, tempos, loop, loopOn, engraved, firstBar, lastBar],
  );
  // While the roll scrolls, the fold alone is another.
  const foldAt = creaseX(view, creaseTick ?? Number.POSITIVE_INFINITY);
  return useMemo(() => ({ ...signs, fold: { x: foldAt - FOLD_SIZE, width: FOLD_SIZE } }), [signs, foldAt]);
};

/** A painter that is a new one when what it paints is another; `drag` is what a hand is about to change. */
export const useGroundPainter = (scene: RollScene, front: RollPart | undefined, drag: Edit | null) => {
  const { view, rows, head, palette } = scene;
  const { ppq } = useAppSelector(selectArrangement);
  const bars = useAppSelector(selectBars);
  const { keyMarked } = useAppSelector((state) => state.looking.seeing);
  const key = useAppSelector(selectKeyPitches);
  const marked = keyMarked ? key : null;
  const wave = useWaveBehind();
  const signs = useRulerSigns(view, drag);
  const grid = usePageGrid(front, bars, ppq);
  const lines = useMemo(() => grid?.linesIn(view.left, tickOfX(view, view.width)) ?? NO_LINES, [grid, view]);
  const visibleBars = useMemo(() => {
    const right = tickOfX(view, view.width);
    return bars.filter((bar) => bar.end > view.left && bar.start < right);
  }, [bars, view]);
  return useCallback(
    (context: CanvasRenderingContext2D) => {
      within(context, NAMES_WIDTH, head, view.width, view.height, (canvas) => {
        paintGround(canvas, view, rows, visibleBars, ppq, palette, marked, lines);
        if (!wave) return;
        canvas.globalAlpha = BEHIND;
        paintWave(canvas, view, { ...wave, height: view.height, hue: palette.rule });
        canvas.globalAlpha = 1;
      });
      within(context, NAMES_WIDTH, 0, view.width, RULER_HEIGHT, (canvas) =>
        paintRuler(canvas, view, visibleBars, ppq, signs, palette),
      );
      within(context, 0, head, NAMES_WIDTH, view.height, (canvas) => paintNames(canvas, view, rows, palette));
    },
    [view, head, rows, visibleBars, ppq, signs, palette, marked, lines, wave],
  );
};
