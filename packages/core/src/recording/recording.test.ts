import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { DEMO_LEAD_IN, renderedPerformance } from '../demo/demoRecording.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { selectionOf } from '../model/selection.js';
import { cases } from '../testing/cases.js';
import { createTempoMap } from '../time/tempoMap.js';
import { findAttacks } from './attacks.js';
import {
  changeRecording,
  moveToAttacks,
  offsetToNotes,
  recordingSlot,
  startsToCompare,
  withRecording,
} from './lineUpRecording.js';
import { peaksOfSamples, SAMPLES_A_PEAK } from './peaks.js';
import { wavBytes } from './wav.js';

const RATE = 22_050;
const recording = { id: 'abcdefghijkl', name: 'A take.wav', seconds: 31.37, offset: 0, level: 0.7 };

/** Tones that begin at these seconds, each of its own pitch, with some noise beneath. */
const tonesAt = (times: readonly number[], seconds: number): Float32Array => {
  const data = new Float32Array(Math.round(seconds * RATE));
  let noise = 1;
  for (let at = 0; at < data.length; at += 1) {
    noise = (noise * 16_807) % 2_147_483_647;
    data[at] = (noise / 2_147_483_647 - 0.5) * 0.002 * Math.min(1, at / RATE);
  }
  times.forEach((time, index) => {
    const frequency = 220 * 2 ** (((index * 7) % 24) / 12);
    for (let at = 0; at < 0.4 * RATE; at += 1) {
      const place = Math.round(time * RATE) + at;
      if (place >= data.length) return;
      const loud = 0.2 * Math.min(1, at / RATE / 0.005) * Math.exp((-4 * at) / RATE) * Math.min(1, 4 - at / RATE / 0.1);
      data[place] = (data[place] as number) + loud * Math.sin((2 * Math.PI * frequency * at) / RATE);
    }
  });
  return data;
};

describe('attacks of a recording', () => {
  it('are found where tones begin, within 5 ms, and nowhere else', () => {
    const times = [0.5, 0.9, 1.05, 1.7, 2.4, 2.52, 3.3];
    const found = findAttacks({ rate: RATE, data: tonesAt(times, 4) }).map(({ time }) => time);
    expect(found).toHaveLength(times.length);
    for (const [index, time] of times.entries()) expect(Math.abs((found[index] as number) - time)).toBeLessThan(0.005);
  });

  it('are none in silence, and in a recording without a sample', () => {
    expect(findAttacks({ rate: RATE, data: new Float32Array(RATE) })).toEqual([]);
    expect(findAttacks({ rate: RATE, data: new Float32Array(0) })).toEqual([]);
  });

  it('are more where fainter ones are asked for', () => {
    const data = tonesAt([0.5, 1, 1.5], 2);
    for (let at = Math.round(0.75 * RATE); at < 0.8 * RATE; at += 1) data[at] = (data[at] as number) * 3;
    const counts = [0, 0.5, 1].map((sensitivity) => findAttacks({ rate: RATE, data }, sensitivity).length);
    expect(counts).toEqual([...counts].sort((a, b) => a - b));
  });
});

describe('the demo’s recording', () => {
  const arrangement = demoArrangement();
  const samples = renderedPerformance(arrangement);
  const attacks = findAttacks(samples).map(({ time }) => time);

  it('has attacks where the players begin: nine in ten are starts of notes', () => {
    const starts = startsToCompare(arrangement, new Map()).map((start) => start + DEMO_LEAD_IN);
    const met = attacks.filter((attack) => starts.some((start) => Math.abs(start - attack) < 0.03));
    expect(met.length / attacks.length).toBeGreaterThan(0.9);
  });

  it('is moved to the notes within 5 ms of where it was made', () => {
    const found = offsetToNotes(startsToCompare(arrangement, new Map()), attacks);
    expect(Math.abs((found?.offset ?? 0) + DEMO_LEAD_IN)).toBeLessThan(0.005);
    expect((found?.met ?? 0) / (found?.of ?? 1)).toBeGreaterThan(0.6);
  });

  it('draws notes that were shifted back to where they were', () => {
    const beside = applyEdit(
      arrangement,
      withRecording(arrangement, 'Recording', { ...recording, offset: -DEMO_LEAD_IN }),
    );
    const [flute] = beside.parts;
    if (!flute) throw new Error('no flute');
    const map = createTempoMap(beside.tempos, beside.ppq);
    const near = (onset: number) =>
      attacks.some((time) => Math.abs(time - DEMO_LEAD_IN - map.secondsAt(onset)) < 0.012);
    const clear = flute.notes.filter(({ onset }) => near(onset));
    expect(clear.length).toBeGreaterThan(20);
    const shifted = {
      ...beside,
      parts: beside.parts.map((part) => ({
        ...part,
        notes: part.notes.map((note) => ({ ...note, onset: note.onset + 15 }) as typeof note),
      })),
    };
    const moved = moveToAttacks(
      shifted,
      selectionOf(
        flute.id,
        clear.map(({ id }) => id),
      ),
      attacks,
      { within: 60, share: 1 },
    );
    const back = applyEdit(shifted, moved.edit as never);
    const distances = clear.map((note) => {
      const now = back.parts[0]?.notes.find(({ id }) => id === note.id);
      return Math.abs(map.secondsAt(now?.onset ?? 0) - map.secondsAt(note.onset));
    });
    expect(distances.filter((distance) => distance < 0.013).length / distances.length).toBeGreaterThan(0.9);
    expect(back.parts[0]?.notes.map(({ duration }) => duration)).toEqual(
      shifted.parts[0]?.notes.map(({ duration }) => duration),
    );
    expect(applyEdit(back, invertEdit(moved.edit as never)).parts).toEqual(shifted.parts);
  });
});

