/** The roll: all parts superimposed over staff-ruled ground, with ruler, crease and playhead. */
import { type Note, quartersPerMinute } from '@crispfold/core';
import type Konva from 'konva';
import { useCallback, useEffect, useMemo, useRef, useSyncExternalStore } from 'react';
import { Layer, Shape, Stage } from 'react-konva';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { currentTheme, subscribeTheme } from '../../../app/theme.js';
import { useValue } from '../../../ui/valueStore.js';
import { allFindings } from '../findings/findingList.js';
import { selectBars } from '../maps.js';
import { usePartLooks } from '../partLook.js';
import { selectArrangement, selectSelectionSet, selectShownParts } from '../selectors.js';
import { player } from '../transport/player.js';
import { useWritten } from '../useWritten.js';
import { draftIndex } from './gestures.js';
import { layOut } from './layers.js';
import { paintFinding } from './paintFinding.js';
import { NAMES_WIDTH, paintGround, paintNames, paintRuler, RULER_HEIGHT, type RulerSigns } from './paintGround.js';
import { paintPart } from './paintNotes.js';
import { paintOverlay } from './paintOverlay.js';
import { readPalette } from './palette.js';
import { rollActions, selectEndTick, selectRows, selectView } from './rollSlice.js';
import { bringToView, tickOfX } from './rollView.js';
import { useRollPointer } from './useRollPointer.js';

/** Konva wraps the canvas; the painters use the canvas itself. */
const nativeOf = (context: Konva.Context): CanvasRenderingContext2D =>
  (context as unknown as { _context: CanvasRenderingContext2D })._context;

/** Runs a painter in the roll's own coordinates (or the ruler's). */
const within = (
  context: Konva.Context,
  x: number,
  y: number,
  width: number,
  height: number,
  paint: (canvas: CanvasRenderingContext2D) => void,
) => {
  const canvas = nativeOf(context);
  canvas.save();
  canvas.translate(x, y);
  canvas.beginPath();
  canvas.rect(0, 0, width, height);
  canvas.clip();
  paint(canvas);
  canvas.restore();
};

/** Notes of the chosen finding, and of its mend, while the findings are shown. */
const useFindingNotes = (): readonly Note[] => {
  const parts = useAppSelector((state) => selectArrangement(state).parts);
  const chosen = useAppSelector((state) => (state.desk.panel === 'findings' ? state.desk.chosenFinding : null));
  const findings = useValue(allFindings);
  return useMemo(() => {
    const finding = chosen && findings.find(({ key, partId }) => key === chosen.key && partId === chosen.partId);
    if (!finding) return [];
    const ids = new Set([...finding.noteIds, ...(finding.mend?.noteIds ?? [])]);
    return parts.find((part) => part.id === finding.partId)?.notes.filter((note) => ids.has(note.id)) ?? [];
  }, [parts, chosen, findings]);
};

/** The list as it was where its items are the same: what is painted from it is then not painted anew. */
const useSameList = <Item,>(list: readonly Item[]): readonly Item[] => {
  const last = useRef(list);
  const same = last.current.length === list.length && list.every((item, index) => item === last.current[index]);
  if (!same) last.current = list;
  return last.current;
};

