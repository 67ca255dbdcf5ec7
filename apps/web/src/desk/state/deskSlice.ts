/** State of the Desk: the open arrangement with its history, what is selected, and how it is looked at. */

import type { OpenArrangement } from '@crispfold/contract';
import {
  type Arrangement,
  applyJournalEntry,
  type Doubt,
  EMPTY_HISTORY,
  type Entry,
  type FindingKind,
  type History,
  type HistoryEntry,
  type JournalEntry,
  type KeptEdit,
  mapSelection,
  NOTHING,
  type PageMark,
  type PageWish,
  type PartId,
  type ScaleId,
  type Selection,
  type StepId,
  type StepParameters,
  selectionOf,
  selectionWithin,
  unionOf,
  withEdits,
  withOlderEntries,
  withoutFarEdits,
} from '@crispfold/core';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { TriedStep } from '../../engine/protocol.js';
import type { Forward, ForwardFound } from './forward.js';
import type { HueMode } from './hueModes.js';

/** How the work stands on disk. */
export type SaveState = 'saved' | 'saving' | 'waiting' | 'elsewhere' | 'refused' | 'inTheBin';
/** What the panel on the right shows. */
export type SidePanel = 'plan' | 'findings' | 'note' | 'page' | 'more';
/** Plain values of the grid, as fractions of a whole note. */
export const GRID_VALUES = [1, 1 / 2, 1 / 4, 1 / 8, 1 / 16, 1 / 32, 1 / 64] as const;
/** What is made of a plain value: itself, a third of two of it, or one and a half. */
export type GridKind = 'plain' | 'triplet' | 'dotted';

/** The grid that things snap to. */
export interface Grid {
  readonly value: number;
  readonly kind: GridKind;
}

const SHARES: { readonly [kind in GridKind]: number } = { plain: 1, triplet: 2 / 3, dotted: 3 / 2 };

/** One step of a grid as a fraction of a whole note. */
export const gridFraction = ({ value, kind }: Grid): number => value * SHARES[kind];

/** How far one stroke moves notes: by the grid, or apart from it. */
export type MoveStep = 'grid' | 'tick' | '10 ms' | 'beat' | 'bar';

/** Which parts a hand can reach. */
export type Reach = 'front' | 'all';

/** How a part is played in. */
export interface PlayInWishes {
  /** Bars that count in. */
  readonly countIn: number;
  readonly metronome: boolean;
  /** True where what stood there goes; else it is laid over it. */
  readonly replaces: boolean;
}

/** Changes with settings that are no clean-up steps. */
export type Tool =
  | 'lineUp'
  | 'randomPitches'
  | 'repeat'
  | 'part'
  | 'percussionMap'
  | 'emptyPart'
  | 'splitPart'
  | 'combineParts'
  | 'sendTo'
  | 'dealOut'
  | 'sentences'
  | 'writeSentence'
  | 'seeing'
  | 'goTo'
  | 'recording'
  | 'sounds'
  | 'way'
  | 'keys'
  | 'slowDown'
  | 'beats'
  | 'places';

/** The stretch of music that repeats, in ticks. */
export interface LoopRange {
  readonly start: number;
  readonly end: number;
}

/** Which rows the roll has: all pitches, those in use, or besides those in use the scale's, or the percussion map's. */
export const ROWS_SHOWN = ['all', 'used', 'key', 'map'] as const;
/** One of them. */
export type RowsShown = (typeof ROWS_SHOWN)[number];
/** Where names stand: on notes with room, on all of the front part, or on none. */
export const NAMES_SHOWN = ['room', 'always', 'never'] as const;

/** How the roll is seen. */
export interface Seeing {
  readonly hue: HueMode;
  readonly names: (typeof NAMES_SHOWN)[number];
  readonly rows: RowsShown;
  /** The scale that rows go by; null is the key signature. */
  readonly scale: { readonly id: ScaleId; readonly root: number } | null;
  /** The other layer as a faint outline under the one that is shown, for the front part. */
  readonly outline: boolean;
  /** True where rows of the scale are marked. */
  readonly keyMarked: boolean;
  /** The whole piece as a strip above the roll. */
  readonly strip: boolean;
  /** The grid is the page's own divisions, beat by beat, instead of one value. */
  readonly pageGrid: boolean;
  /** The roll follows the playhead. */
  readonly follow: boolean;
  /** The recording under the ruler, and behind the notes. */
  readonly recording: boolean;
  readonly recordingBehind: boolean;
}

