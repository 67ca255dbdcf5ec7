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
import { useEffect, useRef } from 'react';
import { Button } from '../../../ui/Button.js';
import { FieldControl } from './FieldControl.js';

const BOX = 'min-h-7 min-w-0 max-w-full border border-strong bg-sheet px-1';

/** What is said of a kind in the menu of kinds: its words with the fields left open. */
const inMenu = (words: string): string =>
  piecesOf(words)
    .map((piece) => ('words' in piece ? piece.words : '…'))
    .join(' ')
    .replaceAll(' ,', ',');

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

/** The conditions in a row, each with what joins it to the one before. */
type Joined = readonly { readonly condition: Condition; readonly or: boolean }[];

const joinedOf = (where: SentenceLine['where']): Joined =>
  where.flatMap((way, at) => way.map((condition, index) => ({ condition, or: at > 0 && index === 0 })));

const waysOf = (joined: Joined): SentenceLine['where'] =>
  joined.reduce<Condition[][]>((ways, { condition, or }) => {
    const last = ways[ways.length - 1];
    if (last && !or) last.push(condition);
    else ways.push([condition]);
    return ways;
  }, []);

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
  /** What was just added takes the keys. */
  const focus = useRef<string | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed line is what may hold what was added
  useEffect(() => {
    if (focus.current === null) return;
    box.current?.querySelector<HTMLElement>(`[data-at="${focus.current}"]`)?.focus();
    focus.current = null;
  }, [line]);
  const joined = joinedOf(line.where);
  const withConditions = (next: Joined) => onChange({ ...line, where: waysOf(next) });
  const setCondition = (at: number, next: Partial<Joined[number]>) =>
    withConditions(joined.map((one, index) => (index === at ? { ...one, ...next } : one)));
  const setChange = (at: number, next: SentenceChange) =>
    onChange({ ...line, do: line.do.map((one, index) => (index === at ? next : one)) });
  return (
    <fieldset ref={box} className="min-w-0 border border-rule bg-sheet p-2">
      <legend className="px-1 font-serif text-base">Where</legend>
      {joined.length === 0 && <p className="text-soft">Every note in reach.</p>}
      <ul className="flex flex-col gap-2">
        {joined.map(({ condition, or }, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a condition is its place in the sentence
          <li key={at}>
            <span className="flex items-center gap-1">
              {at > 0 && (
                <select
                  aria-label={`Condition ${at + 1} is joined by`}
                  className={BOX}
                  value={or ? 'or' : 'and'}
                  onChange={(event) => setCondition(at, { or: event.target.value === 'or' })}
                >
                  <option value="and">and</option>
                  <option value="or">or</option>
                </select>
              )}
              <select
                aria-label={`Condition ${at + 1}: is or is not`}
                className={BOX}
                value={condition.not ? 'not' : 'is'}
                onChange={(event) =>
                  setCondition(at, { condition: { ...condition, not: event.target.value === 'not' } })
                }
              >
                <option value="is">is</option>
                <option value="not">is not</option>
              </select>
              <select
                aria-label={`Condition ${at + 1}`}
                data-at={`condition ${at}`}
                className={`${BOX} w-0 flex-1`}
                value={condition.kind}
                onChange={(event) =>
                  setCondition(at, {
                    condition: { ...newCondition(event.target.value as ConditionKind), not: condition.not },
                  })
                }
              >
                {CONDITION_KINDS.map((kind) => (
                  <option key={kind} value={kind}>
                    {inMenu(CONDITIONS[kind].words)}
                  </option>
                ))}
              </select>
              <Button
                look="quiet"
                className="!px-1"
                aria-label={`Take out condition ${at + 1}`}
                title="Take this condition out"
                onClick={() => {
                  focus.current = 'more conditions';
                  withConditions(joined.filter((_, index) => index !== at));
                }}
              >
                <X size={14} aria-hidden />
              </Button>
            </span>
            <Wording
              words={CONDITIONS[condition.kind].words}
              fields={CONDITIONS[condition.kind].fields}
              parameters={condition.parameters}
              onChange={(parameters) =>
                setCondition(at, { condition: { ...condition, parameters } as unknown as Condition })
              }
            />
          </li>
        ))}
      </ul>
      <Button
        look="quiet"
        className="mt-1 !px-1"
        data-at="more conditions"
        onClick={() => {
          focus.current = `condition ${joined.length}`;
          withConditions([...joined, { condition: newCondition('velocity'), or: false }]);
        }}
      >
        <Plus size={14} aria-hidden /> {joined.length === 0 ? 'A condition' : 'Another condition'}
      </Button>
      <p className="mt-2 border-t border-rule pt-1 font-serif text-base">do</p>
      <ol className="flex flex-col gap-2">
        {line.do.map((change, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a change is its place in the sentence
          <li key={at}>
            <span className="flex items-center gap-1">
              <select
                aria-label={`Line ${number}, change ${at + 1}`}
                data-at={`change ${at}`}
                className={`${BOX} w-0 flex-1`}
                value={change.kind}
                onChange={(event) => setChange(at, newChange(event.target.value as ChangeKind))}
              >
                {CHANGE_KINDS.map((kind) => (
                  <option key={kind} value={kind}>
                    {inMenu(CHANGES[kind].words)}
                  </option>
                ))}
              </select>
              {line.do.length > 1 && (
                <Button
                  look="quiet"
                  className="!px-1"
                  aria-label={`Take out change ${at + 1}`}
                  title="Take this change out"
                  onClick={() => {
                    focus.current = 'more changes';
                    onChange({ ...line, do: line.do.filter((_, index) => index !== at) });
                  }}
                >
                  <X size={14} aria-hidden />
                </Button>
              )}
            </span>
            <Wording
              words={CHANGES[change.kind].words}
              fields={CHANGES[change.kind].fields}
              parameters={change.parameters as { readonly [name: string]: unknown }}
              onChange={(parameters) => setChange(at, { ...change, parameters } as unknown as SentenceChange)}
            />
          </li>
        ))}
      </ol>
      <Button
        look="quiet"
        className="mt-1 !px-1"
        data-at="more changes"
        onClick={() => {
          focus.current = `change ${line.do.length}`;
          onChange({ ...line, do: [...line.do, newChange('addVelocity')] });
        }}
      >
        <Plus size={14} aria-hidden /> Another change
      </Button>
    </fieldset>
  );
};
