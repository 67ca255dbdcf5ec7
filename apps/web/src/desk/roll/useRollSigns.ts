/** What is shown over the notes: a finding and what its mend brings, beats that are tried, notes that are picked or held. */

import {
  type Arrangement,
  createMeterMap,
  type Finding,
  type FoundBeats,
  instrumentById,
  isUnpitched,
  type Note,
  noteNameOf,
  placesOfBeats,
  selectedNotes,
  withBarLinesMoved,
} from '@crispfold/core';
import { useCallback, useMemo } from 'react';
import { selectHeldNotes } from '../controls/engraved/heads.js';
import { selectFindings } from '../state/findings.js';
import { selectEndTick } from '../state/rollSelectors.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement, selectFrontPart, selectShownParts } from '../state/selectors.js';
import { paintBeats, paintFinding, paintHeld, paintLinesToCome, paintPicked } from './paintFinding.js';
import { paintSoundNames } from './paintGround.js';
import type { RollScene } from './useRollScene.js';

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

/** A percussion part in front names its rows. */
const useSoundRows = (): ReadonlyMap<number, string> | null => {
  const front = useAppSelector(selectFrontPart);
  return useMemo(
    () =>
      front && isUnpitched(instrumentById(front.instrument))
        ? new Map(front.notes.map(({ pitch }) => [pitch, noteNameOf(front, pitch)]))
        : null,
    [front],
  );
};

/** Paints all of them; a new painter when what it paints is another. */
export const useRollSigns = ({ view, rows, palette }: RollScene) => {
  const soundRows = useSoundRows();
  const finding = useShownFinding();
  const findingNotes = useFindingNotes(finding);
  const tried = useAppSelector(({ stepping }) => stepping.beats);
  const beats = useBeatTicks(tried);
  const linesToCome = useLinesToCome(finding, tried);
  const picked = usePickedNotes();
  const held = useAppSelector(selectHeldNotes);
  return useCallback(
    (canvas: CanvasRenderingContext2D) => {
      if (soundRows) paintSoundNames(canvas, view, rows, soundRows, palette);
      paintHeld(canvas, view, rows, held, palette);
      paintPicked(canvas, view, rows, picked, palette);
      paintFinding(canvas, view, rows, findingNotes, palette);
      paintBeats(canvas, view, beats, palette);
      paintLinesToCome(canvas, view, linesToCome, palette);
    },
    [view, rows, findingNotes, beats, linesToCome, picked, held, palette, soundRows],
  );
};
