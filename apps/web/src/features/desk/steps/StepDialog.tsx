/** A clean-up step on the selection: its parameters, and how many notes it will touch, before it is carried out. */
import { type ParameterField, type StepEdit, type StepId, stepById } from '@crispfold/core';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { deskWorker } from '../../../engine/engine.js';
import { Button } from '../../../ui/Button.js';
import { Dialog } from '../../../ui/Dialog.js';
import { counted } from '../../../ui/words.js';
import { deskActions } from '../deskSlice.js';
import { commit, undo } from '../saving.js';
import { selectDesk, selectFrontPart } from '../selectors.js';
import { spoken } from '../speak.js';
import { useWritten } from '../useWritten.js';
import { ParameterList } from './ParameterControl.js';

export const StepDialog = () => {
  const dispatch = useAppDispatch();
  const { stepShown } = useAppSelector(selectDesk);
  const close = () => dispatch(deskActions.stepDialogShown(null));
  if (!stepShown) return null;
  const { name, explanation } = stepById(stepShown);
  return (
    <Dialog open onOpenChange={(open) => !open && close()} title={name} description={explanation}>
      <StepForm key={stepShown} step={stepShown} close={close} />
    </Dialog>
  );
};

const StepForm = ({ step, close }: { step: StepId; close: () => void }) => {
  const dispatch = useAppDispatch();
  const front = useAppSelector(selectFrontPart);
  const { selection } = useAppSelector(selectDesk);
  const { serial } = useWritten();
  const { defaults, fields, name } = stepById(step);
  const [parameters, setParameters] = useState(defaults as { readonly [key: string]: unknown });
  const [outcome, setOutcome] = useState<StepEdit | null>(null);
  const turn = useRef(0);

  // biome-ignore lint/correctness/useExhaustiveDependencies: asks again when the worker has a newer arrangement
  useEffect(() => {
    turn.current += 1;
    const own = turn.current;
    if (!front) return;
    void deskWorker()
      .stepEdit(front.id, selection, step, parameters)
      .then((result) => {
        if (own === turn.current) setOutcome(result);
      });
  }, [front, selection, step, parameters, serial]);

  const apply = () => {
    if (outcome?.picked) {
      dispatch(deskActions.selected(outcome.picked));
      spoken.set(`${counted(outcome.touched, 'note')} selected.`);
    } else if (outcome?.edit) {
      dispatch(commit(outcome.edit));
      const { label } = outcome.edit;
      toast.success(label, { description: outcome.notice, action: { label: 'Undo', onClick: () => dispatch(undo()) } });
    } else return;
    close();
  };
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        apply();
      }}
    >
      <ParameterList
        fields={fields as { readonly [key: string]: ParameterField }}
        values={parameters}
        onChange={setParameters}
      />
      <p className="text-sm text-soft">
        {selection.length === 0
          ? 'Nothing is selected. Select notes of the front part first.'
          : outcome?.picked
            ? `Among ${counted(selection.length, 'selected note')} of ${front?.name ?? ''}. Nothing changes but the selection.`
            : `On ${counted(selection.length, 'selected note')} of ${front?.name ?? ''}. It changes Played, and can be undone.`}
      </p>
      {outcome?.notice && (
        <p role="status" className="text-sm">
          {outcome.notice}
        </p>
      )}
      <div className="flex gap-2">
        <Button look="main" type="submit" disabled={!outcome?.edit && !outcome?.picked?.length}>
          {name} · {outcome?.touched ?? '…'}
        </Button>
        <Button onClick={close}>Cancel</Button>
      </div>
    </form>
  );
};