/** What of the Desk is found again when an arrangement is opened anew. */
export const LEFT_AS = [
  'frontPartId',
  'hidden',
  'locked',
  'muted',
  'soloed',
  'reach',
  'seeing',
  'panel',
  'pageShown',
  'pageOfFrontOnly',
  'partsFolded',
  'sideFolded',
  'lanes',
  'marksLocked',
] as const;
/** Those, by name. */
export type LeftAs = Pick<DeskState, (typeof LEFT_AS)[number]>;

/** What the Desk knows. */
export interface DeskState {
  readonly id: string | null;
  readonly status: 'loading' | 'ready' | 'failed';
  readonly problem: string;
  readonly arrangement: Arrangement | null;
  readonly history: History;
  readonly saveState: SaveState;
  /** What the server would not take, and why, while the person has not decided. */
  readonly refused: { readonly label: string; readonly reason: string } | null;
  /** Changes of an earlier visit that did not reach the server: how many, and since when (ISO 8601). */
  readonly unsent: { readonly count: number; readonly at: string } | null;
  readonly frontPartId: PartId | null;
  readonly hidden: readonly PartId[];
  /** Parts that are seen and heard, and not edited. */
  readonly locked: readonly PartId[];
  /** What a click, a box and "select all" can pick: notes of the front part, or of all shown parts. */
  readonly reach: Reach;
  /** True while every click and box adds to the selection or takes away from it, as Shift does. */
  readonly adding: boolean;
  /** True while controllers go with their notes. */
  readonly controllersToo: boolean;
  /** Notes are entered one after another; null while they are not. */
  readonly entry: Entry | null;
  /** How each step of entering stood before, the newest last; `position` is the history's after it. */
  readonly entryPast: readonly { readonly entry: Entry; readonly edited: boolean; readonly position: number }[];
  /** Open to play in, or not. */
  readonly playIn: boolean;
  readonly playInWishes: PlayInWishes;
  /** True while corrections of the page are given to notes one after another. */
  readonly giveOn: boolean;
  /** The one that is given to each note that is selected. */
  readonly giving: PageWish | null;
  readonly muted: readonly PartId[];
  readonly soloed: readonly PartId[];
  /** Selected notes by part, whatever part is in front. */
  readonly selection: Selection;
  readonly grid: Grid;
  /** How far a stroke moves notes. */
  readonly moveStep: MoveStep;
  /** While set, these notes alone are seen and edited. */
  readonly onlyShown: Selection | null;
  /** One voice or staff that is brought forward, in all parts; null is none. */
  readonly forward: Forward | null;
  /** Its notes, as far as their layers are known. */
  readonly forwardNotes: Selection | null;
  readonly snapOn: boolean;
  readonly drawing: boolean;
  /** What a drag snaps to. */
  readonly snapTo: SnapTo;
  /** How drawn notes are made; a length is a fraction of a whole note, null is that of the grid. */
  readonly drawn: { readonly length: number | null; readonly velocity: number; readonly fits: boolean };
  readonly seeing: Seeing;
  /** Where the crease lies, in ticks; null is home: all as played. */
  readonly creaseTick: number | null;
  readonly loop: LoopRange | null;
  readonly loopOn: boolean;
  readonly metronome: boolean;
  readonly hearEdits: boolean;
  readonly panel: SidePanel;
  /** The finding in hand, by its key and part. */
  readonly chosenFinding: { readonly key: string; readonly partId: PartId } | null;
  /** Filters of the findings; null is all. */
  readonly findingPart: PartId | null;
  readonly findingKind: FindingKind | null;
  /** The step whose settings are open. */
  readonly stepShown: StepId | null;
  /** The parameters that each step was last carried out with; the defaults where it never was. */
  readonly lastParameters: { readonly [Id in StepId]?: Partial<StepParameters[Id]> };
  /** A step that was asked for with nothing selected, while what may have been meant is offered. */
  readonly stepOffered: StepId | null;
  /** What is no step and has settings, while they stand beside the roll. */
  readonly toolShown: Tool | null;
  /** Starts that the last quantize could have put elsewhere, and which of them is looked at. */
  readonly doubts: readonly Doubt[];
  readonly doubtAt: number;
  readonly pageShown: boolean;
  /** The first bar of a page that was scrolled apart from the roll; null while it follows. */
  readonly pageApart: number | null;
  readonly pageOfFrontOnly: boolean;
  /** Folded away to give the roll their room. */
  readonly partsFolded: boolean;
  readonly sideFolded: boolean;
  /** The lanes under the roll, by their keys, from the top. */
  readonly lanes: readonly string[];
  /** Kinds of marks over the score that are not moved on the page. */
  readonly marksLocked: readonly PageMark[];
}

