/** Every command of the Desk, with its key: the one place for keys. Screens, the command list and the guide read it. */
import { deleteNotes, type Finding, moveNotes, type Note, trimNotes } from '@crispfold/core';
import type { AppDispatch, RootState } from '../../../app/store.js';
import { toggleTheme } from '../../../app/theme.js';
import { deskActions, type SidePanel, SNAP_VALUES, type Switch } from '../deskSlice.js';
import { chooseFinding, chosenFinding, dismiss, mend, neighbour, ofSameKind } from '../findings/findingList.js';
import { selectBars, selectMeterMap } from '../maps.js';
import { rollActions, selectEndTick, selectRows, selectView } from '../roll/rollSlice.js';
import {
  boxAround,
  bringToView,
  fitBox,
  type RollView,
  withinMusic,
  xOfTick,
  yOfPitch,
  zoomPitch,
  zoomTime,
} from '../roll/rollView.js';
import { commit, redo, undo } from '../saving.js';
import { selectFrontPart, selectShownParts } from '../selectors.js';
import { noteInWords, spoken } from '../speak.js';
import { player } from '../transport/player.js';
import { playBackToBack, playRange, togglePlaying } from '../transport/playing.js';

/** What a command works on. */
export interface CommandContext {
  readonly dispatch: AppDispatch;
  readonly getState: () => RootState;
  readonly openExport: () => void;
  readonly openCommands: () => void;
  readonly leave: () => void;
}

/** A command: a verb, its keys (as react-hotkeys-hook names them), and what it does. */
export interface Command {
  readonly id: string;
  readonly name: string;
  readonly group: 'Play' | 'View' | 'Parts' | 'Select' | 'Findings' | 'Edit' | 'Arrangement';
  readonly keys: readonly string[];
  readonly run: (context: CommandContext) => void;
}

const KEY_NAMES: { readonly [key: string]: string } = {
  period: '.',
  comma: ',',
  slash: '/',
  equal: '+',
  minus: '−',
  bracketleft: '[',
  bracketright: ']',
  space: 'Space',
  up: '↑',
  down: '↓',
  left: '←',
  right: '→',
  escape: 'Esc',
  pageup: 'Page up',
  pagedown: 'Page down',
  backspace: 'Backspace',
  delete: 'Delete',
  mod: 'Ctrl',
  shift: 'Shift',
  alt: 'Alt',
  home: 'Home',
};

/** A key as a person reads it. */
export const keyName = (key: string): string =>
  key
    .split('+')
    .map((piece) => KEY_NAMES[piece] ?? piece.toUpperCase())
    .join(' ');

/** The first key of a command, for tooltips. */
export const keyOf = (id: string): string => {
  const key = COMMANDS.find((command) => command.id === id)?.keys[0];
  return key ? keyName(key) : '';
};

const flip =
  (what: Switch) =>
  ({ dispatch }: CommandContext) => {
    dispatch(deskActions.switched(what));
  };

const changeView = (
  { dispatch, getState }: CommandContext,
  change: (view: RollView, state: RootState) => RollView,
): void => {
  const state = getState();
  dispatch(rollActions.viewSet(withinMusic(change(selectView(state), state), selectRows(state), selectEndTick(state))));
};

/** Fits all shown parts. */
export const fitAll = (context: CommandContext): void =>
  changeView(context, (view, state) => {
    const box = boxAround(selectShownParts(state).flatMap((part) => part.notes));
    return box ? fitBox(view, selectRows(state), { ...box, start: 0 }) : view;
  });

/** The first look: the first bars, wide enough to read, and every row that is used. */
export const firstLook = (context: CommandContext): void =>
  changeView(context, (view, state) => {
    const box = boxAround(selectShownParts(state).flatMap((part) => part.notes));
    const end = selectBars(state)[FIRST_BARS - 1]?.end;
    return box && end ? fitBox(view, selectRows(state), { ...box, start: 0, end: Math.min(end, box.end) }) : view;
  });

const FIRST_BARS = 8;

