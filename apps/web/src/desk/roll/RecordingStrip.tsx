/** The recording under the ruler: its shape, its attacks; dragged, or moved by arrow keys, to lie elsewhere. */

import { changeRecording } from '@crispfold/core';
import { type KeyboardEvent, type PointerEvent, useCallback, useEffect, useRef, useState } from 'react';
import { CanvasLayer } from '../../ui/CanvasLayer.js';
import { offsetInWords } from '../controls/offsetInWords.js';
import { usePalette } from '../controls/palette.js';
import { useAppDispatch } from '../session/desk.js';
import { commit } from '../session/saving.js';
import { needSound } from '../session/sound/recordingSound.js';
import { selectTempoMap } from '../state/maps.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectView } from '../state/rollSelectors.js';
import { tickOfX } from '../state/rollView.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import { hinted, said } from '../state/speechSlice.js';

import { paintAttacks, paintWave } from './paintWave.js';

/** Arrow keys move by so many seconds; with Shift by ten times as much. */
const STEP = 0.001;

const FONT = '600 12px "Source Sans 3 Variable", sans-serif';

export const RecordingStrip = ({ height }: { height: number }) => {
  const dispatch = useAppDispatch();
  const arrangementId = useAppSelector(({ piece }) => piece.id);
  const arrangement = useAppSelector(selectArrangement);
  const { recording } = arrangement;
  const view = useAppSelector(selectView);
  const tempoMap = useAppSelector(selectTempoMap);
  const state = useAppSelector(({ recording }) => recording.sound);
  const attacks = useAppSelector(({ recording }) => recording.attacks);
  const palette = usePalette();
  const box = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<{ readonly from: number; readonly to: number } | null>(null);
  useEffect(() => {
    if (arrangementId && recording) dispatch(needSound(arrangementId, recording));
  }, [arrangementId, recording, dispatch]);
  const by = drag ? drag.to - drag.from : 0;
  const offset = (recording?.offset ?? 0) + by;
  const ready = state.kind === 'ready' && state.id === recording?.id ? state.sound : null;
  const words = state.kind === 'failed' ? state.message : ready ? '' : `Reading ${recording?.name ?? 'the recording'}…`;
  const silent = recording?.muted ?? false;
  const paint = useCallback(
    (canvas: CanvasRenderingContext2D) => {
      canvas.fillStyle = palette.rule;
      canvas.fillRect(0, height - 1, view.width, 1);
      if (!ready) {
        canvas.font = FONT;
        canvas.textBaseline = 'middle';
        canvas.fillStyle = palette.ink;
        canvas.fillText(words, 6, height / 2);
        return;
      }
      const picture = { offset, tempoMap, height: height - 1 };
      paintWave(canvas, view, {
        ...picture,
        ...ready,
        hue: silent ? palette.strong : palette.soft,
      });
      if (attacks) paintAttacks(canvas, view, attacks, { ...picture, hue: palette.fold });
    },
    [height, view, offset, tempoMap, ready, words, silent, attacks, palette],
  );
  if (!recording) return null;

  const secondsAt = (event: PointerEvent) => {
    const { left } = (box.current as HTMLDivElement).getBoundingClientRect();
    return tempoMap.secondsAt(tickOfX(view, event.clientX - left));
  };
  const move = (to: number) => {
    const edit = changeRecording(arrangement, 'Move the recording', { offset: to });
    dispatch(commit(edit));
    if (edit) dispatch(said(`Recording ${offsetInWords(to)}`));
  };
  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    event.stopPropagation();
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus({ preventScroll: true });
    const at = secondsAt(event);
    setDrag({ from: at, to: at });
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    event.stopPropagation();
    const at = secondsAt(event);
    dispatch(hinted(`${recording.name}, ${offsetInWords(offset)}: drag it to where it belongs`));
    if (drag) setDrag({ ...drag, to: at });
  };
  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    event.stopPropagation();
    setDrag(null);
    if (by !== 0) move(offset);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
    event.preventDefault();
    event.stopPropagation();
    const step = STEP * (event.shiftKey ? 10 : 1);
    move(Math.round((recording.offset + (event.key === 'ArrowRight' ? step : -step)) * 1e6) / 1e6);
  };
  return (
    <div
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label="Where the recording begins, in seconds"
      aria-valuenow={Math.round(offset * 1000) / 1000}
      aria-valuetext={`${recording.name} ${offsetInWords(offset)}${words ? `. ${words}` : ''}`}
      className="absolute right-0 cursor-ew-resize touch-none select-none overflow-hidden bg-sheet [outline-offset:-2px]"
      style={{ left: NAMES_WIDTH, height }}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={() => setDrag(null)}
      onKeyDown={onKeyDown}
    >
      <CanvasLayer width={view.width} height={height} paint={paint} />
    </div>
  );
};
