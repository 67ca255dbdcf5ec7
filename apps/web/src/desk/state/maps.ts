/** Tempo and meter of the open arrangement, and its bars, made once for each change of them. */

import { type Bar, createMeterMap, createTempoMap, type MeterMap, type TempoMap } from '@crispfold/core';
import { createSelector } from '@reduxjs/toolkit';
import { selectEndTick } from './rollSelectors.js';
import type { RootState } from './root.js';
import { selectArrangement } from './selectors.js';

export const selectTempoMap: (state: RootState) => TempoMap = createSelector(
  (state: RootState) => selectArrangement(state).tempos,
  (state: RootState) => selectArrangement(state).ppq,
  (tempos, ppq) => createTempoMap(tempos, ppq),
);

export const selectMeterMap: (state: RootState) => MeterMap = createSelector(
  (state: RootState) => selectArrangement(state).meters,
  (state: RootState) => selectArrangement(state).ppq,
  (meters, ppq) => createMeterMap(meters, ppq),
);

/** Bars up to a little past the end of the music. */
export const selectBars: (state: RootState) => readonly Bar[] = createSelector(
  selectMeterMap,
  selectEndTick,
  (meterMap, end) => meterMap.barsTo(end * 1.2),
);
