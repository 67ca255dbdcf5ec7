/** One field of a condition or a change, in line with the words around it. */

import {
  fieldsOf,
  type Length,
  type PitchList,
  type PlanStep,
  pitchListAsText,
  pitchListFromText,
  pitchName,
  planStep,
  SELECTION_STEP_IDS,
  type SentenceField,
  type StepId,
  stepById,
  valuesOf,
  withValues,
} from '@crispfold/core';
import { useEffect, useState } from 'react';
import { NumberField } from '../../../ui/NumberField.js';
import { LengthControl, ParameterControl } from '../../controls/ParameterControl.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';

const BOX = 'min-h-7 min-w-0 max-w-full border border-strong bg-sheet px-1';

export const FieldControl = ({
  field,
  value,
  onChange,
}: {
  field: SentenceField;
  value: unknown;
  onChange: (value: unknown) => void;
}) => {
  const { parts } = useAppSelector(selectArrangement);
  switch (field.kind) {
    case 'number':
      return (
        <NumberField
          label={field.label}
          min={field.min}
          max={field.max}
          className="w-14"
          value={value as number}
          onTaken={onChange}
        />
      );
    case 'choice':
      return (
        <select
          aria-label={field.label}
          className={BOX}
          value={String(value)}
          onChange={(event) => {
            const choice = field.choices.find((candidate) => String(candidate.value) === event.target.value);
            if (choice) onChange(choice.value);
          }}
        >
          {field.choices.map((choice) => (
            <option key={String(choice.value)} value={String(choice.value)}>
              {choice.label}
            </option>
          ))}
        </select>
      );
    case 'length':
      return (
        <LengthControl label={field.label} value={value as Length} onChange={(length) => length && onChange(length)} />
      );
    case 'pitch':
      return (
        <span className="inline-flex items-center gap-1">
          <NumberField
            label={field.label}
            min={0}
            max={127}
            className="w-14"
            value={value as number}
            onTaken={onChange}
          />
          <span className="text-soft">{pitchName(value as number)}</span>
        </span>
      );
    case 'pitches':
      return <PitchListField label={field.label} value={value as PitchList} onTaken={onChange} />;
    case 'part':
      return (
        <select
          aria-label={field.label}
          className={BOX}
          value={value as string}
          onChange={(event) => onChange(event.target.value)}
        >
          <option value="">choose…</option>
          {!parts.some((part) => part.name === value) && value !== '' && (
            <option value={value as string}>{value as string}, not here</option>
          )}
          {[...new Set(parts.map((part) => part.name))].map((name) => (
            <option key={name} value={name}>
              {name}
            </option>
          ))}
        </select>
      );
    case 'step':
      return <StepControl value={value as PlanStep} onChange={onChange} />;
    default:
      return field satisfies never;
  }
};

/** "40>38 38>40", taken when the field is left or with Enter. */
const PitchListField = ({
  label,
  value,
  onTaken,
}: {
  label: string;
  value: PitchList;
  onTaken: (list: PitchList) => void;
}) => {
  const [typed, setTyped] = useState(pitchListAsText(value));
  useEffect(() => setTyped(pitchListAsText(value)), [value]);
  const list = pitchListFromText(typed);
  const take = () => list && pitchListAsText(list) !== pitchListAsText(value) && onTaken(list);
  return (
    <span className="w-full">
      <input
        aria-label={label}
        aria-invalid={list === null}
        title="Pairs of pitches from 0 to 127, as 40>38 38>40; each note moves once"
        className={`${BOX} w-full px-1.5`}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || !list || pitchListAsText(list) === pitchListAsText(value)) return;
          event.preventDefault();
          take();
        }}
      />
      {list === null && (
        <span role="alert" className="block text-fold-ink">
          Type pairs of pitches from 0 to 127, as 40&gt;38 38&gt;40, each pitch once.
        </span>
      )}
    </span>
  );
};

const StepControl = ({ value, onChange }: { value: PlanStep; onChange: (value: PlanStep) => void }) => {
  const values = valuesOf(value);
  return (
    <span className="flex w-full flex-col gap-1">
      <select
        aria-label="Step"
        className={BOX}
        value={value.step}
        onChange={(event) => onChange(planStep(event.target.value as StepId))}
      >
        {SELECTION_STEP_IDS.map((id) => (
          <option key={id} value={id}>
            {stepById(id).name}
          </option>
        ))}
      </select>
      {fieldsOf(value.step).map(([name, field]) => (
        <span key={name} className="flex flex-wrap items-center gap-x-2 pl-3">
          {field.label}
          <ParameterControl
            field={field}
            value={values[name] ?? null}
            onChange={(next) => onChange(withValues(value, { [name]: next }))}
          />
        </span>
      ))}
    </span>
  );
};
