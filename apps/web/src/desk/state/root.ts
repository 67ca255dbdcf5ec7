/** The whole state of the Desk: one slice a concern. */
import { combineReducers } from '@reduxjs/toolkit';
import { useSelector } from 'react-redux';
import { checksReducer } from './checksSlice.js';
import { correctingReducer } from './correctingSlice.js';
import { editingReducer } from './editingSlice.js';
import { enteringReducer } from './enteringSlice.js';
import { keptReducer } from './keptSlice.js';
import { keysReducer } from './keysSlice.js';
import { lanesReducer } from './lanesSlice.js';
import { lastSettingsReducer } from './lastSettingsSlice.js';
import { layoutReducer } from './layoutSlice.js';
import { lookingReducer } from './lookingSlice.js';
import { partsShownReducer } from './partsShownSlice.js';
import { pieceReducer } from './pieceSlice.js';
import { playbackReducer } from './playbackSlice.js';
import { recordingReducer } from './recordingSlice.js';
import { rollReducer } from './rollSlice.js';
import { savingReducer } from './savingSlice.js';
import { selectingReducer } from './selectingSlice.js';
import { soundFontReducer } from './soundFontSlice.js';
import { speechReducer } from './speechSlice.js';
import { steppingReducer } from './steppingSlice.js';

export const deskReducer = combineReducers({
  piece: pieceReducer,
  saving: savingReducer,
  partsShown: partsShownReducer,
  selecting: selectingReducer,
  editing: editingReducer,
  entering: enteringReducer,
  correcting: correctingReducer,
  looking: lookingReducer,
  layout: layoutReducer,
  playback: playbackReducer,
  checks: checksReducer,
  stepping: steppingReducer,
  lanes: lanesReducer,
  roll: rollReducer,
  recording: recordingReducer,
  soundFont: soundFontReducer,
  kept: keptReducer,
  keys: keysReducer,
  lastSettings: lastSettingsReducer,
  speech: speechReducer,
});

/** The whole state. */
export type RootState = ReturnType<typeof deskReducer>;

export const useAppSelector = useSelector.withTypes<RootState>();
