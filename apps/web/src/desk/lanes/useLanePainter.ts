/** Draws a lane as it stands, and as a drag has it. */
import { laneBounds } from '@crispfold/core';
import { useCallback, useMemo } from 'react';
import { usePalette } from '../controls/palette.js';
import { usePartLooks } from '../controls/partLook.js';
import { stemHues } from '../state/laneParts.js';
import { selectBars } from '../state/maps.js';
import { useAppSelector } from '../state/root.js';
import { type Drag, draftOf, type LaneScene, movedBy } from './laneModel.js';
import { type LaneLayer, type LanePicture, paintLane } from './paintLane.js';
import { mergedByTick, yOfValue } from './strokes.js';

type Looks = ReturnType<typeof usePartLooks>;

/** Part by part; velocities of all parts are one layer: stems that begin together stand side by side. */
const layersOf = (
  { lane, points, byPart, partId }: Pick<LaneScene, 'lane' | 'points' | 'byPart' | 'partId'>,
  looks: Looks,
  ink: string,
): readonly LaneLayer[] => {
  const hueOf = (id: number | null) => (id !== null && looks.get(id)?.hue) || ink;
  if (lane.kind === 'velocity') return [{ points, hue: hueOf(partId) }];
  // Of several parts those that have something here.
  const shown = byPart.length === 1 ? byPart : byPart.filter((own) => own.points.length > 0);
  return shown.map((own) => ({ points: own.points, hue: hueOf(own.partId) }));
};

const boxOf = (drag: Drag | null, { view, scale }: Pick<LaneScene, 'view' | 'scale'>): LanePicture['box'] => {
  if (drag?.kind !== 'box') return null;
  const toX = (tick: number) => (tick - view.left) / view.ticksPerPixel;
  const toY = (value: number) => yOfValue(view, scale, value);
  return { x1: toX(drag.from.tick), y1: toY(drag.from.value), x2: toX(drag.to.tick), y2: toY(drag.to.value) };
};

/** See the file's head. */
export const useLanePainter = (scene: LaneScene, drag: Drag | null): ((canvas: CanvasRenderingContext2D) => void) => {
  const { lane, points, byPart, partId, chosen, selected, view, scale, hand, unit } = scene;
  const palette = usePalette();
  const looks = usePartLooks();
  const bars = useAppSelector(selectBars);
  const asTheyAre = useMemo(
    () => layersOf({ lane, points, byPart, partId }, looks, palette.ink),
    [lane, points, byPart, partId, looks, palette],
  );
  const moving = drag?.kind === 'move';
  /** What stays while others are dragged; made once for a drag. */
  const still = useMemo(
    () =>
      moving ? asTheyAre.map((own) => ({ ...own, points: own.points.filter(({ id }) => !chosen.has(id)) })) : asTheyAre,
    [moving, asTheyAre, chosen],
  );
  const layers = useMemo(() => {
    if (drag?.kind !== 'move') return asTheyAre;
    const move = movedBy(lane, drag, 1);
    return still.map(({ points: rest, hue }, index) => {
      const own = asTheyAre[index]?.points ?? [];
      const moved = own.filter(({ id }) => chosen.has(id)).map((point) => ({ ...point, ...move(point) }));
      return { hue, points: mergedByTick(rest, moved) };
    });
  }, [drag, asTheyAre, still, chosen, lane]);
  const hueOf = useMemo(
    () => stemHues(lane, byPart, (id) => looks.get(id)?.hue ?? palette.ink),
    [lane, byPart, looks, palette],
  );
  return useCallback(
    (canvas) =>
      paintLane(canvas, view, {
        lane,
        layers,
        hueOf,
        scale,
        chosen,
        selected,
        bars,
        rest: laneBounds(lane).rest,
        draft: draftOf({ lane, hand, unit }, drag),
        box: boxOf(drag, { view, scale }),
        palette,
      }),
    [view, lane, layers, hueOf, scale, chosen, selected, bars, hand, unit, drag, palette],
  );
};
