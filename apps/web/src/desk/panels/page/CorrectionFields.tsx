/** The page corrected by hand: what the selected notes can be given, and what the bar can. */

import {
  CLEF_NAMES,
  type ClefName,
  DYNAMICS,
  type Dynamic,
  instrumentById,
  keyInWords,
  LONGEST_WORDS,
  mayHaveTwoStaves,
  NOTE_VALUES,
  NOTEHEADS,
  type Notehead,
  type Swing,
  selectionSize,
  TUPLETS,
  USUAL_SWING,
  WRITTEN_PPQ,
} from '@crispfold/core';
import { type ReactNode, useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import { type CommandContext, carryOut, commandById } from '../../actions/commands/command.js';
import { barInHand, changeMap, correctBar, correctPage, divideSystems } from '../../actions/correcting.js';
import { useKeyOf } from '../../controls/useKeyOf.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import type { CommandId } from '../../state/keyTable.js';
import { useAppSelector } from '../../state/root.js';
import { selectEditable, selectFrontPart } from '../../state/selectors.js';
import { switched } from '../../state/switched.js';
import { MarkFields } from './MarkFields.js';

const ROWS: readonly (readonly [heading: string, commands: readonly (readonly [CommandId, string])[]])[] = [
  [
    'Notes',
    [
      ['respell', 'Respell'],
      ['tie', 'Tie'],
      ['stem', 'Stem'],
      ['beamBroken', 'Break the beam'],
      ['beamJoined', 'Join the beam'],
      ['otherStaff', 'Other staff'],
    ],
  ],
  [
    'Voice',
    [
      ['voiceOne', '1'],
      ['voiceTwo', '2'],
      ['voiceThree', '3'],
      ['voiceFour', '4'],
    ],
  ],
  [
    'Written',
    [
      ['writtenStartEarlier', '◂ start'],
      ['writtenStartLater', 'start ▸'],
      ['writtenEndEarlier', '◂ end'],
      ['writtenEndLater', 'end ▸'],
      ['noTuplet', 'No tuplet'],
      ['tupletLeft', 'Free from the tuplet'],
    ],
  ],
  [
    'Signs',
    [
      ['dot', 'Dot'],
      ['accent', 'Accent'],
      ['tenuto', 'Tenuto'],
      ['marcato', 'Marcato'],
      ['fermata', 'Fermata'],
      ['trill', 'Trill'],
      ['turn', 'Turn'],
      ['mordent', 'Mordent'],
      ['upperMordent', 'Mordent from above'],
      ['tremolo', 'Tremolo'],
      ['grace', 'Grace note'],
      ['arpeggio', 'Arpeggio'],
      ['slur', 'Slur'],
      ['glissando', 'Glissando'],
      ['pedalLine', 'Pedal line'],
      ['hairpinLouder', 'Louder'],
      ['hairpinSofter', 'Softer'],
      ['way', 'Way of playing…'],
    ],
  ],
  [
    'Whole',
    [
      ['hold', 'Hold the page'],
      ['soundOnly', 'Sound only'],
      ['pageOnly', 'Page only'],
      ['asPlanSays', 'As the plan says'],
    ],
  ],
];

const BOX = 'min-h-7 min-w-24 flex-1 border border-strong bg-sheet px-1';

/** A list whose first line says what it is; choosing carries it out. */
const Giver = ({
  label,
  words = label,
  choices,
  disabled,
  onChoose,
}: {
  label: string;
  /** What it shows, where that is shorter. */
  words?: string;
  choices: readonly string[];
  disabled: boolean;
  onChoose: (choice: string) => void;
}) => (
  <select
    aria-label={label}
    className={BOX}
    disabled={disabled}
    value=""
    onChange={(event) => event.target.value !== '' && onChoose(event.target.value)}
  >
    <option value="">{words}…</option>
    {choices.map((choice) => (
      <option key={choice} value={choice}>
        {choice}
      </option>
    ))}
  </select>
);

const TUPLET_SIZES: readonly string[] = Array.from({ length: TUPLETS.to - TUPLETS.from + 1 }, (_, k) =>
  String(TUPLETS.from + k),
);
const CLEFS: readonly string[] = CLEF_NAMES.filter((clef) => clef !== 'percussion');
const LOWER = ', lower staff';
const AS_IT_COMES = 'as the page divides';
const SYSTEM_LENGTHS: readonly string[] = [AS_IT_COMES, '1', '2', '3', '4', '5', '6', '7', '8'];
const SWINGS: readonly { readonly name: string; readonly swing: Swing | 'even' }[] = [
  { name: 'swung eighths', swing: { percent: USUAL_SWING, pair: 'eighths' } },
  { name: 'swung sixteenths', swing: { percent: USUAL_SWING, pair: 'sixteenths' } },
  { name: 'straight', swing: 'even' },
];

const Row = ({ heading, children }: { heading: string; children: ReactNode }) => (
  <div className="grid grid-cols-[3.4rem_minmax(0,1fr)] items-baseline gap-x-1">
    <span className="text-soft">{heading}</span>
    <span className="flex min-w-0 flex-wrap gap-1">{children}</span>
  </div>
);

const Words = ({ disabled }: { disabled: boolean }) => {
  const dispatch = useAppDispatch();
  const [text, setText] = useState('');
  return (
    <form
      className="flex w-full min-w-0 gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        void dispatch(correctPage({ wish: 'words', text }));
        setText('');
      }}
    >
      <input
        aria-label="Words over the first note; empty takes them away"
        placeholder="words over it"
        className={BOX}
        maxLength={LONGEST_WORDS}
        disabled={disabled}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit" className="!min-h-7" disabled={disabled}>
        Put
      </Button>
    </form>
  );
};

