/** The selection: its notes' values to see and change, and why the first of them is written as it is. */

import { type Part, type StepId, selectionSize, stepById } from '@crispfold/core';
import { useEffect, useState } from 'react';
import type { NoteReason } from '../../../engine/protocol.js';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { useRevision } from '../../session/useWritten.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectEditable, selectFirstSelected } from '../../state/selectors.js';
import { DrawnAs } from './DrawnAs.js';
import { NamedSelections } from './NamedSelections.js';
import { NoteFields } from './NoteFields.js';
import { WrittenFields } from './WrittenFields.js';

export const SelectionPanel = () => {
  const first = useAppSelector(selectFirstSelected);
  const drawing = useAppSelector(({ editing }) => editing.drawing);
  const selection = useAppSelector(selectEditable);
  const { parts } = useAppSelector(selectArrangement);
  const selected = selectionSize(selection);
  const where = parts.filter((part) => selection.has(part.id));
  return (
    <>
      {drawing && <DrawnAs />}
      {first ? (
        <section aria-label="Selection" className="p-3 text-sm">
          <p className="pb-2">
            {counted(selected, 'note')} of{' '}
            {where.length <= 3 ? where.map((part) => part.name).join(', ') : counted(where.length, 'part')}
          </p>
          <NoteFields />
          <WrittenFields part={first.part} note={first.note} />
          <Reasons part={first.part} noteId={first.note.id} first={selected > 1} />
        </section>
      ) : (
        <p className="p-3 text-sm text-soft">
          Select notes to see and change their values, and why they are written as they are.
        </p>
      )}
      <NamedSelections />
    </>
  );
};

const Reasons = ({ part, noteId, first }: { part: Part; noteId: number; first: boolean }) => {
  const { engine } = useDesk();
  const dispatch = useAppDispatch();
  const revision = useRevision();
  const [reasons, setReasons] = useState<readonly NoteReason[]>([]);
  const partId = part.id;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new Written layer brings new reasons
  useEffect(() => {
    let current = true;
    engine.ask('reasons', { partId, noteId }).then(
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
      <h3 className="mt-4 border-b border-strong font-serif text-base">
        {first ? 'On the page: the first of them' : 'On the page'}
      </h3>
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