const selectedNotes = (state: RootState): Note[] => {
  const chosen = new Set(state.desk.selection);
  return selectFrontPart(state)?.notes.filter((note) => chosen.has(note.id)) ?? [];
};

const fitSelection = (context: CommandContext): void =>
  changeView(context, (view, state) => {
    const box = boxAround(selectedNotes(state));
    return box ? fitBox(view, selectRows(state), { ...box, lowest: box.lowest - 5, highest: box.highest + 5 }) : view;
  });

const goByBar = (step: 1 | -1) => (context: CommandContext) => {
  const bars = selectBars(context.getState());
  changeView(context, (view) => {
    const index = bars.findIndex((bar) => bar.end > view.left + 1);
    const bar =
      bars[
        Math.max(
          0,
          Math.min(bars.length - 1, view.left > (bars[index]?.start ?? 0) + 1 && step < 0 ? index : index + step),
        )
      ];
    return bar ? { ...view, left: bar.start } : view;
  });
};

const cyclePart =
  (step: 1 | -1) =>
  ({ dispatch, getState }: CommandContext) => {
    const { arrangement, frontPartId } = getState().desk;
    const parts = arrangement?.parts ?? [];
    const index = parts.findIndex((part) => part.id === frontPartId);
    const next = parts[(index + step + parts.length) % parts.length];
    if (!next) return;
    dispatch(deskActions.partBroughtForward(next.id));
    spoken.set(`${next.name} in front, ${next.notes.length} notes`);
  };

const onFrontPart =
  (action: (partId: number) => Parameters<AppDispatch>[0]) =>
  ({ dispatch, getState }: CommandContext) => {
    const { frontPartId } = getState().desk;
    if (frontPartId !== null) dispatch(action(frontPartId) as never);
  };

/** Walks from note to note in the front part, selects it, brings it to view and says it. */
const walk = (step: 1 | -1) => (context: CommandContext) => {
  const state = context.getState();
  const part = selectFrontPart(state);
  const { arrangement, selection } = state.desk;
  if (!part || !arrangement || part.notes.length === 0) return;
  const at = part.notes.findIndex((note) => note.id === selection[0]);
  const from = at >= 0 ? at + step : part.notes.findIndex((note) => note.onset >= player.state.get().tick);
  const note = part.notes[Math.max(0, Math.min(part.notes.length - 1, from))];
  if (!note) return;
  context.dispatch(deskActions.selected([note.id]));
  reveal(context, note.onset, note.pitch);
  spoken.set(noteInWords(part, note, arrangement, selectMeterMap(state)));
  if (state.desk.hearEdits) void player.sound(part, note.pitch, note.velocity);
};

/** One step of the grid; a tick where snapping is off. */
const gridStep = (state: RootState): number => {
  const { snapOn, snapIndex, arrangement } = state.desk;
  return snapOn ? (SNAP_VALUES[snapIndex] as number) * 4 * (arrangement?.ppq ?? 480) : 1;
};

const nudge =
  (grid: number, semitones: number) =>
  ({ dispatch, getState }: CommandContext) => {
    const state = getState();
    const { arrangement, frontPartId, selection } = state.desk;
    if (!arrangement || frontPartId === null || selection.length === 0) return;
    dispatch(commit(moveNotes(arrangement, frontPartId, new Set(selection), grid * gridStep(state), semitones)));
    sayFirst(getState());
  };

const trim =
  (edge: 'start' | 'end', direction: 1 | -1) =>
  ({ dispatch, getState }: CommandContext) => {
    const state = getState();
    const { arrangement, frontPartId, selection } = state.desk;
    if (!arrangement || frontPartId === null || selection.length === 0) return;
    dispatch(commit(trimNotes(arrangement, frontPartId, new Set(selection), edge, direction * gridStep(state))));
    sayFirst(getState());
  };

const sayFirst = (state: RootState): void => {
  const part = selectFrontPart(state);
  const note = selectedNotes(state)[0];
  if (part && note && state.desk.arrangement)
    spoken.set(noteInWords(part, note, state.desk.arrangement, selectMeterMap(state)));
};