const initialState: DeskState = {
  id: null,
  status: 'loading',
  problem: '',
  arrangement: null,
  history: EMPTY_HISTORY,
  saveState: 'saved',
  refused: null,
  unsent: null,
  frontPartId: null,
  hidden: [],
  locked: [],
  reach: 'front',
  adding: false,
  controllersToo: false,
  entry: null,
  entryPast: [],
  playIn: false,
  playInWishes: { countIn: 1, metronome: true, replaces: false },
  giveOn: false,
  giving: null,
  muted: [],
  soloed: [],
  selection: NOTHING,
  onlyShown: null,
  forward: null,
  forwardNotes: null,
  grid: { value: 1 / 16, kind: 'plain' },
  moveStep: 'grid',
  snapOn: true,
  drawing: false,
  snapTo: 'grid',
  drawn: { length: null, velocity: 80, fits: true },
  seeing: {
    hue: 'part',
    names: 'room',
    rows: 'all',
    scale: null,
    outline: false,
    keyMarked: false,
    strip: true,
    pageGrid: false,
    follow: true,
    recording: false,
    recordingBehind: false,
  },
  creaseTick: null,
  loop: null,
  loopOn: false,
  metronome: false,
  hearEdits: true,
  panel: 'plan',
  chosenFinding: null,
  findingPart: null,
  findingKind: null,
  stepShown: null,
  lastParameters: {},
  stepOffered: null,
  toolShown: null,
  partsFolded: false,
  sideFolded: false,
  lanes: [],
  marksLocked: [],
  doubts: [],
  doubtAt: 0,
  pageShown: true,
  pageApart: null,
  pageOfFrontOnly: false,
};

/** Edits of the history that touch more notes than these together lie on disk alone, but for those near the pointer. */
const MOST_TOUCHED_AT_HAND = 600_000;

const toggled = <Item>(list: readonly Item[], item: Item): Item[] =>
  list.includes(item) ? list.filter((other) => other !== item) : [...list, item];

/** After parts may have gone, the front part is one that there is. */
const withFront = (state: DeskState): DeskState => {
  const parts = state.arrangement?.parts ?? [];
  const front = parts.find((part) => part.id === state.frontPartId) ?? parts[0];
  return { ...state, frontPartId: front?.id ?? null };
};

/** A selection with all notes that an Edit adds. */
const withAdded = (selection: Selection, edit: KeptEdit): Selection =>
  edit.changes.reduce(
    (all, change) =>
      change.kind === 'notes' && change.added.length > 0
        ? unionOf(
            all,
            selectionOf(
              change.partId,
              change.added.map(({ id }) => id),
            ),
          )
        : all,
    selection,
  );

const withEntry = (state: DeskState, entry: JournalEntry): DeskState => {
  if (!state.arrangement) return state;
  const carriedOut = applyJournalEntry({ arrangement: state.arrangement, history: state.history }, entry);
  const record = { ...carriedOut, history: withoutFarEdits(carriedOut.history, MOST_TOUCHED_AT_HAND) };
  // A new Edit says what becomes of each note; going back by many entries is looked through at its end.
  const selection =
    entry.kind === 'edit'
      ? mapSelection(state.selection, entry.edit)
      : selectionWithin(state.selection, record.arrangement);
  // Of notes that are seen or reached alone, what is made from them is too, and what goes is not missed.
  const mapped = (notes: Selection | null): Selection | null =>
    notes && entry.kind === 'edit' ? withAdded(mapSelection(notes, entry.edit), entry.edit) : notes;
  const { onlyShown, forwardNotes } = state;
  return withFront({
    ...state,
    ...record,
    selection,
    onlyShown: mapped(onlyShown),
    forwardNotes: mapped(forwardNotes),
  });
};

