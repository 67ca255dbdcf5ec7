/** The settings that panels were last used with, by the panel's name, while the arrangement is open. */
import type { PayloadAction } from '@reduxjs/toolkit';
import { plainSlice } from './plainSlice.js';

/** See the file's head. Each panel knows the shape of its own. */
export type LastSettingsState = { readonly [panel: string]: object };

const slice = plainSlice({
  name: 'lastSettings',
  initialState: {} as LastSettingsState,
  reducers: {
    settingsUsed: (
      state,
      { payload: { panel, settings } }: PayloadAction<{ readonly panel: string; readonly settings: object }>,
    ): LastSettingsState => ({ ...state, [panel]: settings }),
  },
});

export const { settingsUsed } = slice.actions;
export const lastSettingsReducer = slice.reducer;
