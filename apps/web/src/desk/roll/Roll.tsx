/** The roll: all parts superimposed over staff-ruled ground, with ruler, crease and playhead. */

import {
  type Arrangement,
  type ArrangementFields,
  type Bar,
  beatsOfBars,
  createMeterMap,
  type Edit,
  editedNotes,
  type Finding,
  type FoundBeats,
  instrumentById,
  isUnpitched,
  type Note,
  noteNameOf,
  type Part,
  placesOfBeats,
  selectedIn,
  selectedNotes,
  withBarLinesMoved,
} from '@crispfold/core';
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { useStore } from 'react-redux';
import { currentTheme, subscribeTheme } from '../../browser/theme.js';
import { type CanvasHandle, CanvasLayer } from '../../ui/CanvasLayer.js';
import { selectHeldNotes } from '../controls/engraved/heads.js';
import { usePalette } from '../controls/palette.js';
import { usePartLooks } from '../controls/partLook.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { useLayers } from '../session/useWritten.js';
import { selectEntryPlace } from '../state/entryPlace.js';
import { selectFindings } from '../state/findings.js';
import { isForward } from '../state/forward.js';
import { HUE_NAMES } from '../state/hueModes.js';
import { lookingActions } from '../state/lookingSlice.js';
import { selectBars, selectTempoMap } from '../state/maps.js';
import { type PageGrid, pageGrid } from '../state/pageGrid.js';
import { NAMES_WIDTH, RECORDING_HEIGHT, RULER_HEIGHT } from '../state/rollLayout.js';
import { selectEndTick, selectHead, selectKeyPitches, selectRows, selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import {
  bringToView,
  inWholePixels,
  overOtherRows,
  type RollView,
  type Rows,
  tickOfX,
  withinMusic,
  withRowsInView,
} from '../state/rollView.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { seenOf, selectArrangement, selectFrontPart, selectShownParts } from '../state/selectors.js';
import { BeatHandles } from './BeatHandles.js';
import { draftIndex } from './gestures.js';
import { type Scale, scaleOf } from './hues.js';
import { layOut, type RollPart } from './layers.js';
import { paintBeats, paintFinding, paintHeld, paintLinesToCome, paintPicked } from './paintFinding.js';
import { paintGround, paintNames, paintRuler, paintSoundNames, type RulerSigns } from './paintGround.js';
import { type NotePaint, paintPart } from './paintNotes.js';
import { paintOverlay } from './paintOverlay.js';
import { paintWave } from './paintWave.js';
import { creaseX, FOLD_SIZE } from './pointer.js';
import { RecordingStrip } from './RecordingStrip.js';
import { signsOfRuler } from './rulerLabels.js';
import { createScrolledPainter } from './scrolledPainter.js';
import { useRollPointer } from './useRollPointer.js';
import { useWaveBehind } from './useWaveBehind.js';

/** Runs a painter in the roll's own coordinates (or the ruler's). */
const within = (
  canvas: CanvasRenderingContext2D,
  x: number,
  y: number,
  width: number,
  height: number,
  paint: (canvas: CanvasRenderingContext2D) => void,
) => {
  canvas.save();
  canvas.translate(x, y);
  canvas.beginPath();
  canvas.rect(0, 0, width, height);
  canvas.clip();
  paint(canvas);
  canvas.restore();
};

const NO_LINES: readonly number[] = [];

/** The chosen finding, while the findings are shown. */
const useShownFinding = (): Finding | undefined => {
  const chosen = useAppSelector((state) => (state.layout.panel === 'findings' ? state.checks.chosenFinding : null));
  const findings = useAppSelector(selectFindings);
  return useMemo(
    () => (chosen ? findings.find(({ key, partId }) => key === chosen.key && partId === chosen.partId) : undefined),
    [chosen, findings],
  );
};

/** Where bars would begin with beats that were found. */
const barsOfBeats = (arrangement: Arrangement, beats: FoundBeats): readonly number[] =>
  placesOfBeats(arrangement, beats).flatMap(({ tick, beginsBar }) => (beginsBar ? [tick] : []));

/** Where beats that are tried lie. */
const useBeatTicks = (tried: FoundBeats | null): readonly number[] => {
  const arrangement = useAppSelector(selectArrangement);
  return useMemo(
    () => (tried ? placesOfBeats(arrangement, tried).map(({ tick }) => tick) : NO_LINES),
    [arrangement, tried],
  );
};

/** Where the bar lines would stand after the finding's mend; none for one that moves none. */
const useLinesToCome = (finding: Finding | undefined, tried: FoundBeats | null): readonly number[] => {
  const arrangement = useAppSelector(selectArrangement);
  const endTick = useAppSelector(selectEndTick);
  return useMemo(() => {
    const mend = finding?.mend;
    if (tried) return barsOfBeats(arrangement, tried);
    if (mend?.where === 'tempo') return barsOfBeats(arrangement, mend.beats);
    if (mend?.where !== 'barLines') return NO_LINES;
    const meters = withBarLinesMoved(arrangement, mend.pickup);
    if (!meters) return NO_LINES;
    const bars = createMeterMap(meters, arrangement.ppq).barsTo(endTick);
    return bars.slice(1).map(({ start }) => start);
  }, [finding, tried, arrangement, endTick]);
};

/** Notes of a finding, and of its mend. */
const useFindingNotes = (finding: Finding | undefined): readonly Note[] => {
  const parts = useAppSelector((state) => selectArrangement(state).parts);
  return useMemo(() => {
    if (!finding) return [];
    const ids = new Set([...finding.noteIds, ...(finding.mend?.noteIds ?? [])]);
    return parts.find((part) => part.id === finding.partId)?.notes.filter((note) => ids.has(note.id)) ?? [];
  }, [parts, finding]);
};

/** Notes that the sentence in hand picks. */
const usePickedNotes = (): readonly Note[] => {
  const parts = useAppSelector(selectShownParts);
  const picked = useAppSelector(({ stepping }) => stepping.picked);
  return useMemo(
    () => (picked.size === 0 ? [] : parts.flatMap((part) => [...selectedNotes(picked, part)])),
    [parts, picked],
  );
};

/** The page's own divisions for the front part; null where the grid is one value. */
const usePageGrid = (front: RollPart | undefined, bars: readonly Bar[], ppq: number): PageGrid | null => {
  const dispatch = useAppDispatch();
  const asked = useAppSelector((state) => state.looking.seeing.pageGrid);
  const written = front?.written;
  const grid = useMemo(
    () => (asked && written ? pageGrid(beatsOfBars(bars, ppq), written.notes) : null),
    [asked, written, bars, ppq],
  );
  useEffect(() => {
    dispatch(lookingActions.gridFound(grid));
    return () => void dispatch(lookingActions.gridFound(null));
  }, [grid, dispatch]);
  return grid;
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

/** Signs of the ruler as an Edit has them; none of those it is not about. */
const movedSigns = (edit: Edit | null): Partial<ArrangementFields> => {
  const [change] = edit?.changes ?? [];
  return change?.kind === 'arrangementFields' ? change.after : {};
};

/** How plain the recording is behind the notes. */
const BEHIND = 0.5;

/** With more parts than these on view, those behind are drawn without outlines: they could not be told apart anyway. */
const CROWDED = 12;

/** The list as it was where its items are the same: what is painted from it is then not painted anew. */
const useSameList = <Item,>(list: readonly Item[]): readonly Item[] => {
  const last = useRef(list);
  const same = last.current.length === list.length && list.every((item, index) => item === last.current[index]);
  if (!same) last.current = list;
  return last.current;
};

/** The key of what hue shows, in the roll's corner. */
const HueKey = ({ title, scale }: { title: string; scale: Scale }) => (
  <figure
    aria-label={`Hue shows: ${title}`}
    className="pointer-events-none absolute bottom-1 right-1 max-w-[70%] border border-rule bg-sheet/90 px-2 py-1 text-sm"
  >
    <figcaption className="sr-only">{title}</figcaption>
    <ul className="flex flex-wrap gap-x-2">
      {scale.shades.map(({ colour, words }) => (
        <li key={words} className="flex items-center gap-1 whitespace-nowrap">
          <span aria-hidden className="inline-block size-3 border border-ink" style={{ background: colour }} />
          {words}
        </li>
      ))}
    </ul>
  </figure>
);

export const Roll = () => {
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const element = useRef<HTMLDivElement>(null);
  const overlay = useRef<CanvasHandle>(null);
  const arrangement = useAppSelector(selectArrangement);
  const { ppq } = arrangement;
  const loop = useAppSelector((state) => state.playback.loop);
  const loopOn = useAppSelector((state) => state.playback.loopOn);
  const frontPartId = useAppSelector((state) => state.partsShown.frontPartId);
  const creaseTick = useAppSelector((state) => state.looking.creaseTick);
  const exactView = useAppSelector(selectView);
  const view = useMemo(() => inWholePixels(exactView), [exactView]);
  const head = useAppSelector(selectHead);
  const rows = useAppSelector(selectRows);
  const bars = useAppSelector(selectBars);
  const endTick = useAppSelector(selectEndTick);
  const tempoMap = useAppSelector(selectTempoMap);
  const entry = useAppSelector(selectEntryPlace);
  const shown = useAppSelector(selectShownParts);
  const selection = useAppSelector((state) => state.selecting.selection);
  const onlyShown = useAppSelector((state) => state.selecting.onlyShown);
  const layers = useLayers();
  const theme = useSyncExternalStore(subscribeTheme, currentTheme);

  const palette = usePalette();
  const looks = usePartLooks();
  const { hue, names, outline, keyMarked } = useAppSelector((state) => state.looking.seeing);
  const key = useAppSelector(selectKeyPitches);
  const marked = keyMarked ? key : null;
  const scale = useMemo(() => scaleOf(hue, theme === 'dark'), [hue, theme]);
  const rollParts = useSameList(
    useMemo(
      () => shown.map((part) => layOut(seenOf(part, onlyShown), layers.get(part.id), ppq, onlyShown?.get(part.id))),
      [shown, layers, ppq, onlyShown],
    ),
  );
  const frontRoll = rollParts.find((part) => part.partId === frontPartId);
  const wave = useWaveBehind();
  const { draft, handlers } = useRollPointer(element, rollParts);

  const visibleBars = useMemo(() => {
    const right = tickOfX(view, view.width);
    return bars.filter((bar) => bar.end > view.left && bar.start < right);
  }, [bars, view]);

  // A marker that is dragged is drawn where letting go would leave it.
  const { markers, meters, keys, tempos } = { ...arrangement, ...movedSigns(draft.edit) };
  const grid = usePageGrid(frontRoll, bars, ppq);
  const lines = useMemo(() => grid?.linesIn(view.left, tickOfX(view, view.width)) ?? NO_LINES, [grid, view]);
  const engraved = useAppSelector(({ layout }) => layout.pageBars);
  const firstBar = engraved && bars[engraved.first - 1];
  const lastBar = engraved && bars[engraved.last - 1];
  const signs = useMemo(
    (): Omit<RulerSigns, 'fold'> => ({
      ...signsOfRuler({ markers, meters, keys, tempos }),
      loop,
      loopOn,
      page: engraved && firstBar && lastBar ? { start: firstBar.start, end: lastBar.end } : null,
    }),
    [markers, meters, keys, tempos, loop, loopOn, engraved, firstBar, lastBar],
  );

  // A percussion part in front names its rows.
  const frontPart = useAppSelector(selectFrontPart);
  const soundRows = useMemo(
    () =>
      frontPart && isUnpitched(instrumentById(frontPart.instrument))
        ? new Map(frontPart.notes.map(({ pitch }) => [pitch, noteNameOf(frontPart, pitch)]))
        : null,
    [frontPart],
  );
  useRowsInView(frontPart, rows);
  useSamePitch(rows);
  const finding = useShownFinding();
  const findingNotes = useFindingNotes(finding);
  const triedBeats = useAppSelector(({ stepping }) => stepping.beats);
  const beats = useBeatTicks(triedBeats);
  const linesToCome = useLinesToCome(finding, triedBeats);
  const picked = usePickedNotes();
  const held = useAppSelector(selectHeldNotes);

  const tried = useAppSelector(({ stepping }) => stepping.tried);
  const shownEdit = draft.edit ?? tried;
  const draftParts = useMemo(() => {
    if (!shownEdit) return rollParts;
    const edited = editedNotes(shownEdit);
    return rollParts.map((part) => {
      const notes = edited.get(part.partId);
      return notes ? { ...part, played: draftIndex(part.played, notes) } : part;
    });
  }, [shownEdit, rollParts]);

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
  }, [dispatch, head]);

  // The playhead moves on its own layer, without a render; the view follows it while it plays.
  const latestView = useRef(exactView);
  latestView.current = exactView;
  useEffect(
    () =>
      player.state.subscribe(() => {
        overlay.current?.repaint();
        const { playing, tick } = player.state.get();
        if (!playing || !store.getState().looking.seeing.follow) return;
        const followed = bringToView(latestView.current, tick);
        if (followed !== latestView.current) dispatch(rollActions.viewSet(followed));
      }),
    [dispatch, store, player.state.get, player.state.subscribe],
  );

  const foldAt = creaseX(view, creaseTick ?? Number.POSITIVE_INFINITY);
  const fold = useMemo(() => ({ x: foldAt - FOLD_SIZE, width: FOLD_SIZE }), [foldAt]);

  // A layer is painted anew when its painter is a new one.
  const paintLines = useCallback(
    (context: CanvasRenderingContext2D) => {
      within(context, NAMES_WIDTH, head, view.width, view.height, (canvas) => {
        paintGround(canvas, view, rows, visibleBars, ppq, palette, marked, lines);
        if (!wave) return;
        canvas.globalAlpha = BEHIND;
        paintWave(canvas, view, { ...wave, height: view.height, hue: palette.rule });
        canvas.globalAlpha = 1;
      });
      within(context, NAMES_WIDTH, 0, view.width, RULER_HEIGHT, (canvas) =>
        paintRuler(canvas, view, visibleBars, ppq, { ...signs, fold }, palette),
      );
      within(context, 0, head, NAMES_WIDTH, view.height, (canvas) => paintNames(canvas, view, rows, palette));
    },
    [view, head, rows, visibleBars, ppq, signs, fold, palette, marked, lines, wave],
  );
  const forward = useAppSelector((state) => state.selecting.forward);
  const forwardIds = useAppSelector((state) => state.selecting.forwardNotes);
  const { nextNoteId } = arrangement;
  const dimmedIn = useCallback(
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
  const paintOf = useCallback(
    (parts: readonly RollPart[], canvas: CanvasRenderingContext2D, seen: RollView) => {
      for (const part of parts) {
        const look = looks.get(part.partId);
        if (!look) continue;
        paintPart(canvas, seen, rows, part, {
          look,
          front: part.partId === frontPartId,
          crowded: rollParts.length > CROWDED,
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
    [rows, looks, frontPartId, rollParts.length, selection, creaseTick, palette, scale, names, outline, dimmedIn],
  );
  // An edit of the front part leaves those behind as they are painted.
  const behind = useSameList(
    useMemo(() => draftParts.filter((part) => part.partId !== frontPartId), [draftParts, frontPartId]),
  );
  const front = useSameList(
    useMemo(() => draftParts.filter((part) => part.partId === frontPartId), [draftParts, frontPartId]),
  );
  const [paintScrolled] = useState(createScrolledPainter);
  const paintPartsBehind = useCallback(
    (canvas: CanvasRenderingContext2D, seen: RollView) => paintOf(behind, canvas, seen),
    [paintOf, behind],
  );
  const paintBehind = useCallback(
    (context: CanvasRenderingContext2D, stays: boolean) =>
      paintScrolled(context, stays, { x: NAMES_WIDTH, y: head }, view, paintPartsBehind),
    [view, head, paintScrolled, paintPartsBehind],
  );
  const paintFront = useCallback(
    (context: CanvasRenderingContext2D) =>
      within(context, NAMES_WIDTH, head, view.width, view.height, (canvas) => {
        paintOf(front, canvas, view);
        if (soundRows) paintSoundNames(canvas, view, rows, soundRows, palette);
        paintHeld(canvas, view, rows, held, palette);
        paintPicked(canvas, view, rows, picked, palette);
        paintFinding(canvas, view, rows, findingNotes, palette);
        paintBeats(canvas, view, beats, palette);
        paintLinesToCome(canvas, view, linesToCome, palette);
      }),
    [paintOf, front, view, head, rows, findingNotes, beats, linesToCome, picked, held, palette, soundRows],
  );
  const paintOver = useCallback(
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