const remove = ({ dispatch, getState }: CommandContext): void => {
  const { arrangement, frontPartId, selection } = getState().desk;
  if (!arrangement || frontPartId === null || selection.length === 0) return;
  dispatch(commit(deleteNotes(arrangement, frontPartId, new Set(selection))));
};

const selectWhere =
  (keep: (note: Note, state: RootState) => boolean) =>
  ({ dispatch, getState }: CommandContext) => {
    const state = getState();
    const notes = selectFrontPart(state)?.notes.filter((note) => keep(note, state)) ?? [];
    dispatch(deskActions.selected(notes.map((note) => note.id)));
    spoken.set(`${notes.length} notes selected`);
  };

const loopSelection = ({ dispatch, getState }: CommandContext): void => {
  const box = boxAround(selectedNotes(getState()));
  if (box) dispatch(deskActions.loopSet({ start: box.start, end: box.end }));
};

const moveCrease = ({ dispatch, getState }: CommandContext): void => {
  const state = getState();
  const view = selectView(state);
  if (state.desk.creaseTick !== null) {
    dispatch(deskActions.creaseMoved(null));
    return;
  }
  const playhead = player.state.get().tick;
  const x = xOfTick(view, playhead);
  const middle = view.left + (view.width * view.ticksPerPixel) / 2;
  dispatch(deskActions.creaseMoved(Math.round(x > 0 && x < view.width ? playhead : middle)));
};

/** Brings notes to view: in time, and in pitch where they lie outside. */
const reveal = (context: CommandContext, tick: number, pitch: number): void =>
  changeView(context, (view, current) => {
    const y = yOfPitch(view, selectRows(current), pitch);
    const hidden = y < 0 || y > view.height - view.rowHeight;
    return { ...bringToView(view, tick), top: hidden ? view.top + y - view.height / 2 : view.top };
  });

/** Chooses a finding and goes there. */
export const goToFinding = (context: CommandContext, finding: Finding): void => {
  context.dispatch(chooseFinding(finding));
  const first = selectedNotes(context.getState())[0];
  reveal(context, finding.tick, first?.pitch ?? 60);
};

const walkFindings = (step: 1 | -1) => (context: CommandContext) => {
  const finding = neighbour(context.getState(), step);
  if (finding) goToFinding(context, finding);
  else {
    context.dispatch(deskActions.panelShown('findings'));
    spoken.set('There are no findings.');
  }
};

const withChosen = (act: (finding: Finding, context: CommandContext) => void) => (context: CommandContext) => {
  const finding = chosenFinding(context.getState());
  if (finding) act(finding, context);
  else spoken.set('Choose a finding first.');
};

/** The bars in which something lies, one more on either side where `around`. */
const barsAbout = (state: RootState, start: number, end: number, around: number): { start: number; end: number } => {
  const bars = selectBars(state);
  const first = bars.findIndex((bar) => bar.end > start);
  const last = bars.findIndex((bar) => bar.end >= end);
  return {
    start: bars[Math.max(0, first - around)]?.start ?? 0,
    end: bars[Math.min(bars.length - 1, (last < 0 ? bars.length - 1 : last) + around)]?.end ?? end,
  };
};

/** Plays the bars around the chosen finding. */
export const playAround = withChosen((finding, { getState }) => {
  const state = getState();
  const box = boxAround(selectedNotes(state));
  playRange(
    state,
    barsAbout(state, finding.tick, Math.min(box?.end ?? finding.tick, finding.tick + 4 * gridOfBar(state)), 1),
  );
});

const gridOfBar = (state: RootState): number => 4 * (state.desk.arrangement?.ppq ?? 480);

/** The loop, else the selection, else the bars in view: as played, then as written. */
const compare = ({ getState }: CommandContext): void => {
  const state = getState();
  const { loop, loopOn } = state.desk;
  const box = boxAround(selectedNotes(state));
  const view = selectView(state);
  const range =
    loop && loopOn
      ? loop
      : box
        ? barsAbout(state, box.start, box.end, 0)
        : barsAbout(state, view.left, Math.min(view.left + view.width * view.ticksPerPixel, selectEndTick(state)), 0);
  playBackToBack(state, range);
};

