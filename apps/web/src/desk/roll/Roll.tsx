/** The roll: all parts superimposed over staff-ruled ground, with ruler, crease and playhead. */

import { useMemo, useRef, useSyncExternalStore } from 'react';
import { currentTheme, subscribeTheme } from '../../browser/theme.js';
import { type CanvasHandle, CanvasLayer } from '../../ui/CanvasLayer.js';
import { HUE_NAMES } from '../state/hueModes.js';
import { NAMES_WIDTH, RECORDING_HEIGHT, RULER_HEIGHT } from '../state/rollLayout.js';
import { useAppSelector } from '../state/root.js';
import { BeatHandles } from './BeatHandles.js';
import { HueKey } from './HueKey.js';
import { scaleOf } from './hues.js';
import { RecordingStrip } from './RecordingStrip.js';
import { useGroundPainter } from './useGroundPainter.js';
import { useNotePainters, useRollParts } from './useNotePainters.js';
import { useOverlayPainter } from './useOverlayPainter.js';
import { useRollPointer } from './useRollPointer.js';
import { useFollowing, useRollScene, useRollSize } from './useRollScene.js';

export const Roll = () => {
  const element = useRef<HTMLDivElement>(null);
  const overlay = useRef<CanvasHandle>(null);
  const scene = useRollScene();
  const { view, head } = scene;
  const rollParts = useRollParts();
  const frontPartId = useAppSelector((state) => state.partsShown.frontPartId);
  const front = rollParts.find((part) => part.partId === frontPartId);
  const theme = useSyncExternalStore(subscribeTheme, currentTheme);
  const { hue } = useAppSelector((state) => state.looking.seeing);
  const scale = useMemo(() => scaleOf(hue, theme === 'dark'), [hue, theme]);
  const triedBeats = useAppSelector(({ stepping }) => stepping.beats);
  const { draft, handlers } = useRollPointer(element, rollParts);
  useRollSize(element, head);
  useFollowing(() => overlay.current?.repaint());
  // A layer is painted anew when its painter is a new one.
  const paintLines = useGroundPainter(scene, front, draft.edit);
  const { paintBehind, paintFront } = useNotePainters(scene, rollParts, draft.edit, scale);
  const paintOver = useOverlayPainter(scene, draft);
  const width = view.width + NAMES_WIDTH;
  const height = view.height + head;
  return (
    <div
      ref={element}
      role="group"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the roll takes the keys that walk from note to note
      tabIndex={0}
      aria-label="Roll of all parts. Comma and period go from note to note; arrow keys move what is selected."
      id="roll"
      className="relative h-full min-h-0 w-full touch-none select-none overflow-hidden bg-sheet"
      {...handlers}
    >
      <CanvasLayer width={width} height={height} paint={paintLines} />
      <CanvasLayer width={width} height={height} paint={paintBehind} kept />
      <CanvasLayer width={width} height={height} paint={paintFront} />
      <CanvasLayer ref={overlay} width={width} height={height} paint={paintOver} />
      {head > RULER_HEIGHT && (
        <div className="absolute inset-x-0" style={{ top: RULER_HEIGHT }}>
          <RecordingStrip height={RECORDING_HEIGHT} />
        </div>
      )}
      {triedBeats && <BeatHandles top={head} />}
      {scale && <HueKey title={HUE_NAMES[hue]} scale={scale} />}
    </div>
  );
};
