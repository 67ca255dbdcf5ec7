/** What stands where on the Desk: the panels, the settings that take their place, the page. */
import type { StepId } from '@crispfold/core';
import type { PayloadAction } from '@reduxjs/toolkit';
import { checksActions } from './checksSlice.js';
import { plainSlice, when } from './plainSlice.js';
import { switched, turning } from './switched.js';

/** What the panel on the right shows. */
export type SidePanel = 'plan' | 'findings' | 'note' | 'page' | 'more';

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

/** See the file's head. */
export interface LayoutState {
  readonly panel: SidePanel;
  /** The step whose settings are open. */
  readonly stepShown: StepId | null;
  /** A step that was asked for with nothing selected, while what may have been meant is offered. */
  readonly stepOffered: StepId | null;
  /** What is no step and has settings, while they stand beside the roll. */
  readonly toolShown: Tool | null;
  readonly pageShown: boolean;
  /** The first bar of a page that was scrolled apart from the roll; null while it follows. */
  readonly pageApart: number | null;
  readonly pageOfFrontOnly: boolean;
  /** Folded away to give the roll their room. */
  readonly partsFolded: boolean;
  readonly sideFolded: boolean;
  /** A part is sought by its name. */
  readonly partSearch: boolean;
  /** The step of the tour that is shown, from 0; null for none. */
  readonly tourStep: number | null;
  /** The bars that the page shows. */
  readonly pageBars: { readonly first: number; readonly last: number } | null;
}

const initialState: LayoutState = {
  panel: 'plan',
  stepShown: null,
  stepOffered: null,
  toolShown: null,
  pageShown: true,
  pageApart: null,
  pageOfFrontOnly: false,
  partsFolded: false,
  sideFolded: false,
  partSearch: false,
  tourStep: null,
  pageBars: null,
};

/** What of it is as it was left. */
type LayoutLeft = Pick<LayoutState, 'panel' | 'pageShown' | 'pageOfFrontOnly' | 'partsFolded' | 'sideFolded'>;

const slice = plainSlice(
  {
    name: 'layout',
    initialState,
    reducers: {
      panelShown: (state, { payload }: PayloadAction<SidePanel>): LayoutState => ({
        ...state,
        panel: payload,
        stepShown: null,
        toolShown: null,
        sideFolded: false,
      }),
      stepSettingsShown: (state, { payload }: PayloadAction<StepId | null>): LayoutState => ({
        ...state,
        stepShown: payload,
        stepOffered: null,
        toolShown: null,
        sideFolded: payload === null && state.sideFolded,
      }),
      stepOffered: (state, { payload }: PayloadAction<StepId | null>): LayoutState => ({
        ...state,
        stepOffered: payload,
      }),
      toolShown: (state, { payload }: PayloadAction<Tool | null>): LayoutState => ({
        ...state,
        toolShown: payload,
        stepShown: null,
      }),
      /** The page goes to a bar of its own, or follows the roll again (null). */
      pageSetApart: (state, { payload }: PayloadAction<number | null>): LayoutState => ({
        ...state,
        pageApart: payload,
      }),
      partSought: (state, { payload }: PayloadAction<boolean>): LayoutState => ({ ...state, partSearch: payload }),
      tourTurned: (state, { payload }: PayloadAction<number | null>): LayoutState => ({ ...state, tourStep: payload }),
      pageShows: (state, { payload }: PayloadAction<LayoutState['pageBars']>): LayoutState => ({
        ...state,
        pageBars: payload,
      }),
      layoutLeftAs: (state, { payload }: PayloadAction<LayoutLeft>): LayoutState => ({ ...state, ...payload }),
    },
  },
  [
    when(checksActions.findingChosen, (state, chosen) => (chosen ? { ...state, panel: 'findings' as const } : state)),
    when(switched, turning('pageShown', 'pageOfFrontOnly', 'partsFolded', 'sideFolded')),
  ],
);

export const layoutActions = slice.actions;
export const layoutReducer = slice.reducer;
