import { describe, expect, it } from 'vitest';
import type { Arrangement, Part } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { NOTHING, selectionOf } from '../model/selection.js';
import type { StepId } from '../model/stepParameters.js';
import { noteValue } from '../time/noteLengths.js';
import { ticks } from '../time/units.js';
import { stepEdit } from './stepEdit.js';

const note = (id: number, pitch: number, onset: number, duration: number, muted = false) => ({
  id,
  pitch,
  onset: ticks(onset),
  duration: ticks(duration),
  velocity: 120,
  channel: 0,
  ...(muted ? { muted } : {}),
});

const pedal = (tick: number, value: number) =>
  ({ id: tick + 1, kind: 'controller', tick: ticks(tick), channel: 0, controller: 64, value }) as const;

const arrangement: Arrangement = {
  title: 'Four notes',
  ppq: 480,
  tempos: [],
  meters: [],
  keys: [],
  markers: [],
  parts: [
    {
      id: 1,
      name: 'Cello',
      instrument: 'vibraphone',
      channel: 0,
      program: 11,
      events: [pedal(0, 127), pedal(1900, 0)],
      notes: [note(1, 48, 0, 240), note(2, 50, 480, 240), note(3, 52, 960, 240, true), note(4, 53, 1440, 240)],
    },
  ],
  silentTracks: [],
  nextNoteId: 5,
  nextPartId: 2,
  nextEventId: 2000,
};

const edited = (selection: number[], ...[step, parameters]: [StepId, object?]) => {
  const result = stepEdit(arrangement, selectionOf(1, selection), step, parameters);
  const after = result.edit ? applyEdit(arrangement, result.edit) : arrangement;
  return { ...result, after, part: after.parts[0] as Part };
};

describe('a step on the selection', () => {
  it('names the starts that could have gone the other way, of the selected notes, and where they would be', () => {
    // Half-way between two sixteenths; one that is not selected is no doubt of this run.
    const notes = [note(1, 48, 0, 240), note(2, 50, 482 + 58, 240), note(4, 53, 1440 + 59, 240)];
    const doubtful = { ...arrangement, parts: arrangement.parts.map((part) => ({ ...part, notes, events: [] })) };
    const quantized = (ids: number[], parameters: object) =>
      stepEdit(doubtful, selectionOf(1, ids), 'quantizeStarts', parameters).doubts;
    expect(quantized([1, 2], { grid: 1 / 16 })).toEqual([{ partId: 1, noteId: 2, now: 480, other: 600 }]);
    expect(quantized([1, 2, 4], { grid: 1 / 16 }).map(({ noteId }) => noteId)).toEqual([2, 4]);
    expect(quantized([1], { grid: 1 / 16 })).toEqual([]);
    // On auto there are other remarks too: ends between two values are none.
    const ends = [note(1, 48, 0, 300), note(2, 50, 960, 310), note(3, 50, 1920, 330)];
    const settled = { ...arrangement, parts: arrangement.parts.map((part) => ({ ...part, notes: ends, events: [] })) };
    expect(stepEdit(settled, selectionOf(1, [1, 2, 3]), 'settleLengths').doubts).toEqual([]);
  });

  it('changes the selected notes alone, under a name that counts them, and is taken back whole', () => {
    const { edit, touched, part, after } = edited([1, 2], 'transpose', { semitones: 2 });
    expect(part.notes.map(({ pitch }) => pitch)).toEqual([50, 52, 52, 53]);
    expect(edit?.label).toBe('Transpose: 2 notes in Cello');
    expect(touched).toBe(2);
    expect(edit && applyEdit(after, invertEdit(edit))).toEqual(arrangement);
  });

  it('leaves muted notes alone, selected or not', () => {
    const { part, touched } = edited([3, 4], 'transpose', { semitones: 1 });
    expect(part.notes.map(({ pitch }) => pitch)).toEqual([48, 50, 52, 54]);
    expect(touched).toBe(1);
    expect(edited([3], 'transpose', { semitones: 1 }).edit).toBeNull();
  });

  it('sees neighbours that are not selected, and does not touch them', () => {
    const { part } = edited([1], 'closeGaps', { upTo: noteValue(1 / 4) });
    expect(part.notes.map(({ duration }) => duration)).toEqual([480, 240, 240, 240]);
  });

  it('moves what follows a stretch only where asked; what lies before stays', () => {
    const onsets = (parameters: object) => edited([2], 'stretch', parameters).part.notes.map(({ onset }) => onset);
    expect(onsets({ ratio: 300 })).toEqual([0, 480, 960, 1440]);
    expect(onsets({ ratio: 300, after: 'moves' })).toEqual([0, 480, 1440, 1920]);
  });

  it('gives new notes ids that are free', () => {
    const { part, after } = edited([4], 'splitEvenly', { value: noteValue(1 / 16) });
    expect(part.notes.map(({ id }) => id)).toEqual([1, 2, 3, 4, 5]);
    expect(part.notes.slice(3).map(({ onset, duration }) => [onset, duration])).toEqual([
      [1440, 120],
      [1560, 120],
    ]);
    expect(after.nextNoteId).toBeGreaterThan(5);
  });

  it('takes out the pedal it turned into lengths where the whole part is selected, and only there', () => {
    const whole = edited([1, 2, 3, 4], 'sustainToDurations', { limit: 'pedalUp' });
    expect(whole.part.events).toEqual([]);
    expect(whole.part.notes.map((n) => n.onset + n.duration)).toEqual([1900, 1900, 1200, 1900]);
    const some = edited([1], 'sustainToDurations', { limit: 'pedalUp' });
    expect(some.part.events).toHaveLength(2);
    expect(some.part.notes[0]?.duration).toBe(1900);
  });

  it('can choose instead of changing', () => {
    const { picked, touched, edit } = edited([1, 2, 4], 'everyNth', { n: 1, action: 'pick' });
    expect(picked).toEqual(selectionOf(1, [1, 2, 4]));
    expect(touched).toBe(3);
    expect(edit).toBeNull();
  });

  it('says what it kept within bounds', () => {
    expect(edited([1, 2], 'velocityScale', { factor: 2 }).notice).toBe('Kept within velocity 1 to 127: 2 notes.');
    expect(edited([1, 2], 'velocityScale', { factor: 0.5 }).notice).toBeUndefined();
  });

  it('does nothing to a part that is not there, or with nothing selected', () => {
    expect(stepEdit(arrangement, selectionOf(9, [1]), 'merge')).toEqual({ touched: 0, edit: null, doubts: [] });
    expect(stepEdit(arrangement, NOTHING, 'merge')).toEqual({ touched: 0, edit: null, doubts: [] });
  });
});
