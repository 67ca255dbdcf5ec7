/** How loud the selected notes are, and how loud they would be. */

import { type Edit, type Note, selectedNotes } from '@crispfold/core';
import { useMemo } from 'react';
import { Histogram, velocityBins } from '../../controls/Histogram.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectEditable } from '../../state/selectors.js';

const LoudnessChart = ({ edit }: { edit: Edit | null }) => {
  const { parts } = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const bins = useMemo(() => {
    const now = parts.flatMap((part) => [...selectedNotes(selection, part)]);
    const changed = new Map<number, Note>();
    for (const change of edit?.changes ?? [])
      if (change.kind === 'notes') for (const { after } of change.changed) changed.set(after.id, after);
    return velocityBins(
      now,
      now.map((note) => changed.get(note.id) ?? note),
    );
  }, [parts, selection, edit]);
  return (
    <Histogram
      data={bins}
      label="How many of the selected notes have each velocity, now and with these settings."
      before="now"
      after="then"
    />
  );
};

export default LoudnessChart;