export const Roll = () => {
  const dispatch = useAppDispatch();
  const element = useRef<HTMLDivElement>(null);
  const overlay = useRef<Konva.Layer>(null);
  const arrangement = useAppSelector(selectArrangement);
  const { ppq } = arrangement;
  const loop = useAppSelector((state) => state.desk.loop);
  const loopOn = useAppSelector((state) => state.desk.loopOn);
  const frontPartId = useAppSelector((state) => state.desk.frontPartId);
  const creaseTick = useAppSelector((state) => state.desk.creaseTick);
  const view = useAppSelector(selectView);
  const rows = useAppSelector(selectRows);
  const bars = useAppSelector(selectBars);
  const endTick = useAppSelector(selectEndTick);
  const shown = useAppSelector(selectShownParts);
  const selection = useAppSelector(selectSelectionSet);
  const { layers } = useWritten();
  const theme = useSyncExternalStore(subscribeTheme, currentTheme);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the palette is read anew when the theme turns
  const palette = useMemo(readPalette, [theme]);
  const looks = usePartLooks();
  const rollParts = useSameList(
    useMemo(() => shown.map((part) => layOut(part, layers.get(part.id), ppq)), [shown, layers, ppq]),
  );
  const { draft, handlers } = useRollPointer(element, rollParts);

  const visibleBars = useMemo(() => {
    const right = tickOfX(view, view.width);
    return bars.filter((bar) => bar.end > view.left && bar.start < right);
  }, [bars, view]);

  const signs = useMemo(
    (): RulerSigns => ({
      meters: arrangement.meters.map((meter) => ({
        tick: meter.tick,
        text: `${meter.numerator}/${meter.denominator}`,
      })),
      tempos: arrangement.tempos.map((tempo) => ({
        tick: tempo.tick,
        text: `♩ = ${Math.round(quartersPerMinute(tempo.microsecondsPerQuarter))}`,
      })),
      markers: arrangement.markers,
      loop,
      loopOn,
    }),
    [arrangement.meters, arrangement.tempos, arrangement.markers, loop, loopOn],
  );

  const findingNotes = useFindingNotes();

  const draftParts = useMemo(() => {
    const { notes } = draft;
    if (!notes) return rollParts;
    return rollParts.map((part) =>
      part.partId === frontPartId ? { ...part, played: draftIndex(part.played, notes) } : part,
    );
  }, [draft, rollParts, frontPartId]);

  useEffect(() => {
    const roll = element.current;
    if (!roll) return undefined;
    const measure = () =>
      dispatch(
        rollActions.resized({
          width: Math.max(100, roll.clientWidth - NAMES_WIDTH),
          height: Math.max(60, roll.clientHeight - RULER_HEIGHT),
        }),
      );
    const observer = new ResizeObserver(measure);
    observer.observe(roll);
    measure();
    return () => observer.disconnect();
  }, [dispatch]);

  // The playhead moves on its own layer, without a render; the view follows it while it plays.
  const latestView = useRef(view);
  latestView.current = view;
  useEffect(
    () =>
      player.state.subscribe(() => {
        overlay.current?.batchDraw();
        const { playing, tick } = player.state.get();
        if (!playing) return;
        const followed = bringToView(latestView.current, tick);
        if (followed !== latestView.current) dispatch(rollActions.viewSet(followed));
      }),
    [dispatch],
  );

  // A layer is painted anew when its painter is a new one.
  const paintLines = useCallback(
    (context: Konva.Context) => {
      within(context, NAMES_WIDTH, RULER_HEIGHT, view.width, view.height, (canvas) =>
        paintGround(canvas, view, rows, visibleBars, ppq, palette),
      );
      within(context, NAMES_WIDTH, 0, view.width, RULER_HEIGHT, (canvas) =>
        paintRuler(canvas, view, visibleBars, ppq, signs, palette),
      );
      within(context, 0, RULER_HEIGHT, NAMES_WIDTH, view.height, (canvas) => paintNames(canvas, view, rows, palette));
    },
    [view, rows, visibleBars, ppq, signs, palette],
  );
  const paintParts = useCallback(
    (context: Konva.Context) =>
      within(context, NAMES_WIDTH, RULER_HEIGHT, view.width, view.height, (canvas) => {
        for (const part of draftParts) {
          const look = looks.get(part.partId);
          if (!look) continue;
          paintPart(canvas, view, rows, part, {
            look,
            front: part.partId === frontPartId,
            selection,
            creaseTick: creaseTick ?? Number.POSITIVE_INFINITY,
            palette,
          });
        }
        paintFinding(canvas, view, rows, findingNotes, palette);
      }),
    [view, rows, draftParts, looks, frontPartId, selection, creaseTick, findingNotes, palette],
  );
  const paintOver = useCallback(
    (context: Konva.Context) =>
      within(context, NAMES_WIDTH, 0, view.width, view.height + RULER_HEIGHT, (canvas) =>
        paintOverlay(canvas, view, rows, {
          draft,
          creaseTick,
          playheadTick: player.state.get().tick,
          endTick,
          palette,
        }),
      ),
    [view, rows, draft, creaseTick, endTick, palette],
  );
  return (
    <div
      ref={element}
      role="group"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the roll takes the keys that walk from note to note
      tabIndex={0}
      aria-label="Roll of all parts. Comma and period go from note to note; arrow keys move what is selected."
      data-testid="roll"
      className="relative h-full min-h-0 w-full touch-none select-none overflow-hidden bg-sheet"
      {...handlers}
    >
      <Stage
        width={view.width + NAMES_WIDTH}
        height={view.height + RULER_HEIGHT}
        listening={false}
        className="absolute inset-0"
      >
        <Layer listening={false}>
          <Shape sceneFunc={paintLines} />
        </Layer>
        <Layer listening={false}>
          <Shape sceneFunc={paintParts} />
        </Layer>
        <Layer listening={false} ref={overlay}>
          <Shape sceneFunc={paintOver} />
        </Layer>
      </Stage>
    </div>
  );
};
