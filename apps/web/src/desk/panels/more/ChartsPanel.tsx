/** Charts of the front part: how far starts lie from the grid, before and after the plan; how loud its notes are. */

import { median, selectedIn, type TimingOffsets } from '@crispfold/core';
import { useEffect, useMemo, useState } from 'react';
import { counted } from '../../../ui/words.js';
import type { CommandContext } from '../../actions/commands/command.js';
import { goToPlace } from '../../actions/looking.js';
import { binned, Histogram, velocityBins } from '../../controls/Histogram.js';
import { ReadabilityChart } from '../../controls/ReadabilityChart.js';
import { useDesk } from '../../session/desk.js';
import { useLayers, useRevision } from '../../session/useWritten.js';
import { forwardName, isForward } from '../../state/forward.js';

import { selectMeterMap } from '../../state/maps.js';
import { useAppSelector } from '../../state/root.js';
import { selectFrontPart } from '../../state/selectors.js';

const STEP = 10;
const FURTHEST = 80;

const middleOf = (values: readonly number[]): number => median(values) ?? 0;

const spread = (values: readonly number[]): number => {
  const middle = middleOf(values);
  return 1.48 * middleOf(values.map((value) => Math.abs(value - middle)));
};

const ChartsPanel = ({ context }: { context: CommandContext }) => {
  const { engine } = useDesk();
  const front = useAppSelector(selectFrontPart);
  const layers = useLayers();
  const revision = useRevision();
  const [offsets, setOffsets] = useState<TimingOffsets>({ played: [], written: [] });
  const partId = front?.id;
  // A voice or staff that is brought forward is what the charts are about.
  const forward = useAppSelector(({ selecting }) => selecting.forward);
  const forwardIds = useAppSelector(({ selecting }) => (selecting.forward && selecting.forwardNotes) || null);
  const only = useMemo(
    () => (forwardIds && partId !== undefined ? selectedIn(forwardIds, partId) : null),
    [forwardIds, partId],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new Written layer has new offsets
  useEffect(() => {
    let current = true;
    if (partId === undefined) return undefined;
    engine.ask('timing', { partId, only }).then(
      (found) => current && setOffsets(found),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [partId, revision, only]);

  const timing = useMemo(() => {
    const played = binned(offsets.played, -FURTHEST, FURTHEST, STEP);
    const written = binned(offsets.written, -FURTHEST, FURTHEST, STEP);
    return played.map((count, bin) => ({ at: bin * STEP - FURTHEST, before: count, after: written[bin] }));
  }, [offsets]);
  const layer = partId === undefined ? undefined : layers.get(partId);
  const notes = useMemo(() => front?.notes.filter(({ id }) => !only || only.has(id)) ?? [], [front, only]);
  const velocities = useMemo(() => {
    const seen = layer?.notes.filter((note) => !forward || isForward(forward, note)) ?? [];
    return velocityBins(notes, seen);
  }, [notes, layer, forward]);

  const goToBar = (bar: number) =>
    goToPlace(context, selectMeterMap(context.getState()).barNumbered(bar).start, `Bar ${bar}`);
  if (!front) return <p className="p-3 text-sm text-soft">Add a part to see its charts.</p>;
  const loudness = notes.map(({ velocity }) => velocity).sort((a, b) => a - b);
  const late = Math.round(middleOf(offsets.played));
  const wide = Math.round(spread(offsets.played));
  return (
    <section aria-label="Charts" className="flex flex-col gap-2 p-3 text-sm">
      {forward && <p className="text-fold-ink">{forwardName(forward)} alone.</p>}
      <h3 className="font-serif text-base">{front.name}: starts about the grid</h3>
      <p className="text-soft">
        {offsets.played.length === 0
          ? 'No start to show.'
          : `${Math.abs(late)} ms ${late >= 0 ? 'late' : 'early'} in the middle, ${wide} ms to either side.`}
      </p>
      <Histogram
        data={timing}
        unit="ms"
        label={`Starts about the grid in milliseconds, from ${FURTHEST} early to ${FURTHEST} late, before and after the plan.`}
      />
      <h3 className="mt-2 border-t border-rule pt-2 font-serif text-base">Velocity</h3>
      <p className="text-soft">
        {loudness.length === 0
          ? 'No note to show.'
          : `${counted(loudness.length, 'note')} from ${loudness[0]} to ${loudness[loudness.length - 1]}, ${middleOf(loudness)} in the middle.`}
      </p>
      <Histogram data={velocities} unit="" label="How many notes have each velocity, before and after the plan." />
      <ReadabilityChart part={front} goToBar={goToBar} />
    </section>
  );
};

export default ChartsPanel;
