import { describe, expect, it } from 'vitest';
import { findingsOf } from '../findings/registry.js';
import type { Part } from '../model/arrangement.js';
import { applyEdit, invertEdit } from '../model/edit.js';
import type { PercussionMap } from '../model/percussionMap.js';
import { writeMusicXml } from '../musicxml/writeMusicXml.js';
import { buildScore } from '../notation/buildScore.js';
import { readPitches } from '../notation/pitchReading.js';
import { combineParts } from '../parts/combineParts.js';
import { changePercussionMap, duplicatePart } from '../parts/partEdits.js';
import { planOf } from '../plan/readyPlans.js';
import { rerunPlan, runPlan } from '../plan/runPlan.js';
import { writtenMaps } from '../plan/writtenMaps.js';
import { arrangementWith, note, PPQ, partWith } from '../testing/kit.js';
import { hasPlace, percussionSound } from './percussionMap.js';

const KICK = 36;
const SNARE = 38;
const HI_HAT = 42;
const UNKNOWN = 84;

/** Hi-hat on eighths, kick on one and three, snare on two and four; and a sound that no table knows. */
const drumPart = (more: Partial<Part> = {}): Part =>
  partWith(
    [0, 1, 2, 3, 4, 5, 6, 7]
      .flatMap((eighth) => {
        const onset = (eighth * PPQ) / 2;
        const hits = [note(HI_HAT, onset, 60)];
        if (eighth % 4 === 0) hits.push(note(KICK, onset, 60));
        if (eighth % 4 === 2) hits.push(note(SNARE, onset, 60));
        return hits;
      })
      .concat(note(UNKNOWN, PPQ * 4, 60))
      .sort((a, b) => a.onset - b.onset || a.pitch - b.pitch),
    { name: 'Drums', instrument: 'percussion', channel: 9, program: null, ...more },
  );

const OWN: PercussionMap = [
  { sound: HI_HAT, name: 'Shaker', step: 'A', octave: 5, notehead: 'slash', voice: 2 },
  { sound: UNKNOWN, name: 'Bell tree', step: 'C', octave: 6, notehead: 'triangle', voice: 1 },
];

const pageOf = (part: Part): string => {
  const arrangement = arrangementWith([part]);
  const maps = writtenMaps(arrangement);
  const layers = [runPlan(part, PPQ, maps, planOf(part))];
  return writeMusicXml(buildScore(arrangement, layers, maps, readPitches(arrangement, layers)));
};

/** What the page says of the first hit of a sound. */
const firstOf = (xml: string, sound: number) => {
  const found = xml.match(
    new RegExp(`<note(?:(?!</note>)[\\s\\S])*<instrument id="P1-I${sound}"/>(?:(?!</note>)[\\s\\S])*</note>`),
  )?.[0];
  const one = (name: string) => found?.match(new RegExp(`<${name}[^>]*>([^<]*)<`))?.[1];
  return {
    step: one('display-step'),
    octave: one('display-octave'),
    notehead: one('notehead'),
    voice: one('voice'),
    stem: one('stem'),
  };
};

const voiceOf = (part: Part, pitch: number, atMost?: number) => {
  const plan = planOf(part);
  const steps = plan.steps.map((item) =>
    item.step === 'separateVoices' && atMost !== undefined
      ? { ...item, parameters: { ...item.parameters, atMost } }
      : item,
  );
  const written = runPlan(part, PPQ, writtenMaps(arrangementWith([part])), { ...plan, steps });
  return written.notes.find((one) => one.pitch === pitch)?.voice;
};

describe('General MIDI', () => {
  it('names a sound and gives it a line, a head and a voice: feet down, hands up (common practice)', () => {
    expect(percussionSound(KICK)).toEqual({ name: 'Bass drum 1', step: 'F', octave: 4, notehead: 'normal', voice: 2 });
    expect(percussionSound(44).voice).toBe(2);
    expect(percussionSound(35).voice).toBe(2);
    expect(percussionSound(SNARE).voice).toBe(1);
    expect(percussionSound(UNKNOWN)).toMatchObject({ name: 'Percussion 84', step: 'B', octave: 4, voice: 1 });
    expect([hasPlace(KICK), hasPlace(UNKNOWN), hasPlace(UNKNOWN, OWN)]).toEqual([true, false, true]);
  });

  it('writes kick and hi-hat that fall together in two voices, on stems of their own', () => {
    const xml = pageOf(drumPart());
    expect(firstOf(xml, KICK)).toEqual({ step: 'F', octave: '4', notehead: undefined, voice: '2', stem: 'down' });
    expect(firstOf(xml, HI_HAT)).toEqual({ step: 'G', octave: '5', notehead: 'x', voice: '1', stem: 'up' });
  });

  it('gives one voice where the plan allows one', () => {
    expect(voiceOf(drumPart(), KICK)).toBe(2);
    expect(voiceOf(drumPart(), KICK, 1)).toBe(1);
  });
});

