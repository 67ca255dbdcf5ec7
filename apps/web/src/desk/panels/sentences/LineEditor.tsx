/** One line of a sentence: Where a note is …, do …; all by menus and fields that read as a sentence. */
import {
  CHANGE_KINDS,
  CHANGES,
  type ChangeKind,
  CONDITION_KINDS,
  CONDITIONS,
  type Condition,
  type ConditionKind,
  newChange,
  newCondition,
  piecesOf,
  type SentenceChange,
  type SentenceField,
  type SentenceLine,
} from '@crispfold/core';
import { Plus, X } from 'lucide-react';
import { type RefObject, useEffect, useRef } from 'react';
import { Button } from '../../../ui/Button.js';
import { FieldControl } from './FieldControl.js';
import { inMenu, type Joined, joinedOf, waysOf, withCondition, without } from './lineModel.js';

const BOX = 'min-h-7 min-w-0 max-w-full border border-strong bg-sheet px-1';

/** Words and fields of a kind, those that the menu says left out. */
const Wording = ({
  words,
  fields,
  parameters,
  onChange,
}: {
  words: string;
  fields: { readonly [name: string]: SentenceField };
  parameters: { readonly [name: string]: unknown };
  onChange: (parameters: object) => void;
}) => {
  const pieces = piecesOf(words);
  const rest = pieces[0] && 'words' in pieces[0] ? pieces.slice(1) : pieces;
  // A comma between two fields is for reading aloud.
  const shown = rest.filter((piece) => !('words' in piece) || piece.words !== ',');
  if (shown.length === 0) return null;
  const items = shown.map((piece, index) => {
    if ('words' in piece) {
      // biome-ignore lint/suspicious/noArrayIndexKey: the pieces of a wording are what they are
      return <span key={index}>{piece.words}</span>;
    }
    const field = fields[piece.field];
    return (
      field && (
        <FieldControl
          key={piece.field}
          field={field}
          value={parameters[piece.field]}
          onChange={(value) => onChange({ ...parameters, [piece.field]: value })}
        />
      )
    );
  });
  return <span className="flex flex-wrap items-center gap-1 pl-2 pt-1">{items}</span>;
};

/** Leads the keys to what was just added or stands where something was taken out, by its `data-at`. */
const useNextFocus = (box: RefObject<HTMLElement | null>, line: SentenceLine) => {
  const next = useRef<string | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed line is what may hold what was added
  useEffect(() => {
    if (next.current === null) return;
    box.current?.querySelector<HTMLElement>(`[data-at="${next.current}"]`)?.focus();
    next.current = null;
  }, [line]);
  return (at: string) => {
    next.current = at;
  };
};

export const LineEditor = ({
  number,
  line,
  onChange,
}: {
  number: number;
  line: SentenceLine;
  onChange: (line: SentenceLine) => void;
}) => {
  const box = useRef<HTMLFieldSetElement>(null);
  const focusNext = useNextFocus(box, line);
  const joined = joinedOf(line.where);
  const withConditions = (next: Joined) => onChange({ ...line, where: waysOf(next) });
  return (
    <fieldset ref={box} className="min-w-0 border border-rule bg-sheet p-2">
      <legend className="px-1 font-serif text-base">Where</legend>
      {joined.length === 0 && <p className="text-soft">Every note in reach.</p>}
      <ul className="flex flex-col gap-2">
        {joined.map((one, at) => (
          <ConditionItem
            // biome-ignore lint/suspicious/noArrayIndexKey: a condition is its place in the sentence
            key={at}
            at={at}
            one={one}
            onSet={(next) => withConditions(withCondition(joined, at, next))}
            onTakenOut={() => {
              focusNext('more conditions');
              withConditions(without(joined, at));
            }}
          />
        ))}
      </ul>
      <Button
        look="quiet"
        className="mt-1 !px-1"
        data-at="more conditions"
        onClick={() => {
          focusNext(`condition ${joined.length}`);
          withConditions([...joined, { condition: newCondition('velocity'), or: false }]);
        }}
      >
        <Plus size={14} aria-hidden /> {joined.length === 0 ? 'A condition' : 'Another condition'}
      </Button>
      <p className="mt-2 border-t border-rule pt-1 font-serif text-base">do</p>
      <ol className="flex flex-col gap-2">
        {line.do.map((change, at) => (
          <ChangeItem
            // biome-ignore lint/suspicious/noArrayIndexKey: a change is its place in the sentence
            key={at}
            line={number}
            at={at}
            change={change}
            onSet={(next) => onChange({ ...line, do: line.do.map((own, index) => (index === at ? next : own)) })}
            onTakenOut={
              line.do.length === 1
                ? null
                : () => {
                    focusNext('more changes');
                    onChange({ ...line, do: [...without(line.do, at)] });
                  }
            }
          />
        ))}
      </ol>
      <Button
        look="quiet"
        className="mt-1 !px-1"
        data-at="more changes"
        onClick={() => {
          focusNext(`change ${line.do.length}`);
          onChange({ ...line, do: [...line.do, newChange('addVelocity')] });
        }}
      >
        <Plus size={14} aria-hidden /> Another change
      </Button>
    </fieldset>
  );
};

