import { describe, expect, it } from 'vitest';
import { demoArrangement } from '../demo/demo.js';
import { importMidi } from '../midi/importMidi.js';
import type { Arrangement, PartId } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import { FURTHEST_NUDGE, type PageMark } from '../model/overrides.js';
import { withNudges } from '../musicxml/nudges.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { runPlanOnAll } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { createVerovio } from '../testing/readBack.js';
import { barsToASystem, nudgeEdit, nudgeOf } from './pageMarks.js';

const demo = demoArrangement();
const xmlOf = (arrangement: Arrangement) => {
  const layers = runPlanOnAll(arrangement);
  const options = { partIds: [1] as PartId[], firstBar: 1, lastBar: 8 };
  return writeMusicXml(
    buildScore(arrangement, layers, writtenMaps(arrangement), readPitches(arrangement, layers), options),
    'dense',
  );
};
const moved = (arrangement: Arrangement, bar: number, mark: PageMark, x: number, y: number, part = 1) => {
  const edit = nudgeEdit(arrangement, part, bar, mark, { x, y });
  if (!edit) throw new Error('nothing to move');
  expect(applyEdit(applyEdit(arrangement, edit), invertEdit(edit))).toEqual({
    ...arrangement,
    parts: arrangement.parts.map((own) => ({ overrides: undefined, ...own })),
  });
  return applyEdit(arrangement, edit);
};

describe('marks moved by hand', () => {
  it('say so in MusicXML, tempo, rehearsal mark and number each for itself', () => {
    const xml = xmlOf(moved(moved(moved(demo, 1, 'tempo', 12, 30), 1, 'rehearsal', -5, 7), 3, 'number', 0, -8));
    expect(xml).toContain('<metronome relative-x="12" relative-y="30">');
    expect(xml).toContain('<rehearsal relative-x="-5" relative-y="7">A</rehearsal>');
    expect(xml).toContain(
      '<print><measure-numbering relative-x="0" relative-y="-8">system</measure-numbering></print>',
    );
    expect(xmlOf(demo)).not.toContain('relative-');
  });

  it('are put back, and moved again with whatever part they are kept', () => {
    const once = moved(demo, 1, 'tempo', 12, 30);
    expect(nudgeOf(once, 1, 'tempo')).toEqual({ x: 12, y: 30 });
    expect(nudgeOf(once, 2, 'tempo')).toEqual({ x: 0, y: 0 });
    const again = moved(once, 1, 'tempo', 3, 4, 2);
    const kept = ({ parts }: Arrangement) =>
      parts.map(({ overrides }) => overrides?.list.filter(({ kind }) => kind === 'nudge').length ?? 0);
    expect(kept(again)).toEqual([0, 1, 0, 0, 0, 0]);
    const back = moved(again, 1, 'tempo', 0, 0);
    expect(kept(back)).toEqual([0, 0, 0, 0, 0, 0]);
    expect(xmlOf(back)).toBe(xmlOf(demo));
    expect(nudgeEdit(back, 1, 1, 'tempo', { x: 0, y: 0 })).toBeNull();
  });

  it('do not leave the page', () => {
    expect(nudgeOf(moved(demo, 1, 'tempo', 1e6, -1e6), 1, 'tempo')).toEqual({ x: FURTHEST_NUDGE, y: -FURTHEST_NUDGE });
  });

  it('come back out of MusicXML', () => {
    const xml = xmlOf(moved(moved(demo, 1, 'rehearsal', -5, 7), 1, 'tempo', 1, 2));
    const read = importMidi([{ name: 'score.musicxml', bytes: new TextEncoder().encode(xml) }]);
    if (!read.ok) throw new Error(read.problem.message);
    expect(nudgeOf(read.value.arrangement, 1, 'rehearsal')).toEqual({ x: -5, y: 7 });
    expect(nudgeOf(read.value.arrangement, 1, 'tempo')).toEqual({ x: 1, y: 2 });
  });

  it('move in the picture, to the right and up; nothing else does', async () => {
    const { toolkit } = await createVerovio();
    const xml = xmlOf(moved(demo, 1, 'tempo', 10, 20));
    expect(toolkit.loadData(xml)).toBeTruthy();
    const svg = toolkit.renderToSVG(1);
    const picture = withNudges(svg, xml);
    expect(picture.match(/class="tempo"[^>]*transform="translate\(180 -360\)"/g)).toHaveLength(1);
    expect(picture.replace(' transform="translate(180 -360)"', '')).toBe(svg);
    expect(withNudges(svg, xmlOf(demo))).toBe(svg);
  });
});

describe('bars to a system', () => {
  const [flute] = demo.parts;
  const numbers = Array.from({ length: 12 }, (_, index) => index + 1);
  const breaksOf = (arrangement: Arrangement) =>
    (arrangement.parts[0]?.overrides?.list ?? []).flatMap((own) => (own.kind === 'systemBreak' ? [own.bar] : []));

  it('begin systems at even distances from a bar on, in the place of those that were set there', () => {
    if (!flute) throw new Error('no part');
    const four = barsToASystem(flute, numbers, 3, 4);
    expect(four?.label).toBe('4 bars to a system from bar 3');
    const after = applyEdit(demo, four ?? { label: '', changes: [] });
    expect(breaksOf(after)).toEqual([7, 11]);
    const three = barsToASystem(after.parts[0] ?? flute, numbers, 3, 3);
    const again = applyEdit(after, three ?? { label: '', changes: [] });
    expect([...breaksOf(again)].sort((a, b) => a - b)).toEqual([6, 9, 12]);
    expect(barsToASystem(again.parts[0] ?? flute, numbers, 3, 3)).toBeNull();
    const none = barsToASystem(again.parts[0] ?? flute, numbers, 3, null);
    expect(breaksOf(applyEdit(again, none ?? { label: '', changes: [] }))).toEqual([]);
  });
});