describe('a map of the part’s own', () => {
  it('is what the page goes by: name, line, head, voice', () => {
    const xml = pageOf(drumPart({ percussionMap: OWN }));
    expect(firstOf(xml, HI_HAT)).toMatchObject({ step: 'A', octave: '5', notehead: 'slash', voice: '2' });
    expect(firstOf(xml, UNKNOWN)).toMatchObject({ step: 'C', octave: '6', notehead: 'triangle', voice: '1' });
    expect(xml).toContain('<instrument-name>Shaker</instrument-name>');
    // What it says nothing of stays as it was.
    expect(firstOf(xml, SNARE)).toMatchObject({ step: 'C', octave: '5' });
  });

  it('makes Written anew when it changes, though no note does', () => {
    const part = drumPart();
    const maps = writtenMaps(arrangementWith([part]));
    const first = rerunPlan(part, PPQ, maps, planOf(part));
    const mapped = { ...part, percussionMap: OWN };
    const second = rerunPlan(mapped, PPQ, maps, planOf(mapped), first);
    expect(second.written.notes.find(({ pitch }) => pitch === HI_HAT)?.voice).toBe(2);
  });

  const findings = (part: Part) => {
    const arrangement = arrangementWith([part]);
    return findingsOf(arrangement, part, runPlan(part, PPQ, writtenMaps(arrangement), planOf(part)));
  };

  it('is what the findings go by: a sound without a line is told once, and not when the map has it', () => {
    const told = findings(drumPart()).filter(({ kind }) => kind === 'soundWithoutLine');
    expect(told).toHaveLength(1);
    expect(told[0]?.reason).toContain('sound 84 has no line');
    expect(findings(drumPart({ percussionMap: OWN })).some(({ kind }) => kind === 'soundWithoutLine')).toBe(false);
  });

  it('gives findings their names', () => {
    const twice = drumPart({ percussionMap: OWN });
    const doubled = { ...twice, notes: [note(HI_HAT, 4, 60), ...twice.notes].sort((a, b) => a.onset - b.onset) };
    expect(findings(doubled).find(({ kind }) => kind === 'doubles')?.reason).toContain('another Shaker');
  });

  it('is an Edit that keeps only what General MIDI says otherwise, and is taken back whole', () => {
    const part = drumPart();
    const arrangement = arrangementWith([part]);
    const edit = changePercussionMap(part, [...OWN, { sound: SNARE, ...percussionSound(SNARE) }]);
    const changed = edit && applyEdit(arrangement, edit);
    expect(changed?.parts[0]?.percussionMap).toEqual(OWN);
    expect(edit && changed && applyEdit(changed, invertEdit(edit)).parts[0]?.percussionMap).toBeUndefined();
    expect(changePercussionMap({ ...part, percussionMap: OWN }, OWN)).toBeNull();
    expect(changePercussionMap({ ...part, percussionMap: OWN }, [])?.label).toContain('General MIDI');
  });

  it('goes along with a copy of the part, and into the part that others are combined into', () => {
    const mapped = drumPart({ percussionMap: OWN });
    const own: PercussionMap = [{ ...(OWN[0] as PercussionMap[0]), name: 'Cabasa' }];
    const other = { ...drumPart({ percussionMap: own }), id: 2 };
    const arrangement = arrangementWith([mapped, other]);
    const copied = duplicatePart(arrangement, 1);
    expect(copied && applyEdit(arrangement, copied).parts[1]?.percussionMap).toEqual(OWN);
    const { edit } = combineParts(arrangement, {
      partIds: [1, 2],
      into: 2,
      range: null,
      copy: false,
      channels: 'keep',
    }) as { edit: NonNullable<ReturnType<typeof duplicatePart>> };
    const names = applyEdit(arrangement, edit).parts[0]?.percussionMap?.map(({ name }) => name);
    expect(names).toEqual(['Cabasa', 'Bell tree']);
  });
});
