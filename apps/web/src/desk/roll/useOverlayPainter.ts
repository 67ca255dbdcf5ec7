/** The painter of what lies over the notes and moves: the crease, the playhead, what a hand is about to do. */

import { useCallback } from 'react';
import { useDesk } from '../session/desk.js';
import { selectEntryPlace } from '../state/entryPlace.js';
import { selectTempoMap } from '../state/maps.js';
import { NAMES_WIDTH } from '../state/rollLayout.js';
import { selectEndTick } from '../state/rollSelectors.js';
import { useAppSelector } from '../state/root.js';
import type { Draft } from './drags.js';
import { paintOverlay } from './paintOverlay.js';
import type { RollScene } from './useRollScene.js';
import { within } from './within.js';

/** A new painter when what it paints is another; where the playhead is, it looks each time. */
export const useOverlayPainter = ({ view, head, palette }: RollScene, draft: Draft) => {
  const { player } = useDesk();
  const creaseTick = useAppSelector((state) => state.looking.creaseTick);
  const endTick = useAppSelector(selectEndTick);
  const tempoMap = useAppSelector(selectTempoMap);
  const entry = useAppSelector(selectEntryPlace);
  return useCallback(
    (context: CanvasRenderingContext2D) =>
      within(context, NAMES_WIDTH, 0, view.width, view.height + head, (canvas) =>
        paintOverlay(canvas, view, {
          draft,
          creaseTick,
          playheadTick: player.state.get().tick,
          entry,
          endTick,
          head,
          palette,
          milliseconds: (tick) => tempoMap.secondsAt(tick) * 1000,
        }),
      ),
    [view, head, draft, creaseTick, endTick, palette, tempoMap, entry, player.state.get],
  );
};
