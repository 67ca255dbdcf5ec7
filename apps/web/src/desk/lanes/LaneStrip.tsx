/** One lane under the roll: seen with it, drawn in by pointer, its points chosen, moved and set by keyboard too. */
import { type Lane, laneKey, laneName } from '@crispfold/core';
import { X } from 'lucide-react';
import { type KeyboardEvent, type PointerEvent, useState } from 'react';
import { Button } from '../../ui/Button.js';
import { CanvasLayer } from '../../ui/CanvasLayer.js';
import { commitLane } from '../actions/commitLane.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { lanesActions } from '../state/lanesSlice.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import { bringToView } from '../state/rollView.js';
import { useAppSelector } from '../state/root.js';
import { hinted, said } from '../state/speechSlice.js';
import {
  type Drag,
  dragged,
  hintAt,
  keyPressed,
  type LaneOutcome,
  type LaneScene,
  laneLabel,
  laneShort,
  placeAt,
  pressed,
  released,
} from './laneModel.js';
import { useLanePainter } from './useLanePainter.js';
import { useLaneScene } from './useLaneScene.js';

/** Carries out what comes of a hand in a lane. */
const useCarryOut = (lane: Lane, setDrag: (drag: Drag | null) => void): ((outcome: LaneOutcome) => void) => {
  const dispatch = useAppDispatch();
  const rollView = useAppSelector(selectView);
  return (outcome) => {
    const { drag, chosen, edit, words, label, refused, shows } = outcome;
    if (drag !== undefined) setDrag(drag);
    if (chosen) dispatch(lanesActions.pointsChosen({ lane: laneKey(lane), ids: chosen }));
    const done = edit === undefined ? null : dispatch(commitLane(edit));
    if (refused) dispatch(hinted(refused));
    const spoken = refused ?? words ?? (label && done ? done.label : undefined);
    if (spoken !== undefined) dispatch(said(spoken));
    if (shows !== undefined) dispatch(rollActions.viewSet(bringToView(rollView, shows)));
  };
};

/** What the pointer and the keys do in a lane. */
const useLaneHand = (scene: LaneScene, drag: Drag | null, setDrag: (drag: Drag | null) => void) => {
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const carryOut = useCarryOut(scene.lane, setDrag);
  const placeOf = (event: PointerEvent<HTMLDivElement>) => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return placeAt(scene, event.clientX - left, event.clientY - top);
  };
  return {
    onPointerDown: (event: PointerEvent<HTMLDivElement>) => {
      if (event.button !== 0) return;
      const outcome = pressed(scene, placeOf(event), event.shiftKey);
      if (outcome.refused === undefined) {
        event.currentTarget.setPointerCapture(event.pointerId);
        event.currentTarget.focus({ preventScroll: true });
      }
      carryOut(outcome);
    },
    onPointerMove: (event: PointerEvent<HTMLDivElement>) => {
      const place = placeOf(event);
      dispatch(hinted(hintAt(scene, place)));
      if (drag) setDrag(dragged(scene, drag, place));
    },
    onPointerUp: () => {
      if (drag) carryOut(released(scene, drag));
    },
    onPointerCancel: () => setDrag(null),
    onKeyDown: (event: KeyboardEvent<HTMLDivElement>) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const outcome = keyPressed(scene, event.key, event.shiftKey, player.state.get().tick);
      if (!outcome) return;
      event.preventDefault();
      event.stopPropagation();
      carryOut(outcome);
    },
  };
};

export const LaneStrip = ({ lane, height }: { lane: Lane; height: number }) => {
  const [drag, setDrag] = useState<Drag | null>(null);
  const scene = useLaneScene(lane, height);
  const paint = useLanePainter(scene, drag);
  const handlers = useLaneHand(scene, drag, setDrag);
  return (
    <div className="relative flex border-t border-rule" style={{ height }}>
      <LaneName lane={lane} />
      <div
        role="group"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the lane takes the keys that walk from point to point
        tabIndex={0}
        aria-label={laneLabel(scene)}
        id={`lane-${laneKey(lane)}`}
        className={`relative min-w-0 flex-1 touch-none select-none overflow-hidden [outline-offset:-2px] ${scene.hand.tool === 'choose' ? '' : 'cursor-crosshair'}`}
        {...handlers}
      >
        <CanvasLayer width={scene.view.width} height={height} paint={paint} />
      </div>
    </div>
  );
};

/** Its name beside it, and the way to have it away. */
const LaneName = ({ lane }: { lane: Lane }) => {
  const dispatch = useAppDispatch();
  const name = laneName(lane);
  return (
    <div
      className="flex shrink-0 flex-col justify-between overflow-hidden bg-desk py-0.5 pl-1 text-[0.7rem] leading-tight"
      style={{ width: NAMES_WIDTH }}
    >
      <span title={name}>{laneShort(lane)}</span>
      <Button
        look="quiet"
        className="!min-h-5 !w-5 !px-0.5"
        aria-label={`Take the lane ${name} away`}
        title="Take this lane away; its values stay"
        onClick={() => dispatch(lanesActions.laneTurned(laneKey(lane)))}
      >
        <X size={12} aria-hidden />
      </Button>
    </div>
  );
};
