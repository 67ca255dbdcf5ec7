/** Sentences in words, and what in them cannot be meant. */
import { instrumentById } from '../instruments/instruments.js';
import { pitchName } from '../reading/noteWords.js';
import { stepById } from '../steps/registry.js';
import type { Length } from '../time/noteLengths.js';
import { CHANGES } from './changes.js';
import { CONDITIONS } from './conditions.js';
import type {
  Condition,
  PitchList,
  Sentence,
  SentenceChange,
  SentenceField,
  SentenceLine,
  Wording,
} from './sentence.js';

/** A piece of a wording: plain words, or the name of a field. */
export type WordingPiece = { readonly words: string } | { readonly field: string };

/** The pieces of a wording in order. */
export const piecesOf = (words: string): readonly WordingPiece[] =>
  words
    .split(/(\{\w+\})/)
    .filter((piece) => piece.trim() !== '')
    .map((piece) => (piece.startsWith('{') ? { field: piece.slice(1, -1) } : { words: piece.trim() }));

const lengthInWords = ({ unit, value }: Length): string => {
  if (unit === 'ms') return `${value} ms`;
  if (unit === 'ticks') return `${value} ticks`;
  const parts = 1 / value;
  return Number.isInteger(parts) ? (parts === 1 ? 'a whole' : `1/${parts}`) : `${value} of a whole`;
};

/** "40>38 38>40": a list of pitches as it is typed. */
export const pitchListAsText = (list: PitchList): string => list.map(([from, to]) => `${from}>${to}`).join(' ');

/** A list of pitches from what was typed ("40>38, 42>44"); null where it is none, or names a pitch twice. */
export const pitchListFromText = (text: string): PitchList | null => {
  const pieces = text.split(/[\s,;]+/).filter((piece) => piece !== '');
  const list = pieces.map((piece) => /^(\d{1,3})[>:](\d{1,3})$/.exec(piece)?.slice(1).map(Number));
  if (pieces.length === 0 || list.some((pair) => !pair || pair.some((pitch) => pitch > 127))) return null;
  const pairs = list as unknown as [number, number][];
  return new Set(pairs.map(([from]) => from)).size === pairs.length ? pairs : null;
};

/** What a field holds, in words. */
export const valueInWords = (field: SentenceField, value: unknown): string => {
  switch (field.kind) {
    case 'number':
      return String(value);
    case 'choice':
      return field.choices.find((choice) => choice.value === value)?.label ?? String(value);
    case 'length':
      return lengthInWords(value as Length);
    case 'pitch':
      return pitchName(value as number);
    case 'pitches':
      return pitchListAsText(value as PitchList);
    case 'part':
      return (value as string) || '(no name)';
    case 'step':
      return stepById((value as { step: Parameters<typeof stepById>[0] }).step).name;
    default:
      return field satisfies never;
  }
};

const inWords = ({ words, fields }: Wording<object>, parameters: object): string =>
  piecesOf(words)
    .map((piece) =>
      'words' in piece
        ? piece.words
        : valueInWords(
            (fields as { [name: string]: SentenceField })[piece.field] as SentenceField,
            (parameters as { [name: string]: unknown })[piece.field],
          ),
    )
    .join(' ')
    .replaceAll(' ,', ',');

/** "is not of velocity 1 to 40". */
export const conditionInWords = ({ kind, not, parameters }: Condition): string =>
  `is ${not ? 'not ' : ''}${inWords(CONDITIONS[kind] as Wording<object>, parameters)}`;

/** "add 10 to their velocity". */
export const changeInWords = ({ kind, parameters }: SentenceChange): string =>
  inWords(CHANGES[kind] as Wording<object>, parameters);

/** "Where a note is muted and is not on a beat, or is selected: delete them." */
export const lineInWords = (line: SentenceLine): string => {
  const ways = line.where.filter((way) => way.length > 0);
  const where =
    ways.length === 0
      ? 'Every note'
      : `Where a note ${ways.map((way) => way.map(conditionInWords).join(' and ')).join(', or ')}`;
  return `${where}: ${line.do.map(changeInWords).join(', then ') || 'nothing yet'}.`;
};

