/** Commands that correct the page by hand: what they change is of the page alone, and outlives another run of the plan. */

import { type PageWish, WRITTEN_PPQ } from '@crispfold/core';
import { gridFraction } from '../../state/editingSlice.js';
import type { CommandId } from '../../state/keyTable.js';
import { layoutActions } from '../../state/layoutSlice.js';
import type { RootState } from '../../state/root.js';
import { switched } from '../../state/switched.js';
import { correctBar, correctPage } from '../correcting.js';
import { type CommandContext, inGroup } from './command.js';
import { frontOpen, somethingSelected } from './conditions.js';

const command = inGroup('Correct the page');

/** One step of the grid, in written units. */
const gridStep = ({ editing }: RootState): number => Math.round(gridFraction(editing.grid) * 4 * WRITTEN_PPQ);

const wish = (id: CommandId, name: string, make: PageWish | ((state: RootState) => PageWish)) =>
  command(
    id,
    name,
    ({ dispatch, getState }: CommandContext) =>
      void dispatch(correctPage(typeof make === 'function' ? make(getState()) : make)),
    (state) => (state.correcting.giveOn ? null : somethingSelected(state)),
  );

const VOICES = ['voiceOne', 'voiceTwo', 'voiceThree', 'voiceFour'] as const;

export const CORRECTION_COMMANDS = [
  wish('respell', 'Respell', { wish: 'respell', by: 1 }),
  ...VOICES.map((id, index) => wish(id, `To voice ${index + 1}`, { wish: 'voice', voice: index + 1 })),
  wish('otherStaff', 'To the other staff', { wish: 'staff' }),
  wish('writtenStartEarlier', 'Written start earlier', (state) => ({ wish: 'start', by: -gridStep(state) })),
  wish('writtenStartLater', 'Written start later: a rest before it', (state) => ({
    wish: 'start',
    by: gridStep(state),
  })),
  wish('writtenEndEarlier', 'Written end earlier: a rest after it', (state) => ({ wish: 'end', by: -gridStep(state) })),
  wish('writtenEndLater', 'Written end later', (state) => ({ wish: 'end', by: gridStep(state) })),
  wish('dot', 'Staccato dot', { wish: 'staccato' }),
  wish('accent', 'Accent', { wish: 'mark', mark: 'accent' }),
  wish('tenuto', 'Tenuto', { wish: 'mark', mark: 'tenuto' }),
  wish('marcato', 'Marcato', { wish: 'mark', mark: 'marcato' }),
  wish('fermata', 'Fermata', { wish: 'mark', mark: 'fermata' }),
  wish('trill', 'Trill', { wish: 'mark', mark: 'trill' }),
  wish('turn', 'Turn', { wish: 'mark', mark: 'turn' }),
  wish('mordent', 'Mordent', { wish: 'mark', mark: 'mordent' }),
  wish('upperMordent', 'Mordent from above', { wish: 'mark', mark: 'upperMordent' }),
  wish('tremolo', 'Tremolo', { wish: 'mark', mark: 'tremolo' }),
  wish('grace', 'Grace note of the next', { wish: 'grace' }),
  wish('arpeggio', 'Arpeggio', { wish: 'mark', mark: 'arpeggio' }),
  wish('stem', 'Turn the stem', { wish: 'stem' }),
  wish('beamBroken', 'Break the beam before', { wish: 'beam', joined: false }),
  wish('beamJoined', 'Join the beam with the one before', { wish: 'beam', joined: true }),
  wish('tie', 'Tie to the next', { wish: 'tie' }),
  wish('slur', 'Slur', { wish: 'slur' }),
  wish('glissando', 'Glissando', { wish: 'glissando' }),
  wish('pedalLine', 'Pedal line', { wish: 'pedal' }),
  command('way', 'Way of playing (pizz., con sord., mute)…', ({ dispatch }) =>
    dispatch(layoutActions.toolShown('way')),
  ),
  wish('tripletWritten', 'Triplet', { wish: 'tuplet', actual: 3 }),
  wish('noTuplet', 'No tuplet', { wish: 'plain' }),
  wish('tupletLeft', 'Free from the tuplet', { wish: 'freed' }),
  wish('hairpinLouder', 'Hairpin, louder', { wish: 'hairpin', way: 'louder' }),
  wish('hairpinSofter', 'Hairpin, softer', { wish: 'hairpin', way: 'softer' }),
  wish('soundOnly', 'Sound only: heard and not written, or written again', { wish: 'soundOnly' }),
  wish('pageOnly', 'Page only: written and no longer heard', { wish: 'pageOnly' }),
  wish('hold', 'Hold the page as it is, or let it go', { wish: 'hold' }),
  command(
    'systemBreak',
    'Begin a system with this bar',
    ({ dispatch }) => dispatch(correctBar((bar) => ({ kind: 'systemBreak', bar }))),
    frontOpen,
  ),
  command(
    'pageBreak',
    'Begin a page with this bar',
    ({ dispatch }) => dispatch(correctBar((bar) => ({ kind: 'pageBreak', bar }))),
    frontOpen,
  ),
  wish('asPlanSays', 'As the plan says', { wish: 'asPlanSays' }),
  command('giveOn', 'Give to notes one after another, or not', ({ dispatch }) => {
    dispatch(switched('giveOn'));
  }),
  command('signs', 'All signs and corrections', ({ dispatch }) => {
    dispatch(layoutActions.panelShown('page'));
  }),
];
