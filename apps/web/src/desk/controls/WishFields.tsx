/** How pages are laid out: paper, staves, order, pitch, names. */
import { PAPERS, type Paper, STAFF_SIZES } from '@crispfold/core';
import type { ReactNode } from 'react';
import type { PageWishes } from './pageWishes.js';

const BOX = 'min-h-8 border border-strong bg-sheet px-1';

const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  // biome-ignore lint/a11y/noLabelWithoutControl: the control is what it holds
  <label className="flex items-center gap-2">
    <span className="w-24 shrink-0">{label}</span>
    {children}
  </label>
);

/** One of a few values, by their words. */
function Choice<Value extends string | number | null>({
  label,
  value,
  choices,
  onChoose,
}: {
  label: string;
  value: Value;
  choices: readonly (readonly [value: Value, words: string])[];
  onChoose: (value: Value) => void;
}) {
  return (
    <Line label={label}>
      <select
        className={`${BOX} min-w-0 flex-1`}
        value={String(value)}
        onChange={(event) => {
          const found = choices.find(([own]) => String(own) === event.target.value);
          if (found) onChoose(found[0]);
        }}
      >
        {choices.map(([own, words]) => (
          <option key={String(own)} value={String(own)}>
            {words}
          </option>
        ))}
      </select>
    </Line>
  );
}

const PAPER_CHOICES = Object.entries(PAPERS).map(([paper, { name }]) => [paper as Paper, name] as const);
const STAFF_CHOICES: readonly (readonly [number | null, string])[] = [
  [null, 'as suits'],
  ...STAFF_SIZES.map((size) => [size, `${size} mm`] as const),
];
const BAR_NUMBERS: readonly (readonly [PageWishes['barNumbers'], string])[] = [
  ['systems', 'at each system'],
  [1, 'at each bar'],
  [5, 'each five bars'],
  [10, 'each ten bars'],
  ['none', 'nowhere'],
];

export const WishFields = ({
  wishes,
  change,
}: {
  wishes: PageWishes;
  change: (changed: Partial<PageWishes>) => void;
}) => (
  <div className="my-2 grid grid-cols-1 gap-x-6 gap-y-1.5 text-sm sm:grid-cols-2">
    {(['composer', 'arranger'] as const).map((name) => (
      <Line key={name} label={name === 'composer' ? 'Composer' : 'Arranger'}>
        <input
          className={`${BOX} min-w-0 flex-1`}
          maxLength={200}
          value={wishes[name]}
          onChange={(event) => change({ [name]: event.target.value })}
        />
      </Line>
    ))}
    <Choice label="Paper" value={wishes.paper} choices={PAPER_CHOICES} onChoose={(paper) => change({ paper })} />
    <Choice label="Staff" value={wishes.staff} choices={STAFF_CHOICES} onChoose={(staff) => change({ staff })} />
    <Choice
      label="Score order"
      value={wishes.order}
      choices={[
        ['own', 'as in the list'],
        ['families', 'by families'],
      ]}
      onChoose={(order) => change({ order })}
    />
    <Choice
      label="Bar numbers"
      value={wishes.barNumbers}
      choices={BAR_NUMBERS}
      onChoose={(barNumbers) => change({ barNumbers })}
    />
    <Choice
      label="Resting staves"
      value={wishes.restingStaves}
      choices={[
        ['shown', 'shown'],
        ['hidden', 'hidden'],
      ]}
      onChoose={(restingStaves) => change({ restingStaves })}
    />
    <Choice
      label="Pitch"
      value={wishes.concertPitch ? 'concert' : 'written'}
      choices={[
        ['written', 'as written'],
        ['concert', 'concert'],
      ]}
      onChoose={(pitch) => change({ concertPitch: pitch === 'concert' })}
    />
  </div>
);