describe('the offset of a recording', () => {
  it('is found for any, where some attacks are missing, some are false, and all are off by a little', () => {
    const times = fc.uniqueArray(fc.integer({ min: 0, max: 1800 }), { minLength: 40, maxLength: 80 });
    const offsets = fc.double({ min: -20, max: 20, noNaN: true });
    fc.assert(
      fc.property(times, offsets, fc.integer({ min: 1, max: 1000 }), (boxes, offset, seed) => {
        const starts = boxes.map((box) => box / 20);
        let state = seed;
        const chance = () => {
          state = (state * 16_807) % 2_147_483_647;
          return state / 2_147_483_647;
        };
        const attacks = starts.flatMap((start) => (chance() < 0.2 ? [] : [start - offset + (chance() - 0.5) * 0.01]));
        for (let extra = 0; extra < 8; extra += 1) attacks.push(chance() * 90 - offset);
        const found = offsetToNotes(starts, attacks);
        expect(Math.abs((found?.offset ?? 99) - offset)).toBeLessThan(0.004);
      }),
      cases(60),
    );
  });

  it('is none where there is nothing to compare', () => {
    expect(offsetToNotes([], [1])).toBeNull();
    expect(offsetToNotes([1], [])).toBeNull();
  });

  it('stays within its bounds, as its level does', () => {
    const arrangement = { ...demoArrangement(), recording };
    const edit = changeRecording(arrangement, 'Move', { offset: 1e9, level: 7 });
    expect(applyEdit(arrangement, edit as never).recording).toMatchObject({ offset: 24 * 3600, level: 1 });
    expect(changeRecording(arrangement, 'Move', { offset: 0 })).toBeNull();
    expect(changeRecording(demoArrangement(), 'Move', { offset: 1 })).toBeNull();
  });
});

describe('what is heard of a recording', () => {
  it.each([
    ['from before its start', 2, 0, 10, { at: 2, from: 0, length: 8 }],
    ['from within', -1.5, 3, 10, { at: 3, from: 4.5, length: 7 }],
    ['to its end', 0, 30, 60, { at: 30, from: 30, length: 1.370000000000001 }],
  ] as const)('%s', (_, offset, from, until, slot) => {
    expect(recordingSlot({ offset, seconds: 31.37 }, from, until)).toEqual(slot);
  });
  it('is nothing after it', () => expect(recordingSlot({ offset: 0, seconds: 5 }, 6, 9)).toBeNull());
});

describe('how it is drawn and kept', () => {
  it('has the least and the most of each piece', () => {
    const data = new Float32Array(SAMPLES_A_PEAK + 1);
    data[3] = 1;
    data[9] = -0.5;
    data[SAMPLES_A_PEAK] = -1;
    expect([...peaksOfSamples(data)]).toEqual([-64, 127, -128, 0]);
  });

  it('is a wav file by its own description (RIFF WAVE, PCM)', () => {
    const bytes = wavBytes({ rate: 8000, data: Float32Array.of(0, 1, -1, 2) });
    const view = new DataView(bytes.buffer);
    expect(new TextDecoder('latin1').decode(bytes.slice(0, 4))).toBe('RIFF');
    expect(view.getUint32(4, true)).toBe(bytes.length - 8);
    expect([view.getUint16(20, true), view.getUint16(22, true), view.getUint32(24, true)]).toEqual([1, 1, 8000]);
    expect([0, 1, 2, 3].map((at) => view.getInt16(44 + 2 * at, true))).toEqual([0, 32767, -32767, 32767]);
  });
});
