/** What the roll's painters have in common, and how its view keeps to what is looked at. */

import type { Part } from '@crispfold/core';
import { type RefObject, useEffect, useMemo, useRef } from 'react';
import { useStore } from 'react-redux';
import { type Palette, usePalette } from '../controls/palette.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectEndTick, selectHead, selectRows, selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import {
  bringToView,
  inWholePixels,
  overOtherRows,
  type RollView,
  type Rows,
  withinMusic,
  withRowsInView,
} from '../state/rollView.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectFrontPart } from '../state/selectors.js';

/** Where things lie, and in which colours. */
export interface RollScene {
  readonly view: RollView;
  readonly rows: Rows;
  /** What stands above the notes, in pixels. */
  readonly head: number;
  readonly palette: Palette;
}

/** The scene as it is seen now, in whole pixels. */
export const useRollScene = (): RollScene => {
  const exactView = useAppSelector(selectView);
  const view = useMemo(() => inWholePixels(exactView), [exactView]);
  const rows = useAppSelector(selectRows);
  const head = useAppSelector(selectHead);
  const palette = usePalette();
  useRowsInView(useAppSelector(selectFrontPart), rows);
  useSamePitch(rows);
  return useMemo(() => ({ view, rows, head, palette }), [view, rows, head, palette]);
};

/** Other rows leave what is looked at where it was. */
const useSamePitch = (rows: Rows): void => {
  const store = useStore<RootState>();
  const last = useRef(rows);
  useEffect(() => {
    const before = last.current;
    last.current = rows;
    // An edit may bring a row in, or take one away: only another choice of rows moves the view.
    if (Math.abs(before.pitches.length - rows.pitches.length) <= 2) return;
    store.dispatch(rollActions.viewSet(overOtherRows(selectView(store.getState()), before, rows)));
  }, [rows, store]);
};

/** A part that comes forward brings its rows into view, where none of them is. */
const useRowsInView = (part: Part | undefined, rows: Rows): void => {
  const store = useStore<RootState>();
  const last = useRef(part?.id);
  useEffect(() => {
    if (!part || last.current === part.id) return;
    const first = last.current === undefined;
    last.current = part.id;
    if (first) return;
    const state = store.getState();
    const view = selectView(state);
    const pitches = new Set(part.notes.map((note) => note.pitch));
    const seen = withRowsInView(view, rows, pitches);
    if (seen !== view) store.dispatch(rollActions.viewSet(withinMusic(seen, rows, selectEndTick(state))));
  }, [part, rows, store]);
};

/** The view is as large as the element. */
export const useRollSize = (element: RefObject<HTMLDivElement | null>, head: number): void => {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const roll = element.current;
    if (!roll) return undefined;
    const measure = () =>
      dispatch(
        rollActions.resized({
          width: Math.max(100, roll.clientWidth - NAMES_WIDTH),
          height: Math.max(60, roll.clientHeight - head),
        }),
      );
    const observer = new ResizeObserver(measure);
    observer.observe(roll);
    measure();
    return () => observer.disconnect();
  }, [dispatch, element, head]);
};

/** The playhead moves on a layer of its own, without a render; the view follows it while it plays. */
export const useFollowing = (repaint: () => void): void => {
  const { player } = useDesk();
  const store = useStore<RootState>();
  const latest = useRef(repaint);
  latest.current = repaint;
  useEffect(
    () =>
      player.state.subscribe(() => {
        latest.current();
        const { playing, tick } = player.state.get();
        const state = store.getState();
        if (!playing || !state.looking.seeing.follow) return;
        const view = selectView(state);
        const followed = bringToView(view, tick);
        if (followed !== view) store.dispatch(rollActions.viewSet(followed));
      }),
    [store, player.state.get, player.state.subscribe],
  );
};