/** A span of values that a condition asks for. */
interface Asked {
  readonly of: string;
  readonly from: number;
  readonly to: number;
}

const spanOf = ({ kind, parameters }: Condition): Asked | null => {
  switch (kind) {
    case 'velocity':
    case 'pitch':
    case 'bars':
      return { of: kind, from: parameters.from, to: parameters.to };
    case 'channel':
      return { of: kind, from: parameters.channel, to: parameters.channel };
    case 'voice':
      return { of: kind, from: parameters.voice, to: parameters.voice };
    case 'staff':
      return { of: kind, from: parameters.staff, to: parameters.staff };
    case 'pitchClass':
      return { of: kind, from: parameters.pitchClass, to: parameters.pitchClass };
    case 'hand':
      return { of: kind, from: Number(parameters.hand === 'left'), to: Number(parameters.hand === 'left') };
    default:
      return null;
  }
};

const namedBy = ({ kind, parameters }: Condition): readonly [of: string, name: string] | null =>
  kind === 'part'
    ? [kind, parameters.name.trim().toLowerCase()]
    : kind === 'instrument'
      ? [kind, instrumentById(parameters.instrument).name]
      : null;

/** Why no note can meet both of two conditions; null where one can. */
const contradiction = (a: Condition, b: Condition): string | null => {
  const words = `No note ${conditionInWords(a)} and ${conditionInWords(b)}.`;
  if (a.kind === b.kind && a.not !== b.not && JSON.stringify(a.parameters) === JSON.stringify(b.parameters))
    return words;
  if (a.not || b.not) return null;
  const [one, other] = [spanOf(a), spanOf(b)];
  if (one && other && one.of === other.of && (one.from > other.to || other.from > one.to)) return words;
  const [name, second] = [namedBy(a), namedBy(b)];
  if (name && second && name[0] === second[0] && name[1] !== second[1]) return words;
  if (a.kind === 'chord' && b.kind === 'chord') {
    const alone = [a, b].filter((one) => one.parameters.place === 'alone').length;
    if (alone === 1 && a.parameters.among === b.parameters.among) return words;
  }
  return null;
};

const problemOfCondition = (condition: Condition, partNames: readonly string[]): string | null => {
  const { kind, parameters } = condition;
  const span = spanOf(condition);
  if (span && span.from > span.to) return `Nothing can be from ${span.from} to ${span.to}: the first is the greater.`;
  if (
    kind === 'part' &&
    !partNames.some((name) => name.trim().toLowerCase() === parameters.name.trim().toLowerCase())
  ) {
    return parameters.name.trim() === '' ? 'Choose a part.' : `There is no part called ${parameters.name} here.`;
  }
  if (kind === 'everyNth' && parameters.first > parameters.n) {
    return `Of every ${parameters.n} there is no number ${parameters.first}.`;
  }
  return null;
};

/**
 * What cannot be meant in a sentence, line by line, in words: spans that run backwards, conditions that no note can meet
 * together, parts that are not there. It can be carried out all the same; nothing is lost.
 */
export const problemsOf = (
  { lines }: Pick<Sentence, 'lines'>,
  partNames: readonly string[],
): readonly (readonly string[])[] =>
  lines.map((line) => {
    const problems = line.where.flatMap((way) => [
      ...way.flatMap((condition) => problemOfCondition(condition, partNames) ?? []),
      ...way.flatMap((a, index) => way.slice(index + 1).flatMap((b) => contradiction(a, b) ?? [])),
    ]);
    for (const change of line.do) {
      if (change.kind !== 'sendTo') continue;
      const { name } = change.parameters;
      if (name.trim() === '') problems.push('Choose a part to send them to.');
      else if (!partNames.some((own) => own.trim().toLowerCase() === name.trim().toLowerCase())) {
        problems.push(`There is no part called ${name} here.`);
      }
    }
    return [...new Set(problems)];
  });
