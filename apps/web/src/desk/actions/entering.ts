/** Note by note: what a key, the keyboard on the screen or a device asks for becomes one Edit, and the place moves on. */

import {
  deleteAtEntry,
  type Entered,
  type Entry,
  type EntryValue,
  enterNotes,
  enterRest,
  enterTie,
  moveEntered,
  pitchName,
  pitchOfLetter,
  type Struck,
} from '@crispfold/core';
import type { Thunk } from '../session/desk.js';
import { commit, undo } from '../session/saving.js';
import { gridFraction } from '../state/editingSlice.js';
import { enteringActions } from '../state/enteringSlice.js';
import { noteSpoken } from '../state/noteSpoken.js';
import { selectView } from '../state/rollSelectors.js';
import { rollActions } from '../state/rollSlice.js';
import { bringToView } from '../state/rollView.js';
import type { RootState } from '../state/root.js';
import { gridTicks, selectArrangement, selectFrontPart } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';

/** Where nothing was entered yet, letters go to the octave about this pitch, or about the part's first note. */
const MIDDLE = 67;

/** Begins at the playhead, on the grid, in the front part; or ends. */
export const turnEntry: Thunk = (dispatch, getState, { player }) => {
  const state = getState();
  const part = selectFrontPart(state);
  if (state.entering.entry || !part) {
    dispatch(enteringActions.entrySet(null));
    return;
  }
  const unit = gridTicks(state);
  const first = part.notes.find((note) => state.selecting.selection.get(part.id)?.has(note.id));
  const from = first?.onset ?? player.state.get().tick;
  dispatch(
    enteringActions.entrySet({
      partId: part.id,
      at: Math.max(0, Math.round(from / unit) * unit),
      value: {
        fraction: Math.min(1, gridFraction({ ...state.editing.grid, kind: 'plain' })),
        dotted: false,
        tuplet: null,
      },
      velocity: state.editing.drawn.velocity,
      inserts: false,
      pageOnly: false,
      staff: 1,
      last: null,
    }),
  );
  dispatch(said(`Note by note in ${part.name}. Letters enter notes, digits choose the value, Escape ends.`));
};

/** Carries one step out, says it, and keeps how it stood before. */
const step =
  (make: (state: RootState, entry: Entry) => Entered, words?: (state: RootState, entered: Entered) => string): Thunk =>
  (dispatch, getState) => {
    const before = getState().entering.entry;
    if (!before) return;
    const entered = make(getState(), before);
    if (entered.edit) dispatch(commit(entered.edit));
    const state = getState();
    const { position } = state.piece.history;
    dispatch(enteringActions.entryMoved({ entry: entered.entry, before, edited: entered.edit !== null, position }));
    dispatch(rollActions.viewSet(bringToView(selectView(state), entered.entry.at)));
    if (words) dispatch(said(words(getState(), entered)));
  };

/** Enters pitches; as a chord they join those entered last. */
export const enter =
  (struck: readonly Struck[], chord = false): Thunk =>
  (dispatch, getState, { player }) => {
    const {
      entering: { entry },
      playback: { hearEdits },
    } = getState();
    if (!entry) return;
    dispatch(
      step(
        (state, now) => enterNotes(selectArrangement(state), now, struck, chord),
        (state, { entry: after }) => {
          const part = selectArrangement(state).parts.find(({ id }) => id === after.partId);
          if (after.pageOnly && after.last) return `${pitchName(after.last.pitch)}, written and not heard`;
          const note = part?.notes.find(({ id }) => id === after.last?.ids.at(-1));
          return part && note ? noteSpoken(state, part, note) : '';
        },
      ),
    );
    const part = selectArrangement(getState()).parts.find(({ id }) => id === entry.partId);
    if (part && hearEdits)
      for (const { pitch, velocity } of struck) void player.sound(part, pitch, velocity ?? entry.velocity);
  };

/** Enters the pitch that a letter means in the key, near the one before. */
export const enterLetter =
  (letter: string, chord: boolean): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const {
      entering: { entry },
    } = state;
    const { keys, parts } = selectArrangement(state);
    if (!entry) return;
    const part = parts.find(({ id }) => id === entry.partId);
    const before = part?.notes.findLast(({ onset }) => onset <= entry.at);
    const key = keys.findLast(({ tick }) => tick <= entry.at) ?? keys[0];
    const near = entry.last?.pitch ?? before?.pitch ?? MIDDLE;
    const pitch = pitchOfLetter(letter, near, key?.fifths ?? 0);
    // A chord is built upwards.
    dispatch(enter([{ pitch: chord && pitch <= near ? Math.min(127, pitch + 12) : pitch }], chord));
  };

export const rest: Thunk = step(
  (state, entry) => enterRest(selectArrangement(state), entry),
  () => 'Rest',
);
export const tie: Thunk = step(
  (state, entry) => enterTie(selectArrangement(state), entry),
  (_, { edit }) => (edit ? 'Tied on' : 'There is no note before to tie on.'),
);
export const remove: Thunk = step(
  (state, entry) => deleteAtEntry(selectArrangement(state), entry),
  (_, { edit }) => edit?.label ?? 'Nothing stands there.',
);
export const shift = (by: number): Thunk =>
  step(
    (state, entry) => moveEntered(selectArrangement(state), entry, by),
    (_, { edit }) => edit?.label ?? 'Nothing was entered yet.',
  );

/** Takes the last step back: what was entered, and where it stood. */
export const back: Thunk = (dispatch, getState) => {
  const {
    entering: { entryPast },
    piece: { history },
  } = getState();
  const last = entryPast[entryPast.length - 1];
  if (!last) {
    dispatch(said('Nothing more to take back.'));
    return;
  }
  if (last.edited && last.position !== history.position) {
    dispatch(said('Something else was done since: undo that first.'));
    return;
  }
  if (last.edited) dispatch(undo());
  dispatch(enteringActions.entryBack());
  dispatch(said('Taken back'));
};

/** Another value for what comes next. */
export const chooseValue =
  (change: Partial<EntryValue>): Thunk =>
  (dispatch, getState) => {
    const {
      entering: { entry },
    } = getState();
    if (entry) dispatch(enteringActions.entrySet({ ...entry, value: { ...entry.value, ...change } }));
  };

/** Moves the place without entering anything, by the value. */
export const walkEntry =
  (by: 1 | -1): Thunk =>
  (dispatch, getState) => {
    const {
      entering: { entry },
      editing: { grid },
    } = getState();
    if (!entry) return;
    const { ppq } = selectArrangement(getState());
    const at = Math.max(0, entry.at + by * Math.round(gridFraction(grid) * 4 * ppq));
    dispatch(enteringActions.entrySet({ ...entry, at, last: null }));
    dispatch(rollActions.viewSet(bringToView(selectView(getState()), at)));
  };
