/** The selected note: what was played, what is written, and which step of the plan did it and why. */
import { barPosition, type Note, type Part, pitchName, type StepId, selectionSize, stepById } from '@crispfold/core';
import { useEffect, useState } from 'react';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { askWorker } from '../../../engine/engine.js';
import type { NoteReason } from '../../../engine/protocol.js';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import { selectMeterMap } from '../maps.js';
import { commit } from '../saving.js';
import { selectArrangement, selectEditable, selectFirstSelected } from '../selectors.js';
import { lengthInWords } from '../speak.js';
import { useRevision } from '../useWritten.js';

const Fact = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <>
    <dt className="text-soft">{name}</dt>
    <dd>{children}</dd>
  </>
);

export const NotePanel = () => {
  const first = useAppSelector(selectFirstSelected);
  const selected = useAppSelector((state) => selectionSize(selectEditable(state)));
  if (!first)
    return <p className="p-3 text-sm text-soft">Select a note to see how it was played, how it is written, and why.</p>;
  return (
    <section aria-label="Note" className="p-3 text-sm">
      {selected > 1 && <p className="pb-2">{counted(selected, 'note')} selected; the first is shown.</p>}
      <NoteFacts note={first.note} />
      <Reasons part={first.part} noteId={first.note.id} />
    </section>
  );
};

const NoteFacts = ({ note }: { note: Note }) => {
  const arrangement = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const { bar, beat, tick } = barPosition(meterMap, arrangement.ppq, note.onset);
  return (
    <dl className="grid grid-cols-[5.5rem_1fr] gap-y-1">
      <Fact name="Pitch">{pitchName(note.pitch)}</Fact>
      <Fact name="Starts">
        bar {bar}, beat {beat}, {counted(tick, 'tick')}
      </Fact>
      <Fact name="Lasts">
        {lengthInWords(note.duration, arrangement.ppq)} ({counted(note.duration, 'tick')})
      </Fact>
      <Fact name="Velocity">{note.velocity}</Fact>
    </dl>
  );
};

const Reasons = ({ part, noteId }: { part: Part; noteId: number }) => {
  const dispatch = useAppDispatch();
  const revision = useRevision();
  const [reasons, setReasons] = useState<readonly NoteReason[]>([]);
  const partId = part.id;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new Written layer brings new reasons
  useEffect(() => {
    let current = true;
    askWorker('reasons', { partId, noteId }).then(
      (answer) => current && setReasons(answer.reasons),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [partId, noteId, revision]);

  const veto = (step: StepId, vetoed: boolean) => {
    const others = (part.vetoes ?? []).filter((one) => one.noteId !== noteId || one.step !== step);
    const after = { vetoes: vetoed ? [...others, { noteId, step }] : others };
    const { name } = stepById(step);
    const label = vetoed ? `${name}: leave one note alone` : `${name}: one note again`;
    const changes = [{ kind: 'partFields' as const, partId, before: { vetoes: part.vetoes }, after }];
    dispatch(commit({ label: `${label} in ${part.name}`, changes }));
  };

  return (
    <>
      <h3 className="mt-4 border-b border-strong font-serif text-base">On the page</h3>
      {reasons.length === 0 && <p className="py-2 text-soft">The plan leaves this note as it was played.</p>}
      <ul>
        {reasons.map(({ step, place, change, vetoed }) => (
          <li key={`${place} ${change.reason}`} className="border-b border-rule py-1.5">
            <b>{stepById(step).name}</b>
            <br />
            <span className={vetoed ? 'text-soft line-through' : ''}>
              {change.to === null ? 'Left out: ' : ''}
              {change.reason}
            </span>
            <br />
            <Button
              className="mt-1"
              pressed={vetoed}
              title={`${stepById(step).name} ${vetoed ? 'leaves this note alone' : 'and this note only'}`}
              onClick={() => veto(step, !vetoed)}
            >
              {vetoed ? 'Left alone · let it again' : 'Leave this one alone'}
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
};
