/** A step's settings: its parameters, and what it would do to how many notes, before it is carried out. */

import { parametersSchema } from '@crispfold/contract';
import {
  fieldsOf,
  isKeptFeel,
  type ParameterValues,
  planStep,
  type StepEdit,
  type StepId,
  selectionSize,
  stepById,
  valuesOf,
  withValues,
} from '@crispfold/core';
import { yupResolver } from '@hookform/resolvers/yup';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { isSessionOver } from '../../../engine/protocol.js';
import { counted } from '../../../ui/words.js';
import { doStep, stepAsLast } from '../../actions/doStep.js';
import { FeelShown } from '../../controls/FeelShown.js';
import { Offers } from '../../controls/Offers.js';
import { ParameterControl } from '../../controls/ParameterControl.js';
import { DoOrHear, SettingsPanel, useTried } from '../../controls/SettingsPanel.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { useRevision } from '../../session/useWritten.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectEditable } from '../../state/selectors.js';

/** The chart and its library come when a step about loudness is tried. */
const LoudnessChart = lazy(() => import('./LoudnessChart.js'));

/** Steps that are about loudness. */
const LOUDNESS_STEPS: ReadonlySet<StepId> = new Set(['velocityScale', 'velocityRange']);

export const StepPanel = ({ step }: { step: StepId }) => {
  const dispatch = useAppDispatch();
  const { name, explanation } = stepById(step);
  const close = () => dispatch(layoutActions.stepSettingsShown(null));
  return (
    <SettingsPanel title={name} explanation={explanation} onClose={close}>
      <StepForm key={step} step={step} close={close} />
    </SettingsPanel>
  );
};

/** What the step would do with these parameters, or why that cannot be said. */
const useOutcome = (step: StepId, values: ParameterValues) => {
  const { engine } = useDesk();
  const selection = useAppSelector(selectEditable);
  const revision = useRevision();
  const [outcome, setOutcome] = useState<StepEdit | null>(null);
  const [problem, setProblem] = useState('');
  // biome-ignore lint/correctness/useExhaustiveDependencies: asks again when the worker has a newer arrangement
  useEffect(() => {
    let current = true;
    const tried = withValues(planStep(step), values);
    engine.ask('stepEdit', { selection, tried }).then(
      (answer) => {
        if (!current) return;
        setOutcome(answer);
        setProblem('');
      },
      (error: unknown) => {
        if (current && !isSessionOver(error)) setProblem(`It cannot be tried: ${(error as Error).message}`);
      },
    );
    return () => {
      current = false;
    };
  }, [selection, step, values, revision]);
  return { outcome, problem };
};

const StepForm = ({ step, close }: { step: StepId; close: () => void }) => {
  const dispatch = useAppDispatch();
  const { parts } = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const { name } = stepById(step);
  const lastParameters = useAppSelector(({ stepping }) => stepping.lastParameters);
  const { control, handleSubmit } = useForm<ParameterValues>({
    defaultValues: valuesOf(stepAsLast(lastParameters, step)),
    resolver: yupResolver(parametersSchema(step)) as never,
  });
  const { again } = useDesk();
  const values = useWatch({ control }) as ParameterValues;
  const { outcome, problem } = useOutcome(step, values);
  const feelTaken = step === 'follow' && values.takes === 'feel';
  const where = parts.filter((part) => selection.has(part.id)).map((part) => part.name);
  const chosen = selectionSize(selection);

  useTried(outcome?.edit ?? null);

  const apply = () => {
    close();
    again.set(() => void dispatch(doStep(step)));
    void dispatch(doStep(step, withValues(planStep(step), values)));
  };
  return (
    <>
      <form className="flex flex-col gap-4" onSubmit={handleSubmit(apply)}>
        <dl className="flex flex-col gap-1.5">
          {fieldsOf(step).map(([key, field]) => (
            <div key={key} className="flex flex-wrap items-center gap-x-2">
              <dt>{field.label}</dt>
              <dd className="min-w-0">
                <Controller
                  name={key}
                  control={control}
                  render={({ field: { value, onChange } }) => (
                    <ParameterControl field={field} value={value} onChange={onChange} />
                  )}
                />
              </dd>
            </div>
          ))}
        </dl>
        <p className="text-sm text-soft">
          {chosen === 0
            ? 'Nothing is selected. Select notes first.'
            : outcome?.picked
              ? `Among ${counted(chosen, 'selected note')} of ${where.join(', ')}. Nothing changes but the selection.`
              : `On ${counted(chosen, 'selected note')} of ${where.join(', ')}. It changes Played, and can be undone.`}
        </p>
        {(problem || outcome?.notice) && (
          <p role={problem ? 'alert' : 'status'} className="text-sm">
            {problem || outcome?.notice}
          </p>
        )}
        {LOUDNESS_STEPS.has(step) && chosen > 0 && (
          <Suspense fallback={<p className="text-sm text-soft">Drawing the chart…</p>}>
            <LoudnessChart edit={outcome?.edit ?? null} />
          </Suspense>
        )}
        <DoOrHear disabled={!outcome?.edit && !outcome?.touched}>
          {name} · {outcome?.touched ?? '…'}
        </DoOrHear>
        {chosen === 0 && <Offers step={step} />}
      </form>
      {feelTaken && (
        <div className="mt-4">
          <FeelShown part={Number(values.part)} kept={isKeptFeel(values.kept) ? values.kept : null} />
        </div>
      )}
    </>
  );
};
