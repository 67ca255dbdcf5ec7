/**
 * The example tunes of the abcmidi package (Debian), made into MIDI by its own abc2midi and tidied by the default plans:
 * tunes that nobody here chose. abc2midi starts each note a tick late; that is taken off.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { instrumentById, isUnpitched } from '../instruments/instruments.js';
import type { Arrangement } from '../model/arrangement.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { keyAt, readPitches } from '../notation/pitchReading.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { abcNames } from '../testing/abcText.js';
import { rescaleTicks, WRITTEN_PPQ } from '../time/units.js';
import { importMidi } from './importMidi.js';

const EXAMPLES = '/usr/share/doc/abcmidi/examples';
const folder = mkdtempSync(path.join(tmpdir(), 'crispfold-abc-'));

/** Every tune of every file, by its name and number. */
const tunes = readdirSync(EXAMPLES)
  .filter((name) => name.endsWith('.abc'))
  .sort()
  .flatMap((name) => {
    const numbers = readFileSync(path.join(EXAMPLES, name), 'latin1').match(/^X: *\d+/gm) ?? [];
    return [...new Set(numbers.map((line) => Number(line.replace(/\D+/g, ''))))].map(
      (number) => [name, number] as const,
    );
  });

/** Tunes that are not played as they are written, and how. */
const OTHERWISE: { readonly [tune: string]: string } = {
  'demo.abc 10': 'a recorder that holds quarters for four fifths of their length',
  'dergasn.abc 145': 'begins with half a bar that MIDI does not tell: its triplets lie across our eighths',
  'detune.abc 2': 'chords whose tones begin eleven ticks apart, for a tuning of their own',
  'temperament.abc 1': 'the same',
  'temperament.abc 2': 'the same',
};

/** Tunes whose pitches are played otherwise than they are named. */
const OTHER_PITCHES: { readonly [tune: string]: string } = {
  'baym_rebin.abc 63': 'its sharps stand with letters of the upper octave, and are played there alone',
  'detune.abc 2': 'tones of a tuning of its own',
};

const TICK = WRITTEN_PPQ / 480;

/** A tune as abc2midi plays it. */
const played = (name: string, number: number): Arrangement => {
  const target = path.join(folder, `${name}-${number}.mid`);
  execFileSync('abc2midi', [path.join(EXAMPLES, name), String(number), '-o', target], { stdio: 'ignore' });
  const read = importMidi([{ name: 'tune.mid', bytes: new Uint8Array(readFileSync(target)) }]);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value.arrangement;
};

const returned = (name: string, number: number): { readonly notes: number; readonly right: number } => {
  const arrangement = played(name, number);
  const layers = runPlanOnAll(arrangement);
  let [notes, right] = [0, 0];
  arrangement.parts.forEach((part, index) => {
    // How long a stroke sounds says nothing of how it is written.
    const startsOnly = isUnpitched(instrumentById(part.instrument));
    const written = new Map(layers[index]?.notes.map((note) => [note.id, note]));
    for (const note of part.notes) {
      notes += 1;
      const found = written.get(note.id);
      const near = (at: number, ticks: number) =>
        Math.abs(at - rescaleTicks(ticks, arrangement.ppq, WRITTEN_PPQ)) <= 2 * TICK;
      if (found && near(found.onset, note.onset) && (startsOnly || near(found.duration, note.duration))) right += 1;
    }
  });
  return { notes, right };
};

describe('tunes of abcmidi', () => {
  it('are all there', () => {
    expect(tunes.length).toBeGreaterThanOrEqual(22);
  });

  it.each(tunes.filter(([name, number]) => !OTHERWISE[`${name} ${number}`]))(
    '%s %i comes back with its own starts and lengths',
    (name, number) => {
      const { notes, right } = returned(name, number);
      expect(right / notes).toBeGreaterThanOrEqual(0.85);
    },
  );

  it.each(tunes)('%s %i as a score, read in and written again, is the same score', (name, number) => {
    const xmlOf = (arrangement: Arrangement): string => {
      const layers = runPlanOnAll(arrangement);
      const score = buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers));
      return writeMusicXml(score);
    };
    const first = xmlOf(played(name, number));
    const back = importMidi([{ name: 'tune.musicxml', bytes: new TextEncoder().encode(first) }]);
    if (!back.ok) throw new Error(back.problem.message);
    const withoutIds = (text: string) => text.replace(/ id="n[\d-]+"/g, '');
    expect(withoutIds(xmlOf(back.value.arrangement))).toBe(withoutIds(first));
  });

  /** Where the tune writes a pitch under the name that our page gives it, over all its notes; drums have no names. */
  const named = (name: string, number: number) => {
    const text = readFileSync(path.join(EXAMPLES, name), 'latin1');
    const tune = text.split(/^(?=X: *\d)/m).find((own) => Number(/^X: *(\d+)/.exec(own)?.[1]) === number);
    const said = abcNames(tune ?? '');
    const arrangement = played(name, number);
    const layers = runPlanOnAll(arrangement);
    const reading = readPitches(arrangement, layers);
    let [notes, right] = [0, 0];
    arrangement.parts.forEach((part, index) => {
      if (isUnpitched(instrumentById(part.instrument))) return;
      for (const note of layers[index]?.notes ?? []) {
        const own = said.names.get(note.pitch);
        const ours = reading.spellings.get(note.id);
        // Tones that abc2midi adds (chords named above the staff, drones, ornaments) are nowhere in the tune.
        if (!own || !ours) continue;
        notes += 1;
        if (own.some(({ step, alter }) => step === ours.step && alter === ours.alter)) right += 1;
      }
    });
    return { key: [said.fifths, keyAt(reading.keys, 0).fifths], notes, right };
  };

  it('have the key they say, and the names of notes that they write', () => {
    const all = tunes
      .filter(([name, number]) => !OTHER_PITCHES[`${name} ${number}`])
      .map((tune) => [tune.join(' '), named(...tune)] as const);
    for (const [
      tune,
      {
        key: [said, ours],
      },
    ] of all)
      if (said !== null) expect([tune, ours]).toEqual([tune, said]);
    const sum = (of: 'notes' | 'right') => all.reduce((total, [, own]) => total + own[of], 0);
    expect(sum('right') / sum('notes')).toBeGreaterThan(0.995);
  });

  it('come back in all but one note of two hundred', () => {
    const all = tunes.filter(([name, number]) => !OTHERWISE[`${name} ${number}`]).map((tune) => returned(...tune));
    const sum = (of: 'notes' | 'right') => all.reduce((total, own) => total + own[of], 0);
    expect(sum('right') / sum('notes')).toBeGreaterThan(0.995);
  });
});