const zoom = (time: number, pitch: number) => (context: CommandContext) =>
  changeView(context, (view, state) =>
    zoomPitch(zoomTime(view, time, view.width / 2, selectEndTick(state)), pitch, view.height / 2),
  );

const panel =
  (which: SidePanel) =>
  ({ dispatch }: CommandContext) => {
    dispatch(deskActions.panelShown(which));
  };

const command = (
  group: Command['group'],
  id: string,
  name: string,
  keys: readonly string[],
  run: Command['run'],
): Command => ({ id, name, group, keys, run });

/** All commands. */
export const COMMANDS: readonly Command[] = [
  command('Play', 'play', 'Play or stop', ['space'], ({ getState }) => togglePlaying(getState())),
  command('Play', 'start', 'Go back to the start', ['home'], () => void player.seek(0)),
  command('Play', 'loop', 'Switch the loop on or off', ['l'], flip('loopOn')),
  command('Play', 'loopSelection', 'Loop the selection', ['shift+l'], loopSelection),
  command('Play', 'compare', 'Hear it as played, then as written', ['e'], compare),
  command('Play', 'metronome', 'Switch the metronome on or off', ['k'], flip('metronome')),
  command('Play', 'hearEdits', 'Hear notes while editing, or not', ['shift+k'], flip('hearEdits')),

  command('View', 'fitAll', 'Fit everything', ['f'], fitAll),
  command('View', 'fitSelection', 'Fit the selection', ['z'], fitSelection),
  command('View', 'zoomIn', 'Zoom in on time', ['equal'], zoom(1.3, 1)),
  command('View', 'zoomOut', 'Zoom out of time', ['minus'], zoom(1 / 1.3, 1)),
  command('View', 'taller', 'Make the rows taller', ['shift+equal'], zoom(1, 1.2)),
  command('View', 'lower', 'Make the rows lower', ['shift+minus'], zoom(1, 1 / 1.2)),
  command('View', 'nextBar', 'Go on by a bar', ['pagedown'], goByBar(1)),
  command('View', 'previousBar', 'Go back by a bar', ['pageup'], goByBar(-1)),
  command('View', 'usedRows', 'Leave out rows that no part uses, or not', ['y'], flip('usedRowsOnly')),
  command('View', 'crease', 'Bring in the crease, or send it home', ['c'], moveCrease),
  command('View', 'page', 'Show or hide the page', ['w'], flip('pageShown')),
  command('View', 'pageOfFront', 'Page of the front part only, or of all', ['shift+w'], flip('pageOfFrontOnly')),
  command('View', 'planPanel', 'Show the plan', ['1'], panel('plan')),
  command('View', 'findingsPanel', 'Show the findings', ['2'], panel('findings')),
  command('View', 'notePanel', 'Show the selected note', ['3'], panel('note')),
  command('View', 'historyPanel', 'Show the history', ['4'], panel('history')),
  command('View', 'chartsPanel', 'Show the charts', ['5'], panel('charts')),
  command('View', 'theme', 'Turn between light and dark', ['shift+t'], () => toggleTheme()),

  command('Parts', 'nextPart', 'Bring the next part to the front', ['n'], cyclePart(1)),
  command('Parts', 'previousPart', 'Bring the part before to the front', ['b'], cyclePart(-1)),
  command('Parts', 'hidePart', 'Hide or show the front part', ['h'], onFrontPart(deskActions.partHiddenToggled)),
  command('Parts', 'alone', 'Show the front part alone, or all', ['o'], onFrontPart(deskActions.partAloneToggled)),
  command('Parts', 'mute', 'Mute the front part, or not', ['m'], onFrontPart(deskActions.partMuteToggled)),
  command('Parts', 'solo', 'Solo the front part, or not', ['q'], onFrontPart(deskActions.partSoloToggled)),

  command('Select', 'nextNote', 'Go to the next note', ['period'], walk(1)),
  command('Select', 'previousNote', 'Go to the note before', ['comma'], walk(-1)),
  command(
    'Select',
    'selectAll',
    'Select every note in the part',
    ['a'],
    selectWhere(() => true),
  ),
  command(
    'Select',
    'samePitch',
    'Select all of the same pitch',
    ['p'],
    selectWhere((note, state) => selectedNotes(state).some((s) => s.pitch === note.pitch)),
  ),
  command(
    'Select',
    'invert',
    'Turn the selection round',
    ['i'],
    selectWhere((note, state) => !state.desk.selection.includes(note.id)),
  ),
  command('Select', 'selectNone', 'Select nothing', ['escape'], ({ dispatch }) => {
    dispatch(deskActions.selected([]));
  }),

  command('Findings', 'nextFinding', 'Go to the next finding', ['j'], walkFindings(1)),
  command('Findings', 'previousFinding', 'Go to the finding before', ['shift+j'], walkFindings(-1)),
  command('Findings', 'playAround', 'Play around the finding', ['shift+e'], playAround),
  command(
    'Findings',
    'mendFinding',
    'Mend the finding',
    ['v'],
    withChosen((finding, { dispatch }) => dispatch(mend([finding]))),
  ),
  command(
    'Findings',
    'mendKind',
    'Mend all findings of this kind',
    ['shift+v'],
    withChosen((_finding, { dispatch, getState }) => dispatch(mend(ofSameKind(getState())))),
  ),
  command(
    'Findings',
    'dismissFinding',
    'Dismiss the finding',
    ['t'],
    withChosen((finding, { dispatch }) => dispatch(dismiss([finding], finding.reason))),
  ),

  command('Edit', 'delete', 'Delete the selection', ['delete', 'backspace'], remove),
  command('Edit', 'up', 'Move up a semitone', ['up'], nudge(0, 1)),
  command('Edit', 'down', 'Move down a semitone', ['down'], nudge(0, -1)),
  command('Edit', 'octaveUp', 'Move up an octave', ['shift+up'], nudge(0, 12)),
  command('Edit', 'octaveDown', 'Move down an octave', ['shift+down'], nudge(0, -12)),
  command('Edit', 'later', 'Move later by the grid', ['right'], nudge(1, 0)),
  command('Edit', 'earlier', 'Move earlier by the grid', ['left'], nudge(-1, 0)),
  command('Edit', 'longer', 'End later by the grid', ['shift+right'], trim('end', 1)),
  command('Edit', 'shorter', 'End earlier by the grid', ['shift+left'], trim('end', -1)),
  command('Edit', 'startLater', 'Start later, end kept', ['bracketright'], trim('start', 1)),
  command('Edit', 'startEarlier', 'Start earlier, end kept', ['bracketleft'], trim('start', -1)),
  command('Edit', 'draw', 'Draw notes, or select', ['d'], flip('drawing')),
  command('Edit', 'snap', 'Switch snapping on or off', ['s'], flip('snapOn')),
  command('Edit', 'finer', 'Snap to a finer grid', ['g'], ({ dispatch }) => void dispatch(deskActions.snapStepped(1))),
  command(
    'Edit',
    'coarser',
    'Snap to a coarser grid',
    ['shift+g'],
    ({ dispatch }) => void dispatch(deskActions.snapStepped(-1)),
  ),
  command('Edit', 'undo', 'Undo', ['u', 'mod+z'], ({ dispatch }) => dispatch(undo())),
  command('Edit', 'redo', 'Redo', ['r', 'mod+shift+z', 'mod+y'], ({ dispatch }) => dispatch(redo())),

  command('Arrangement', 'export', 'Export files', ['x'], ({ openExport }) => openExport()),
  command('Arrangement', 'commands', 'List all commands', ['slash', 'mod+k'], ({ openCommands }) => openCommands()),
  command('Arrangement', 'library', 'Go to the library', ['shift+b'], ({ leave }) => leave()),
];
