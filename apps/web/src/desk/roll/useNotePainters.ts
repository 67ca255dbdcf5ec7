/** The parts as they are drawn, and the painters of those behind and of the one in front. */

import { type Edit, editedNotes, selectedIn } from '@crispfold/core';
import { useCallback, useMemo, useRef, useState } from 'react';
import { usePartLooks } from '../controls/partLook.js';
import { useLayers } from '../session/useWritten.js';
import { isForward } from '../state/forward.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import type { RollView } from '../state/rollView.js';
import { useAppSelector } from '../state/root.js';
import { seenOf, selectArrangement, selectShownParts } from '../state/selectors.js';
import { draftIndex } from './gestures.js';
import type { Scale } from './hues.js';
import { layOut, type RollPart } from './layers.js';
import { type NotePaint, paintPart } from './paintNotes.js';
import { createScrolledPainter } from './scrolledPainter.js';
import type { RollScene } from './useRollScene.js';
import { useRollSigns } from './useRollSigns.js';
import { within } from './within.js';

/** With more parts than these on view, those behind are drawn without outlines: they could not be told apart anyway. */
const CROWDED = 12;

/** The list as it was where its items are the same: what is painted from it is then not painted anew. */
const useSameList = <Item>(list: readonly Item[]): readonly Item[] => {
  const last = useRef(list);
  const same = last.current.length === list.length && list.every((item, index) => item === last.current[index]);
  if (!same) last.current = list;
  return last.current;
};

/** The parts that are shown, laid out for the roll. */
export const useRollParts = (): readonly RollPart[] => {
  const { ppq } = useAppSelector(selectArrangement);
  const shown = useAppSelector(selectShownParts);
  const onlyShown = useAppSelector((state) => state.selecting.onlyShown);
  const layers = useLayers();
  return useSameList(
    useMemo(
      () => shown.map((part) => layOut(seenOf(part, onlyShown), layers.get(part.id), ppq, onlyShown?.get(part.id))),
      [shown, layers, ppq, onlyShown],
    ),
  );
};

/** The parts as what is dragged, or else tried, would leave them. */
const useDraftParts = (parts: readonly RollPart[], drag: Edit | null): readonly RollPart[] => {
  const tried = useAppSelector(({ stepping }) => stepping.tried);
  const edit = drag ?? tried;
  return useMemo(() => {
    if (!edit) return parts;
    const edited = editedNotes(edit);
    return parts.map((part) => {
      const notes = edited.get(part.partId);
      return notes ? { ...part, played: draftIndex(part.played, notes) } : part;
    });
  }, [edit, parts]);
};

/** Which notes of a part are drawn back, as others are brought forward. */
const useDimmed = () => {
  const forward = useAppSelector((state) => state.selecting.forward);
  const forwardIds = useAppSelector((state) => state.selecting.forwardNotes);
  const { nextNoteId } = useAppSelector(selectArrangement);
  return useCallback(
    (part: RollPart): NotePaint['dimmed'] => {
      if (!forward || !forwardIds) return null;
      const ids = selectedIn(forwardIds, part.partId);
      const facts = part.facts();
      // What a drag is about to add is not known yet, and is seen.
      return ({ id }, layer) => {
        if (layer === 'played') return !ids.has(id) && id < nextNoteId;
        const at = facts.get(id);
        return at !== undefined && !isForward(forward, at);
      };
    },
    [forward, forwardIds, nextNoteId],
  );
};

/** Paints parts; the same painter wherever the view lies. */
const usePartsPainter = ({ rows, palette }: RollScene, count: number, scale: Scale | null) => {
  const looks = usePartLooks();
  const frontPartId = useAppSelector((state) => state.partsShown.frontPartId);
  const selection = useAppSelector((state) => state.selecting.selection);
  const creaseTick = useAppSelector((state) => state.looking.creaseTick);
  const { names, outline } = useAppSelector((state) => state.looking.seeing);
  const dimmedIn = useDimmed();
  const crowded = count > CROWDED;
  return useCallback(
    (parts: readonly RollPart[], canvas: CanvasRenderingContext2D, seen: RollView) => {
      for (const part of parts) {
        const look = looks.get(part.partId);
        if (!look) continue;
        paintPart(canvas, seen, rows, part, {
          look,
          front: part.partId === frontPartId,
          crowded,
          selection: selectedIn(selection, part.partId),
          creaseTick: creaseTick ?? Number.POSITIVE_INFINITY,
          palette,
          scale,
          names,
          outline,
          dimmed: dimmedIn(part),
        });
      }
    },
    [rows, looks, frontPartId, crowded, selection, creaseTick, palette, scale, names, outline, dimmedIn],
  );
};

/** The painters of the parts behind, which are kept and scrolled, and of the front part with what is shown over it. */
export const useNotePainters = (
  scene: RollScene,
  rollParts: readonly RollPart[],
  drag: Edit | null,
  scale: Scale | null,
) => {
  const { view, head } = scene;
  const frontPartId = useAppSelector((state) => state.partsShown.frontPartId);
  const parts = useDraftParts(rollParts, drag);
  const paintParts = usePartsPainter(scene, rollParts.length, scale);
  const paintSigns = useRollSigns(scene);
  // An edit of the front part leaves those behind as they are painted.
  const behind = useSameList(useMemo(() => parts.filter((part) => part.partId !== frontPartId), [parts, frontPartId]));
  const front = useSameList(useMemo(() => parts.filter((part) => part.partId === frontPartId), [parts, frontPartId]));
  const [paintScrolled] = useState(createScrolledPainter);
  const paintPartsBehind = useCallback(
    (canvas: CanvasRenderingContext2D, seen: RollView) => paintParts(behind, canvas, seen),
    [paintParts, behind],
  );
  const paintBehind = useCallback(
    (context: CanvasRenderingContext2D, stays: boolean) =>
      paintScrolled(context, stays, { x: NAMES_WIDTH, y: head }, view, paintPartsBehind),
    [view, head, paintScrolled, paintPartsBehind],
  );
  const paintFront = useCallback(
    (context: CanvasRenderingContext2D) =>
      within(context, NAMES_WIDTH, head, view.width, view.height, (canvas) => {
        paintParts(front, canvas, view);
        paintSigns(canvas);
      }),
    [paintParts, paintSigns, front, view, head],
  );
  return { paintBehind, paintFront };
};
