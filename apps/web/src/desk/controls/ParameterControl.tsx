/** One parameter of a step, as its field describes it. */

import {
  fieldsOf,
  type Length,
  lengthInWords,
  NOTE_VALUES,
  type ParameterField,
  type ParameterValue,
  type ParameterValues,
  type StepId,
} from '@crispfold/core';
import { Button } from '../../ui/Button.js';
import { NumberField } from '../../ui/NumberField.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement, selectFirstSelected } from '../state/selectors.js';
import { FeelControl } from './FeelControl.js';

const BOX = 'min-h-7 min-w-0 border border-strong bg-sheet px-1';

const startOf = (unit: Length['unit']): Length => (unit === 'note' ? { unit, value: 1 / 16 } : { unit, value: 30 });

/** A length in the unit it was typed in. */
export const LengthControl = ({
  label,
  value,
  none,
  onChange,
}: {
  label: string;
  value: Length | null;
  none?: string | undefined;
  onChange: (value: Length | null) => void;
}) => {
  const arrangement = useAppSelector(selectArrangement);
  const chosen = useAppSelector(selectFirstSelected)?.note;
  const nearest = value && NOTE_VALUES.find(([length]) => Math.abs(length - value.value) < 1e-6)?.[0];
  return (
    <span className="flex flex-wrap items-center gap-1">
      {value?.unit === 'note' && (
        <select
          aria-label={label}
          className={BOX}
          value={String(nearest ?? value.value)}
          onChange={(event) => onChange({ unit: 'note', value: Number(event.target.value) })}
        >
          {nearest === undefined && <option value={String(value.value)}>{value.value} of a whole</option>}
          {NOTE_VALUES.map(([length, name]) => (
            <option key={name} value={String(length)}>
              {name}
            </option>
          ))}
        </select>
      )}
      {value && value.unit !== 'note' && (
        <NumberField
          label={label}
          min={0}
          max={100_000}
          className="w-20"
          value={value.value}
          onTaken={(next) => onChange({ unit: value.unit, value: next })}
        />
      )}
      <select
        aria-label={`${label}: unit`}
        className={BOX}
        value={value?.unit ?? ''}
        onChange={(event) => onChange(event.target.value === '' ? null : startOf(event.target.value as Length['unit']))}
      >
        {none !== undefined && <option value="">{none}</option>}
        <option value="note">note</option>
        <option value="ms">ms</option>
        <option value="ticks">ticks</option>
      </select>
      {chosen && (
        <Button
          look="quiet"
          className="!px-1 text-fold-ink"
          title={`Take the length of the selected note: ${lengthInWords(chosen.duration, arrangement.ppq)}`}
          onClick={() => onChange({ unit: 'ticks', value: chosen.duration })}
        >
          as the note
        </Button>
      )}
    </span>
  );
};

/** The control for one field; `onChange` gets a whole new value. */
export const ParameterControl = ({
  field,
  value,
  onChange,
}: {
  field: ParameterField;
  value: ParameterValue;
  onChange: (value: ParameterValue) => void;
}) => {
  const arrangement = useAppSelector(selectArrangement);
  const frontPartId = useAppSelector(({ partsShown }) => partsShown.frontPartId);
  const chosen = useAppSelector(selectFirstSelected)?.note;
  switch (field.kind) {
    case 'choice':
      return (
        <select
          aria-label={field.label}
          className={`${BOX} max-w-full`}
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
      return <LengthControl label={field.label} value={value as Length | null} none={field.none} onChange={onChange} />;
    case 'lengths':
      return (
        <span className="flex flex-col gap-1">
          {(value as readonly Length[]).map((length, index, all) => (
            <LengthControl
              // biome-ignore lint/suspicious/noArrayIndexKey: the list neither grows nor turns
              key={index}
              label={`${field.label} ${index + 1}`}
              value={length}
              onChange={(next) => next && onChange(all.map((old, at) => (at === index ? next : old)))}
            />
          ))}
          <span className="text-soft">the shortest counts</span>
        </span>
      );
    case 'number':
      return (
        <span className="flex items-center gap-1">
          {field.none !== undefined && (
            <input
              type="checkbox"
              aria-label={`${field.label}: on`}
              className="accent-[var(--fold)]"
              checked={value !== null}
              onChange={() => onChange(value === null ? Math.max(field.min, Math.min(field.max, 40)) : null)}
            />
          )}
          {value === null ? (
            <span className="text-soft">{field.none}</span>
          ) : (
            <NumberField
              label={field.label}
              min={field.min}
              max={field.max}
              step={field.step ?? 1}
              className="w-20"
              value={value as number}
              onTaken={onChange}
            />
          )}
          {value !== null && field.unit}
          {field.of === 'velocity' && chosen && (
            <Button
              look="quiet"
              className="!px-1 text-fold-ink"
              title={`Take the velocity of the selected note: ${chosen.velocity}`}
              onClick={() => onChange(chosen.velocity)}
            >
              as the note
            </Button>
          )}
        </span>
      );
    case 'switch':
      return (
        <input
          type="checkbox"
          aria-label={field.label}
          className="accent-[var(--fold)]"
          checked={value as boolean}
          onChange={() => onChange(!value)}
        />
      );
    case 'feel':
      return <FeelControl field={field} value={value} onChange={onChange} />;
    case 'part':
      return (
        <select
          aria-label={field.label}
          className={BOX}
          value={String(value)}
          onChange={(event) => onChange(Number(event.target.value))}
        >
          <option value="0">none</option>
          {arrangement.parts
            .filter((part) => part.id !== frontPartId)
            .map((part) => (
              <option key={part.id} value={part.id}>
                {part.name}
              </option>
            ))}
        </select>
      );
    default:
      return field satisfies never;
  }
};

/** All parameters of a step, a line each; `onChange` gets the name and the new value of one. */
export const ParameterList = ({
  step,
  values,
  onChange,
}: {
  step: StepId;
  values: ParameterValues;
  onChange: (name: string, value: ParameterValue) => void;
}) => (
  <dl className="flex flex-col gap-1.5">
    {fieldsOf(step).map(([name, field]) => (
      <div key={name} className="flex flex-wrap items-center gap-x-2">
        <dt>{field.label}</dt>
        <dd className="min-w-0">
          <ParameterControl field={field} value={values[name] ?? null} onChange={(next) => onChange(name, next)} />
        </dd>
      </div>
    ))}
  </dl>
);
