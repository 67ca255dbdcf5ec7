/**
 * Scores that other libraries wrote (musicxml-io 0.9.6 and @stringsync/musicxml 0.3.0, both of the npm registry) are read
 * rightly: their own scores, and ours as they write them again. musicxml-io leaves the flats of a key out of its pitches; the
 * tune has them as accidentals.
 */
import { MusicXML } from '@stringsync/musicxml';
import { parse, parseAbc, serialize } from 'musicxml-io';
import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { importMidi } from '../midi/importMidi.js';
import type { Arrangement } from '../model/arrangement.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import type { Score } from '../notation/score.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { headRows } from '../testing/readBack.js';
import { writeMusicXml } from './writeMusicXml.js';

const read = (text: string) => {
  const result = importMidi([{ name: 'score.musicxml', bytes: new TextEncoder().encode(text) }]);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};
const scoreOf = (arrangement: Arrangement): Score => {
  const layers = runPlanOnAll(arrangement);
  return buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers));
};
/** Starts and lengths in quarters, with the pitch. */
const heard = ({ parts, ppq }: Arrangement) =>
  parts.flatMap(({ notes }) => notes.map(({ onset, duration, pitch }) => `${onset / ppq} ${duration / ppq} ${pitch}`));

/** A tune from memory: the round "Frère Jacques" (traditional), with a triplet, a tie, a slur and a repeat put in. */
const TUNE = `X:1
T:Round
M:4/4
L:1/4
Q:1/4=96
K:F
|: F G A F :| A _B c2- | c4 | (3c/d/c/ (_B/A/) F2 |]
`;

describe('scores of other libraries', () => {
  it('a tune that musicxml-io made of ABC: repeats, a tie, a triplet, a slur, a flat of the key', () => {
    const { arrangement, warnings } = read(serialize(parseAbc(TUNE)));
    expect(heard(arrangement)).toEqual([
      ...[0, 4].flatMap((bar) => [`${bar} 1 65`, `${bar + 1} 1 67`, `${bar + 2} 1 69`, `${bar + 3} 1 65`]),
      '8 1 69',
      '9 1 70',
      '10 6 72',
      ...['72', '74', '72'].map((pitch, k) => `${16 + k / 3} ${1 / 3} ${pitch}`),
      '17 0.5 70',
      '17.5 0.5 69',
      '18 2 65',
    ]);
    expect(arrangement.keys).toEqual([{ tick: 0, fifths: -1, minor: false }]);
    expect(warnings.map(({ message }) => message).join()).toContain('Repeats and endings were written out');
    const events = scoreOf(arrangement).parts[0]?.bars[4]?.events ?? [];
    expect(events.map(({ ratio }) => ratio?.actual ?? 0)).toEqual([3, 3, 3, 0, 0, 0]);
    expect(events.map(({ spans }) => spans?.map(({ what, end }) => `${what} ${end}`).join() ?? '')).toContain(
      'slur start',
    );
  });

  it.each([
    ['musicxml-io', (text: string) => serialize(parse(text))],
    ['@stringsync/musicxml', (text: string) => MusicXML.parse(text).serialize()],
  ])('the demo as %s writes it again', (_, rewritten) => {
    const ours = scoreOf(demoArrangement());
    const { arrangement } = read(rewritten(writeMusicXml(ours)));
    expect(headRows(scoreOf(arrangement))).toEqual(headRows(ours));
  });
});
