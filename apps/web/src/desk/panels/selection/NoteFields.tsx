/** The fields of the selected notes: values, or + - * / on one or many. Enter or leaving a field applies it, Esc takes it back. */

import {
  changeField,
  type FieldSpan,
  fieldSpans,
  fieldText,
  lengthInWords,
  type NoteField,
  readFieldEntry,
  selectionSize,
} from '@crispfold/core';
import { useEffect, useMemo, useState } from 'react';
import * as yup from 'yup';
import { useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectEditable, selectedOnView } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { steppingActions } from '../../state/steppingSlice.js';

/** Of more notes than these the effect is not tried while typing. */
const MOST_TRIED = 8000;

const FIELDS: readonly (readonly [field: NoteField, label: string, help: string])[] = [
  ['pitch', 'Pitch', 'C4, F#3, or +2'],
  ['start', 'Start', 'bar.beat.tick, or +10 ms'],
  ['bar', 'Bar', 'the beat and its lateness are kept'],
  ['beat', 'Beat', 'the bar and the lateness are kept'],
  ['tick', 'Tick', 'ticks past the beat'],
  ['end', 'End', 'bar.beat.tick, or -1/16'],
  ['length', 'Length', 'ticks, 250 ms, 1/8, or *0.5'],
  ['velocity', 'Velocity', '1 to 127, +10, or *0.5'],
  ['channel', 'Channel', '1 to 16'],
];

/** What may be typed into a field, in Yup's words. */
const schemaOf = (field: NoteField) =>
  yup.string().test(
    'entry',
    ({ value }) => {
      const entry = readFieldEntry(field, String(value ?? ''));
      return entry.ok ? '' : entry.problem.message;
    },
    (value) => readFieldEntry(field, value ?? '').ok,
  );
const SCHEMAS = new Map(FIELDS.map(([field]) => [field, schemaOf(field)]));

/** The problem with a typed text, in words; empty where there is none. */
const problemWith = (field: NoteField, typed: string): string => {
  try {
    SCHEMAS.get(field)?.validateSync(typed);
    return '';
  } catch (error) {
    return (error as yup.ValidationError).message;
  }
};

const Field = ({ field, label, help, span }: { field: NoteField; label: string; help: string; span: FieldSpan }) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const [typed, setTyped] = useState<string | null>(null);
  const [refused, setRefused] = useState('');
  // A new selection, or a change from elsewhere, takes the place of what was being typed.
  // biome-ignore lint/correctness/useExhaustiveDependencies: these are what is watched
  useEffect(() => {
    setTyped(null);
    setRefused('');
  }, [arrangement, selection]);

  const problem = typed === null || typed.trim() === '' ? '' : problemWith(field, typed);
  const tried = useMemo(() => {
    if (typed === null || problem || typed.trim() === '' || selectionSize(selection) > MOST_TRIED) return null;
    const entry = readFieldEntry(field, typed);
    return entry.ok ? changeField(arrangement, selection, field, entry.value) : null;
  }, [typed, problem, arrangement, selection, field]);
  const writing = typed !== null;
  useEffect(() => {
    if (!writing) return undefined;
    dispatch(steppingActions.tried(tried?.ok ? tried.value.edit : null));
    return () => void dispatch(steppingActions.tried(null));
  }, [writing, tried, dispatch]);

  const apply = () => {
    if (typed === null || typed.trim() === '' || problem) {
      if (typed?.trim() === '') setTyped(null);
      return;
    }
    const entry = readFieldEntry(field, typed);
    const made = entry.ok ? changeField(arrangement, selection, field, entry.value) : entry;
    if (!made.ok) {
      setRefused(made.problem.message);
      return;
    }
    setTyped(null);
    dispatch(commit(made.value.edit));
    dispatch(said([made.value.edit?.label ?? 'Nothing to change.', made.value.notice].filter(Boolean).join('. ')));
  };
  const text = (value: number) => fieldText(arrangement, field, value);
  const shown = span.least === span.most ? text(span.least) : `${text(span.least)} to ${text(span.most)}`;
  const words =
    problem || refused || (tried && !tried.ok ? tried.problem.message : tried?.ok ? tried.value.notice : '');
  const id = `note-${field}`;
  return (
    <>
      <label htmlFor={id} className="self-start pt-1 text-soft">
        {label}
      </label>
      <span className="min-w-0">
        <input
          id={id}
          type="text"
          autoComplete="off"
          spellCheck={false}
          title={help}
          aria-invalid={problem !== '' || refused !== ''}
          aria-describedby={words ? `${id}-words` : undefined}
          className="min-h-7 w-full border border-strong bg-sheet px-1.5 tabular-nums"
          value={typed ?? shown}
          onFocus={(event) => event.currentTarget.select()}
          onChange={(event) => {
            setTyped(event.target.value);
            setRefused('');
          }}
          onBlur={apply}
          onKeyDown={(event) => {
            if (event.key === 'Enter') {
              event.preventDefault();
              apply();
            }
            if (event.key === 'Escape') {
              event.stopPropagation();
              setTyped(null);
              setRefused('');
            }
          }}
        />
        {words && (
          <span
            id={`${id}-words`}
            role={problem || refused ? 'alert' : 'status'}
            className="block pt-0.5 text-fold-ink"
          >
            {words}
          </span>
        )}
      </span>
    </>
  );
};

export const NoteFields = () => {
  const arrangement = useAppSelector(selectArrangement);
  const selection = useAppSelector(selectEditable);
  const silent = useAppSelector((state) => selectedOnView(state).filter((note) => note.muted).length);
  const spans = useMemo(() => fieldSpans(arrangement, selection), [arrangement, selection]);
  const lengths = spans.get('length');
  const sounding = selectionSize(selection) - silent;
  return (
    <>
      <div className="grid grid-cols-[4.2rem_1fr] gap-x-2 gap-y-1">
        {FIELDS.map(([field, label, help]) => {
          const span = spans.get(field);
          return span && <Field key={field} field={field} label={label} help={help} span={span} />;
        })}
      </div>
      <p className="pt-2 text-soft">
        {lengths && lengths.least === lengths.most ? `Lasts ${lengthInWords(lengths.least, arrangement.ppq)}. ` : ''}
        {silent === 0 ? '' : sounding === 0 ? 'All muted. ' : `${silent} muted. `}Type a value, or + − * / and a number.
      </p>
    </>
  );
};