const slice = createSlice({
  name: 'desk',
  initialState: initialState as DeskState,
  reducers: {
    opening: (_state, { payload }: PayloadAction<string>): DeskState => ({ ...initialState, id: payload }),
    opened: (state, { payload }: PayloadAction<OpenArrangement>): DeskState =>
      withFront({
        ...state,
        id: payload.id,
        status: 'ready',
        arrangement: payload.arrangement,
        history: payload.history,
        selection: selectionWithin(state.selection, payload.arrangement),
        saveState: 'saved',
        refused: null,
      }),
    openFailed: (state, { payload }: PayloadAction<string>): DeskState => ({
      ...state,
      status: 'failed',
      problem: payload,
    }),
    entryMade: (state, { payload }: PayloadAction<JournalEntry>): DeskState => withEntry(state, payload),
    partsArrived: (state, { payload }: PayloadAction<KeptEdit>): DeskState =>
      withEntry(state, { kind: 'edit', edit: payload }),
    saveStateChanged: (state, { payload }: PayloadAction<SaveState>): DeskState =>
      state.saveState === payload ? state : { ...state, saveState: payload },
    unsentFound: (state, { payload }: PayloadAction<DeskState['unsent']>): DeskState => ({ ...state, unsent: payload }),
    changeRefused: (state, { payload }: PayloadAction<DeskState['refused']>): DeskState => ({
      ...state,
      refused: payload,
      saveState: payload ? 'refused' : state.saveState,
    }),
    partBroughtForward: (state, { payload }: PayloadAction<PartId>): DeskState => ({
      ...state,
      frontPartId: payload,
      hidden: state.hidden.filter((id) => id !== payload),
    }),
    partHiddenToggled: (state, { payload }: PayloadAction<PartId>): DeskState => ({
      ...state,
      hidden: toggled(state.hidden, payload),
    }),
    partLockToggled: (state, { payload }: PayloadAction<PartId>): DeskState => ({
      ...state,
      locked: toggled(state.locked, payload),
    }),
    reachTurned: (state): DeskState => ({ ...state, reach: state.reach === 'front' ? 'all' : 'front' }),
    partAloneToggled: (state, { payload }: PayloadAction<PartId>): DeskState => {
      const others = (state.arrangement?.parts ?? []).map((part) => part.id).filter((id) => id !== payload);
      const alone =
        others.length > 0 && others.every((id) => state.hidden.includes(id)) && !state.hidden.includes(payload);
      return {
        ...state,
        hidden: alone ? [] : others,
        frontPartId: payload,
      };
    },
    partMuteToggled: (state, { payload }: PayloadAction<PartId>): DeskState => ({
      ...state,
      muted: toggled(state.muted, payload),
    }),
    partSoloToggled: (state, { payload }: PayloadAction<PartId>): DeskState => ({
      ...state,
      soloed: toggled(state.soloed, payload),
    }),
    selected: (state, { payload }: PayloadAction<Selection>): DeskState => ({ ...state, selection: payload }),
    entrySet: (state, { payload }: PayloadAction<Entry | null>): DeskState => ({
      ...state,
      entry: payload,
      entryPast: payload ? state.entryPast : [],
      playIn: payload ? false : state.playIn,
    }),
    playInOpened: (state, { payload }: PayloadAction<boolean>): DeskState => ({
      ...state,
      playIn: payload,
      entry: payload ? null : state.entry,
    }),
    playInWished: (state, { payload }: PayloadAction<Partial<PlayInWishes>>): DeskState => ({
      ...state,
      playInWishes: { ...state.playInWishes, ...payload },
    }),
    entryMoved: (
      state,
      { payload }: PayloadAction<{ readonly entry: Entry; readonly before: Entry; readonly edited: boolean }>,
    ): DeskState => ({
      ...state,
      entry: payload.entry,
      entryPast: [
        ...state.entryPast,
        { entry: payload.before, edited: payload.edited, position: state.history.position },
      ],
    }),
    entryBack: (state): DeskState => ({
      ...state,
      entry: state.entryPast.at(-1)?.entry ?? state.entry,
      entryPast: state.entryPast.slice(0, -1),
    }),
    /** Ticks are so many times finer: places kept here go along. */
    ticksScaled: (state, { payload }: PayloadAction<number>): DeskState => ({
      ...state,
      loop: state.loop && { start: state.loop.start * payload, end: state.loop.end * payload },
      creaseTick: state.creaseTick === null ? null : state.creaseTick * payload,
      entry: state.entry && { ...state.entry, at: state.entry.at * payload },
    }),
    markLockTurned: (state, { payload }: PayloadAction<PageMark>): DeskState => ({
      ...state,
      marksLocked: toggled(state.marksLocked, payload),
    }),
    laneTurned: (state, { payload }: PayloadAction<string>): DeskState => ({
      ...state,
      lanes: toggled(state.lanes, payload),
    }),
    lanesShown: (state, { payload }: PayloadAction<readonly string[]>): DeskState => ({ ...state, lanes: payload }),
    givingSet: (state, { payload }: PayloadAction<PageWish | null>): DeskState => ({
      ...state,
      giving: payload,
      giveOn: payload !== null,
    }),
    onlyTheseShown: (state, { payload }: PayloadAction<Selection | null>): DeskState => ({
      ...state,
      onlyShown: payload,
    }),
    broughtForward: (state, { payload }: PayloadAction<Forward | null>): DeskState => ({
      ...state,
      forward: payload,
      forwardNotes: null,
    }),
    /**
     * What the page says is forward. It has no muted notes, and until it is made anew none that came unmuted: notes it
     * says nothing of stay as they were.
     */
    forwardFound: (state, { payload }: PayloadAction<ForwardFound>): DeskState => {
      const { found, onPage } = payload;
      const parts = state.arrangement?.parts ?? [];
      const unsaid = parts.map(({ id: partId, notes }) => {
        const [before, said] = [state.forwardNotes?.get(partId), onPage.get(partId)];
        const own = before ? notes.filter(({ id }) => before.has(id) && !said?.has(id)) : [];
        return selectionOf(
          partId,
          own.map(({ id }) => id),
        );
      });
      return { ...state, forwardNotes: unsaid.reduce(unionOf, found) };
    },
    /** How an arrangement was left: parts that are no more are passed over. */
    leftAs: (state, { payload }: PayloadAction<LeftAs>): DeskState => {
      const there = (ids: readonly PartId[]) =>
        ids.filter((id) => state.arrangement?.parts.some((part) => part.id === id));
      return withFront({
        ...state,
        ...payload,
        lanes: payload.lanes ?? [],
        hidden: there(payload.hidden),
        locked: there(payload.locked),
        muted: there(payload.muted),
        soloed: there(payload.soloed),
      });
    },
    /** Several parts shown or hidden in one sweep. */
    partsHidden: (state, { payload }: PayloadAction<{ ids: readonly PartId[]; hidden: boolean }>): DeskState => ({
      ...state,
      hidden: payload.hidden
        ? [...new Set([...state.hidden, ...payload.ids])]
        : state.hidden.filter((id) => !payload.ids.includes(id)),
    }),
    /** Entries of the history that lie before those at hand. */
    olderEntriesArrived: (state, { payload }: PayloadAction<readonly HistoryEntry[]>): DeskState => ({
      ...state,
      history: withOlderEntries(state.history, payload),
    }),
    /** Edits of entries that were at hand by name alone, from a place on. */
    editsArrived: (
      state,
      { payload }: PayloadAction<{ readonly from: number; readonly edits: readonly KeptEdit[] }>,
    ): DeskState => ({ ...state, history: withEdits(state.history, payload.from, payload.edits) }),
    snapStepped: (state, { payload }: PayloadAction<1 | -1>): DeskState => {
      const at = GRID_VALUES.indexOf(state.grid.value as (typeof GRID_VALUES)[number]) + payload;
      const value = GRID_VALUES[Math.max(0, Math.min(GRID_VALUES.length - 1, at))] as number;
      return { ...state, snapOn: true, grid: { ...state.grid, value } };
    },
    gridSet: (state, { payload }: PayloadAction<Partial<Grid>>): DeskState => ({
      ...state,
      snapOn: true,
      seeing: { ...state.seeing, pageGrid: false },
      grid: { ...state.grid, ...payload },
    }),
    moveStepChosen: (state, { payload }: PayloadAction<MoveStep>): DeskState => ({ ...state, moveStep: payload }),
    snapToChosen: (state, { payload }: PayloadAction<SnapTo>): DeskState => ({
      ...state,
      snapTo: payload,
    }),
    drawnAs: (state, { payload }: PayloadAction<Partial<DeskState['drawn']>>): DeskState => ({
      ...state,
      drawn: { ...state.drawn, ...payload },
    }),
    seen: (state, { payload }: PayloadAction<Partial<Seeing>>): DeskState => ({
      ...state,
      seeing: { ...state.seeing, ...payload },
    }),
    /** The page goes to a bar of its own, or follows the roll again (null). */
    pageSetApart: (state, { payload }: PayloadAction<number | null>): DeskState => ({ ...state, pageApart: payload }),
    creaseMoved: (state, { payload }: PayloadAction<number | null>): DeskState => ({ ...state, creaseTick: payload }),
    loopSet: (state, { payload }: PayloadAction<LoopRange | null>): DeskState => ({
      ...state,
      loop: payload,
      loopOn: payload !== null,
    }),
    findingChosen: (state, { payload }: PayloadAction<DeskState['chosenFinding']>): DeskState => ({
      ...state,
      chosenFinding: payload,
      panel: payload ? 'findings' : state.panel,
    }),
    findingPartChosen: (state, { payload }: PayloadAction<PartId | null>): DeskState => ({
      ...state,
      findingPart: payload,
    }),
    findingKindChosen: (state, { payload }: PayloadAction<FindingKind | null>): DeskState => ({
      ...state,
      findingKind: payload,
    }),
    stepSettingsShown: (state, { payload }: PayloadAction<StepId | null>): DeskState => ({
      ...state,
      stepShown: payload,
      stepOffered: null,
      toolShown: null,
      sideFolded: payload === null && state.sideFolded,
    }),
    stepOffered: (state, { payload }: PayloadAction<StepId | null>): DeskState => ({ ...state, stepOffered: payload }),
    toolShown: (state, { payload }: PayloadAction<Tool | null>): DeskState => ({
      ...state,
      toolShown: payload,
      stepShown: null,
    }),
    parametersUsed: (state, { payload }: PayloadAction<TriedStep>): DeskState => ({
      ...state,
      lastParameters: { ...state.lastParameters, [payload.step]: payload.parameters },
    }),
    doubtsFound: (state, { payload }: PayloadAction<readonly Doubt[]>): DeskState => ({
      ...state,
      doubts: payload,
      doubtAt: 0,
    }),
    doubtChosen: (state, { payload }: PayloadAction<number>): DeskState => ({ ...state, doubtAt: payload }),
    panelShown: (state, { payload }: PayloadAction<SidePanel>): DeskState => ({
      ...state,
      panel: payload,
      stepShown: null,
      toolShown: null,
      sideFolded: false,
    }),
    switched: (state, { payload }: PayloadAction<Switch>): DeskState => ({
      ...state,
      ...(payload === 'giveOn' ? { giving: null } : {}),
      [payload]: !state[payload],
    }),
  },
});

/** The on/off settings that {@link deskActions.switched} turns. */
export type Switch =
  | 'snapOn'
  | 'drawing'
  | 'adding'
  | 'controllersToo'
  | 'giveOn'
  | 'loopOn'
  | 'metronome'
  | 'hearEdits'
  | 'pageShown'
  | 'pageOfFrontOnly'
  | 'partsFolded'
  | 'sideFolded';

export const deskActions = slice.actions;

type CaseReducers = { readonly [name: string]: ((state: DeskState, action: never) => DeskState) | undefined };

/**
 * The slice's reducers on the state itself, without Immer: it would look at every one of tens of thousands of notes,
 * through drafts and to freeze them. Each reducer answers a new state and changes none.
 */
export const deskReducer = (
  state: DeskState | undefined = initialState,
  action: { readonly type: string },
): DeskState => {
  const [own, name = ''] = action.type.split('/');
  const reduce = own === slice.name ? (slice.caseReducers as unknown as CaseReducers)[name] : undefined;
  return reduce ? reduce(state, action as never) : state;
};

/** What a drag snaps to: the lines of the grid, edges of other notes, or whichever is nearer. */
export type SnapTo = 'grid' | 'notes' | 'both';
