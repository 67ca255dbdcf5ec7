/** The whole piece above the roll: which part plays where, sections, findings, and the roll's window, to be dragged. */

import { type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import { CanvasLayer } from '../../ui/CanvasLayer.js';
import { usePalette } from '../controls/palette.js';
import { usePartLooks } from '../controls/partLook.js';
import { useAppDispatch } from '../session/desk.js';
import { selectFindings } from '../state/findings.js';
import { selectMeterMap } from '../state/maps.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectEndTick, selectRows, selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import { withinMusic } from '../state/rollView.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectArrangement, selectShownParts } from '../state/selectors.js';

import { columnsOf, namesWithRoom, stretchesOf, stripRows, viewAt, windowIn } from './stripPlan.js';

/** Height of the strip: the rows of parts, and a line for the sections above them. */
const HEIGHT = 38;
const SECTIONS = 14;
const FONT = '"Source Sans 3 Variable", sans-serif';

export const PieceStrip = () => {
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  const { parts, markers } = useAppSelector(selectArrangement);
  const shown = useAppSelector(selectShownParts);
  const front = useAppSelector(({ partsShown }) => partsShown.frontPartId);
  const endTick = useAppSelector(selectEndTick);
  // The bar at the left edge is all that is told of the view here: it changes seldom while one scrolls.
  const bar = useAppSelector((state) => selectMeterMap(state).barAt(Math.max(0, selectView(state).left)).number);
  const firstBar = useAppSelector((state) => selectMeterMap(state).barAt(0).number);
  const lastBar = useAppSelector((state) => selectMeterMap(state).barAt(selectEndTick(state)).number);
  const findings = useAppSelector(selectFindings);
  const looks = usePartLooks();
  const palette = usePalette();
  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const measure = () => setWidth(Math.max(100, element.clientWidth - NAMES_WIDTH));
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    measure();
    return () => observer.disconnect();
  }, []);

  const shownIds = shown.map(({ id }) => id).join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same parts are shown while their notes are edited
  const seen = useMemo(() => new Set(shown.map((part) => part.id)), [shownIds]);
  // A long piece has thousands: one line to a pixel.
  const found = useMemo(() => columnsOf(findings, seen, width / endTick), [findings, seen, width, endTick]);
  const paint = useCallback(
    (canvas: CanvasRenderingContext2D) => {
      const scale = width / endTick;
      const { rowOf, rows } = stripRows(parts.length);
      const rowHeight = (HEIGHT - SECTIONS - 2) / rows;
      canvas.save();
      canvas.translate(NAMES_WIDTH, 0);
      parts.forEach((part, index) => {
        const look = looks.get(part.id);
        if (!look) return;
        canvas.fillStyle = look.hue;
        canvas.globalAlpha = !seen.has(part.id) ? 0.15 : part.id === front ? 1 : 0.55;
        const y = SECTIONS + rowOf(index) * rowHeight;
        for (const { from, to } of stretchesOf(part.notes, endTick / width)) {
          canvas.fillRect(from, y, to - from, Math.max(1, rowHeight - (rowHeight > 3 ? 1 : 0)));
        }
      });
      canvas.globalAlpha = 1;
      canvas.fillStyle = palette.fold;
      for (const x of found) canvas.fillRect(x, HEIGHT - 3, 1, 3);
      canvas.font = `600 11px ${FONT}`;
      canvas.textBaseline = 'middle';
      const places = markers.map(({ tick, text }) => ({ x: tick * scale, text }));
      canvas.fillStyle = palette.strong;
      for (const { x } of places) canvas.fillRect(Math.round(x), 0, 1, HEIGHT);
      canvas.fillStyle = palette.ink;
      const named = namesWithRoom(places, (text) => canvas.measureText(text).width, width);
      for (const { x, text } of named) canvas.fillText(text, x + 3, SECTIONS / 2 + 0.5);
      canvas.restore();
    },
    [parts, width, endTick, looks, seen, front, found, markers, palette],
  );

  const goTo = (clientX: number) => {
    const element = box.current;
    if (!element) return;
    const state = store.getState();
    const x = clientX - element.getBoundingClientRect().left - NAMES_WIDTH;
    const next = viewAt(selectView(state), selectEndTick(state), width, x);
    dispatch(rollActions.viewSet(withinMusic(next, selectRows(state), selectEndTick(state))));
  };
  const onPointer = (event: PointerEvent<HTMLDivElement>) => {
    if (event.type === 'pointerdown') event.currentTarget.setPointerCapture(event.pointerId);
    if (event.buttons === 1) goTo(event.clientX);
  };
  return (
    <div
      ref={box}
      role="scrollbar"
      aria-label="The whole piece"
      aria-controls="roll"
      aria-orientation="horizontal"
      aria-valuemin={firstBar}
      aria-valuemax={lastBar}
      aria-valuenow={Math.min(bar, lastBar)}
      aria-valuetext={`from bar ${bar}`}
      tabIndex={0}
      title="The whole piece: drag to go there"
      className="relative shrink-0 cursor-pointer touch-none select-none border-b border-rule bg-sheet"
      style={{ height: HEIGHT }}
      onPointerDown={onPointer}
      onPointerMove={onPointer}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
        event.preventDefault();
        event.stopPropagation();
        const state = store.getState();
        const now = selectView(state);
        const by = (event.key === 'ArrowRight' ? 0.5 : -0.5) * now.width * now.ticksPerPixel;
        const next = { ...now, left: now.left + by };
        dispatch(rollActions.viewSet(withinMusic(next, selectRows(state), selectEndTick(state))));
      }}
    >
      <CanvasLayer width={width + NAMES_WIDTH} height={HEIGHT} paint={paint} />
      <StripWindow width={width} />
    </div>
  );
};

/** The roll's window in the strip: the one thing that moves with every turn of the wheel. */
const StripWindow = ({ width }: { width: number }) => {
  const view = useAppSelector(selectView);
  const endTick = useAppSelector(selectEndTick);
  const { from, to } = windowIn(view, endTick, width);
  return (
    <div
      aria-hidden
      className="pointer-events-none absolute inset-y-0 left-0 border-2 border-fold"
      style={{ transform: `translateX(${NAMES_WIDTH + from}px)`, width: to - from }}
    />
  );
};