/** What is done to the selected notes by a command, in rows. */
const CommandRows = ({ context, disabled }: { context: CommandContext; disabled: boolean }) => {
  const keyOf = useKeyOf();
  return ROWS.map(([heading, commands]) => (
    <Row key={heading} heading={heading}>
      {commands.map(([id, words]) => {
        const command = commandById(context, id);
        return (
          command && (
            <Button
              key={id}
              className="!min-h-7 !px-1.5"
              title={command.name}
              hint={keyOf(id)}
              aria-label={command.name}
              disabled={disabled}
              onClick={() => carryOut(command, context)}
            >
              {words}
            </Button>
          )
        );
      })}
    </Row>
  ));
};

/** What the selected notes are given of a list, or in words. */
const GiveRow = ({ disabled }: { disabled: boolean }) => {
  const dispatch = useAppDispatch();
  return (
    <Row heading="Give">
      <Giver
        label="Dynamic"
        choices={DYNAMICS}
        disabled={disabled}
        onChoose={(dynamic) => void dispatch(correctPage({ wish: 'dynamic', dynamic: dynamic as Dynamic }))}
      />
      <Giver
        label="Value"
        choices={NOTE_VALUES.map(([, name]) => name)}
        disabled={disabled}
        onChoose={(name) => {
          const value = NOTE_VALUES.find(([, own]) => own === name)?.[0] ?? 0;
          void dispatch(correctPage({ wish: 'length', length: Math.round(value * 4 * WRITTEN_PPQ) }));
        }}
      />
      <Giver
        label="Tuplet of"
        choices={TUPLET_SIZES}
        disabled={disabled}
        onChoose={(size) => void dispatch(correctPage({ wish: 'tuplet', actual: Number(size) }))}
      />
      <Giver
        label="Notehead"
        choices={NOTEHEADS}
        disabled={disabled}
        onChoose={(head) => void dispatch(correctPage({ wish: 'notehead', head: head as Notehead }))}
      />
      <Words disabled={disabled} />
    </Row>
  );
};