/** One condition: what joins it to the one before, is or is not, its kind and its fields. */
const ConditionItem = ({
  at,
  one: { condition, or },
  onSet,
  onTakenOut,
}: {
  at: number;
  one: Joined[number];
  onSet: (next: Partial<Joined[number]>) => void;
  onTakenOut: () => void;
}) => (
  <li>
    <span className="flex items-center gap-1">
      {at > 0 && (
        <select
          aria-label={`Condition ${at + 1} is joined by`}
          className={BOX}
          value={or ? 'or' : 'and'}
          onChange={({ target }) => onSet({ or: target.value === 'or' })}
        >
          <option value="and">and</option>
          <option value="or">or</option>
        </select>
      )}
      <select
        aria-label={`Condition ${at + 1}: is or is not`}
        className={BOX}
        value={condition.not ? 'not' : 'is'}
        onChange={({ target }) => onSet({ condition: { ...condition, not: target.value === 'not' } })}
      >
        <option value="is">is</option>
        <option value="not">is not</option>
      </select>
      <select
        aria-label={`Condition ${at + 1}`}
        data-at={`condition ${at}`}
        className={`${BOX} w-0 flex-1`}
        value={condition.kind}
        onChange={({ target }) =>
          onSet({ condition: { ...newCondition(target.value as ConditionKind), not: condition.not } })
        }
      >
        {CONDITION_KINDS.map((kind) => (
          <option key={kind} value={kind}>
            {inMenu(CONDITIONS[kind].words)}
          </option>
        ))}
      </select>
      <TakeOut what="condition" at={at} onTakenOut={onTakenOut} />
    </span>
    <Wording
      words={CONDITIONS[condition.kind].words}
      fields={CONDITIONS[condition.kind].fields}
      parameters={condition.parameters}
      onChange={(parameters) => onSet({ condition: { ...condition, parameters } as unknown as Condition })}
    />
  </li>
);

/** One change: its kind and its fields; the only one stays. */
const ChangeItem = ({
  line,
  at,
  change,
  onSet,
  onTakenOut,
}: {
  line: number;
  at: number;
  change: SentenceChange;
  onSet: (next: SentenceChange) => void;
  onTakenOut: (() => void) | null;
}) => (
  <li>
    <span className="flex items-center gap-1">
      <select
        aria-label={`Line ${line}, change ${at + 1}`}
        data-at={`change ${at}`}
        className={`${BOX} w-0 flex-1`}
        value={change.kind}
        onChange={({ target }) => onSet(newChange(target.value as ChangeKind))}
      >
        {CHANGE_KINDS.map((kind) => (
          <option key={kind} value={kind}>
            {inMenu(CHANGES[kind].words)}
          </option>
        ))}
      </select>
      {onTakenOut && <TakeOut what="change" at={at} onTakenOut={onTakenOut} />}
    </span>
    <Wording
      words={CHANGES[change.kind].words}
      fields={CHANGES[change.kind].fields}
      parameters={change.parameters as { readonly [name: string]: unknown }}
      onChange={(parameters) => onSet({ ...change, parameters } as unknown as SentenceChange)}
    />
  </li>
);

const TakeOut = ({ what, at, onTakenOut }: { what: string; at: number; onTakenOut: () => void }) => (
  <Button
    look="quiet"
    className="!px-1"
    aria-label={`Take out ${what} ${at + 1}`}
    title={`Take this ${what} out`}
    onClick={onTakenOut}
  >
    <X size={14} aria-hidden />
  </Button>
);
