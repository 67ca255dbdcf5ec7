/** A handle for each beat that is tried, under the ruler: dragged, or moved by arrow keys, to where the beat is. */

import { beatMoved, placesOfBeats } from '@crispfold/core';
import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import { useAppDispatch } from '../session/desk.js';
import { selectTempoMap } from '../state/maps.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import { bringToView, tickOfX, xOfTick } from '../state/rollView.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import { hinted, said } from '../state/speechSlice.js';
import { steppingActions } from '../state/steppingSlice.js';

/** Arrow keys move a beat by so many seconds; with Shift by five times as much. */
const STEP = 0.01;
/** Handles that would lie nearer to each other than this, in pixels, are not shown: one sees dots, and draws nearer. */
const LEAST_BETWEEN = 14;
/** Width and height of a handle, in pixels. */
const [WIDTH, HEIGHT] = [14, 18];

const KEYS: ReadonlySet<string> = new Set(['ArrowLeft', 'ArrowRight', ',', '.']);

const secondsInWords = (seconds: number): string => `at ${seconds.toFixed(2)} seconds`;

export const BeatHandles = ({ top }: { top: number }) => {
  const dispatch = useAppDispatch();
  const beats = useAppSelector(({ stepping }) => stepping.beats);
  const arrangement = useAppSelector(selectArrangement);
  const tempoMap = useAppSelector(selectTempoMap);
  const view = useAppSelector(selectView);
  const row = useRef<HTMLDivElement>(null);
  const [current, setCurrent] = useState(0);
  const [dragged, setDragged] = useState<number | null>(null);
  /** Set by a key that goes to another beat, until that one has the focus. */
  const going = useRef(false);
  useEffect(() => {
    if (!going.current) return;
    const handle = row.current?.querySelector<HTMLElement>(`[data-beat="${current}"]`);
    if (!handle) return;
    handle.focus({ preventScroll: true });
    going.current = false;
  });
  const places = useMemo(() => (beats ? placesOfBeats(arrangement, beats) : []), [arrangement, beats]);
  if (!beats) return null;

  let last = Number.NEGATIVE_INFINITY;
  const shown = places.flatMap(({ tick, beginsBar }, index) => {
    const x = xOfTick(view, tick);
    if (x < 0 || x > view.width || x - last < LEAST_BETWEEN) return [];
    last = x;
    return [{ index, x, beginsBar, time: beats.times[index] as number }];
  });
  const stop = shown.some(({ index }) => index === current) ? current : shown[0]?.index;

  const move = (index: number, to: number) => {
    const moved = beatMoved(beats, index, to);
    dispatch(steppingActions.beatsTried(moved));
    return moved.times[index] as number;
  };
  const goTo = (index: number) => {
    const place = places[index];
    if (!place) return;
    const brought = bringToView(view, place.tick);
    if (brought !== view) dispatch(rollActions.viewSet(brought));
    going.current = true;
    setCurrent(index);
  };
  const onKeyDown = (event: KeyboardEvent, index: number) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (!KEYS.has(event.key)) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === ',') goTo(index - 1);
    else if (event.key === '.') goTo(index + 1);
    else {
      const by = STEP * (event.shiftKey ? 5 : 1) * (event.key === 'ArrowLeft' ? -1 : 1);
      dispatch(said(secondsInWords(move(index, timeOf(index) + by))));
    }
  };
  const timeOf = (index: number) => beats.times[index] as number;
  const nameOf = (index: number) => `Beat ${places[index]?.beat} of bar ${places[index]?.bar}`;
  const secondsAt = ({ clientX }: PointerEvent) => {
    const { left } = (row.current as HTMLDivElement).getBoundingClientRect();
    return tempoMap.secondsAt(tickOfX(view, clientX - left));
  };
  const onPointerDown = (event: PointerEvent<HTMLElement>, index: number) => {
    event.stopPropagation();
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus({ preventScroll: true });
    setCurrent(index);
    setDragged(index);
  };
  const onPointerMove = (event: PointerEvent, index: number) => {
    event.stopPropagation();
    dispatch(hinted(`${nameOf(index)}: drag it to where it is played`));
    if (dragged === index) move(index, secondsAt(event));
  };
  const onPointerUp = (event: PointerEvent, index: number) => {
    event.stopPropagation();
    if (dragged === index) dispatch(said(`${nameOf(index)} ${secondsInWords(timeOf(index))}`));
    setDragged(null);
  };
  return (
    <div
      ref={row}
      role="group"
      aria-label="Beats found. Arrow keys move a beat; comma and period go to the one before and the next."
      className="pointer-events-none absolute right-0 overflow-hidden"
      style={{ left: NAMES_WIDTH, top, height: HEIGHT }}
    >
      {shown.map(({ index, x, beginsBar, time }) => (
        <span
          key={index}
          role="slider"
          tabIndex={index === stop ? 0 : -1}
          data-beat={index}
          aria-label={nameOf(index)}
          aria-valuenow={Math.round(time * 1000) / 1000}
          aria-valuetext={secondsInWords(time)}
          className="pointer-events-auto absolute top-0 flex cursor-ew-resize touch-none justify-center [outline-offset:-2px]"
          style={{ left: x - WIDTH / 2, width: WIDTH, height: HEIGHT }}
          onPointerDown={(event) => onPointerDown(event, index)}
          onPointerMove={(event) => onPointerMove(event, index)}
          onPointerUp={(event) => onPointerUp(event, index)}
          onPointerCancel={() => setDragged(null)}
          onKeyDown={(event) => onKeyDown(event, index)}
        >
          <span
            className={`bg-fold ${beginsBar ? 'h-4 w-2' : 'mt-0 h-2.5 w-1.5'} ${index === current ? 'outline outline-2 outline-ink' : ''}`}
          />
        </span>
      ))}
    </div>
  );
};