/** What begins with the bar in hand, in the front part. */
const BarRow = () => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const { player } = useDesk();
  const front = useAppSelector(selectFrontPart);
  const bar = useAppSelector((state) => barInHand(state, player));
  const twoStaves = front !== undefined && mayHaveTwoStaves(instrumentById(front.instrument));
  return (
    <Row heading={`Bar ${bar}`}>
      <Giver
        label="Clef from here"
        words="Clef"
        choices={twoStaves ? [...CLEFS, ...CLEFS.map((clef) => `${clef}${LOWER}`)] : CLEFS}
        disabled={!front}
        onChoose={(choice) =>
          dispatch(
            correctBar((at) => ({
              kind: 'clef',
              bar: at,
              staff: choice.endsWith(LOWER) ? 2 : 1,
              clef: choice.replace(LOWER, '') as ClefName,
            })),
          )
        }
      />
      <Giver
        label="Swing from here"
        words="Swing"
        choices={SWINGS.map(({ name }) => name)}
        disabled={!front}
        onChoose={(choice) => {
          const swing = SWINGS.find(({ name }) => name === choice)?.swing;
          if (swing) dispatch(correctBar((at) => ({ kind: 'swing', bar: at, swing })));
        }}
      />
      {(['systemBreak', 'pageBreak'] as const).map((kind) => (
        <Button
          key={kind}
          className="!min-h-7 !px-1.5"
          title={kind === 'systemBreak' ? 'A system begins with this bar' : 'A page begins with this bar'}
          hint={keyOf(kind)}
          disabled={!front}
          onClick={() => dispatch(correctBar((at) => ({ kind, bar: at })))}
        >
          {kind === 'systemBreak' ? 'New system' : 'New page'}
        </Button>
      ))}
      <Giver
        label="Bars to a system"
        choices={SYSTEM_LENGTHS}
        disabled={!front}
        onChoose={(choice) => dispatch(divideSystems(choice === AS_IT_COMES ? null : Number(choice)))}
      />
    </Row>
  );
};

/** The keys of up to seven signs, major and minor, from the plainest. */
const KEYS = Array.from({ length: 15 }, (_, index) => (index % 2 === 0 ? -index / 2 : (index + 1) / 2)).flatMap(
  (fifths) => [false, true].map((minor) => ({ fifths, minor })),
);

const MeterField = ({ disabled }: { disabled: boolean }) => {
  const dispatch = useAppDispatch();
  const [text, setText] = useState('');
  return (
    <form
      className="flex min-w-0 flex-1 gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        void dispatch(changeMap({ wish: 'meter', text }));
        setText('');
      }}
    >
      <input
        aria-label="Meter from here, as 3/4 or 2+3/8"
        placeholder="3/4"
        className="min-h-7 w-14 min-w-0 flex-1 border border-strong bg-sheet px-1"
        disabled={disabled}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit" className="!min-h-7" aria-label="Set the meter" disabled={disabled}>
        Set
      </Button>
    </form>
  );
};

/** What begins with the bar in hand in all parts. */
const AllPartsRow = () => {
  const dispatch = useAppDispatch();
  const front = useAppSelector(selectFrontPart);
  return (
    <Row heading="All parts">
      <Giver
        label="Key from here"
        words="Key"
        choices={KEYS.map(keyInWords)}
        disabled={!front}
        onChoose={(choice) => {
          const key = KEYS.find((own) => keyInWords(own) === choice);
          if (key) void dispatch(changeMap({ wish: 'key', ...key }));
        }}
      />
      <MeterField disabled={!front} />
    </Row>
  );
};

export const CorrectionFields = ({ context }: { context: CommandContext }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const selected = useAppSelector((state) => selectionSize(selectEditable(state)));
  const giveOn = useAppSelector(({ correcting }) => correcting.giveOn);
  const none = selected === 0 && !giveOn;
  return (
    <section aria-label="Corrections by hand" className="flex flex-col gap-1.5 border-t border-rule pt-2">
      <h3 className="font-serif text-base">Correct by hand</h3>
      <p className="text-soft">
        {giveOn
          ? 'Choose what is given; then it goes to every note that you select. Escape ends it.'
          : none
            ? 'Select notes, in the roll or on the page, and say how they are written. Played stays as it is.'
            : `${counted(selected, 'note')} selected. What you do here is of the page alone, and stays.`}
      </p>
      <label
        className="flex items-center gap-2"
        title={`What is chosen goes to every note you select (${keyOf('giveOn')})`}
      >
        <input
          type="checkbox"
          className="accent-[var(--fold)]"
          checked={giveOn}
          onChange={() => dispatch(switched('giveOn'))}
        />
        Give to notes one after another
      </label>
      <CommandRows context={context} disabled={none} />
      <GiveRow disabled={none} />
      <BarRow />
      <Row heading="Marks">
        <MarkFields />
      </Row>
      <AllPartsRow />
    </section>
  );
};
