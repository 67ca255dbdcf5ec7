import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Arrangement, type Part, type PartEvent, partById } from '../model/arrangement.js';
import { applyEdit, type Edit, invertEdit } from '../model/edit.js';
import { selectionOf, selectionSize } from '../model/selection.js';
import { cases } from '../testing/cases.js';
import { arrangementWith, note, partWith, pedal, placesOf } from '../testing/kit.js';
import { ticks } from '../time/units.js';
import { combineParts, partsOfOnePlayer } from './combineParts.js';
import { sendToNextPart, sendToPart } from './handOver.js';
import {
  addEmptyPart,
  changeChannel,
  changeInstrument,
  changePart,
  changePartStart,
  deleteParts,
  duplicatePart,
  freeName,
  movePart,
  partStart,
  renamePart,
  sharingChannel,
} from './partEdits.js';
import { sharesOf, splitPart } from './splitPart.js';

const runs = cases(60);

/** Carries an Edit out, and shows that it can be taken back to the very same. */
const done = (arrangement: Arrangement, edit: Edit | null | undefined): Arrangement => {
  if (!edit) throw new Error('There is no Edit.');
  const after = applyEdit(arrangement, edit);
  expect(content(applyEdit(after, invertEdit(edit)))).toEqual(content(arrangement));
  expect(edit.label.length).toBeGreaterThan(0);
  expect(edit.label.length).toBeLessThanOrEqual(300);
  return after;
};
/** All but the next free ids, which only grow; what is empty is as good as left out. */
const content = ({ parts }: Arrangement) =>
  parts.map((part) => ({
    ...part,
    vetoes: part.vetoes?.length ? part.vetoes : undefined,
    overrides: part.overrides?.list.length ? part.overrides : undefined,
  }));
const partOf = (arrangement: Arrangement, id: number): Part => partById(arrangement, id) as Part;
const names = ({ parts }: Arrangement) => parts.map((part) => part.name);

const anyNotes = (channel: number) =>
  fc
    .array(
      fc.record({
        pitch: fc.integer({ min: 30, max: 90 }),
        onset: fc.integer({ min: 0, max: 8000 }),
        duration: fc.integer({ min: 1, max: 900 }),
      }),
      { minLength: 1, maxLength: 25 },
    )
    .map((list) =>
      list
        .map(({ pitch, onset, duration }) => note(pitch, onset, duration, { channel }))
        .sort((a, b) => a.onset - b.onset || a.pitch - b.pitch || a.id - b.id),
    );

const threeParts = fc.tuple(anyNotes(0), anyNotes(1), anyNotes(2)).map(([one, two, three]) =>
  arrangementWith([
    partWith(one, {
      id: 1,
      name: 'Flute',
      channel: 0,
      program: 73,
      vetoes: [{ noteId: one[0]?.id ?? 0, step: 'merge' }],
    }),
    partWith(two, {
      id: 2,
      name: 'Cello',
      channel: 1,
      instrument: 'cello',
      program: 42,
      events: pedal(5, 900).map((event) => ({ ...event, channel: 1 }) as PartEvent),
    }),
    partWith(three, {
      id: 3,
      name: 'Horn',
      channel: 2,
      instrument: 'horn',
      program: 60,
      overrides: { version: 1, list: [{ kind: 'voice', noteId: three[0]?.id ?? 0, voice: 2 }] },
    }),
  ]),
);

describe('notes that go to another part', () => {
  const [high, low] = [note(72, 0, 480), note(48, 0, 480)];
  const music = arrangementWith([
    partWith([high], { id: 1, name: 'Flute' }),
    partWith([low], {
      id: 2,
      name: 'Cello',
      channel: 3,
      vetoes: [{ noteId: low.id, step: 'merge' }],
      overrides: { version: 1, list: [{ kind: 'voice', noteId: low.id, voice: 2 }] },
    }),
    partWith([], { id: 3, name: 'Horn', channel: 5 }),
  ]);

  it('keep their ids, take on the channel, and take along what was decided about them', () => {
    const sent = sendToPart(music, selectionOf(2, [low.id]), 3);
    const after = done(music, sent?.edit);
    expect(sent?.edit.label).toBe('Send: 1 note to Horn');
    expect(partOf(after, 3).notes).toEqual([{ ...low, channel: 5 }]);
    expect(partOf(after, 3).vetoes).toEqual([{ noteId: low.id, step: 'merge' }]);
    expect(partOf(after, 3).overrides?.list).toEqual([{ kind: 'voice', noteId: low.id, voice: 2 }]);
    expect(partOf(after, 2)).toMatchObject({ notes: [], vetoes: [] });
    expect(partOf(after, 2).overrides).toBeUndefined();
    expect([...(sent?.selection.get(3) ?? [])]).toEqual([low.id]);
  });

  it('go one part up or down among those that can be edited; the outermost stay', () => {
    const all = new Map([
      [1, new Set([high.id])],
      [2, new Set([low.id])],
    ]);
    const down = sendToNextPart(music, all, [1, 2, 3], 1);
    const after = done(music, down?.edit);
    expect(after.parts.map((part) => part.notes.map((n) => n.pitch))).toEqual([[], [72], [48]]);
    expect(down?.selection.get(2)?.has(high.id)).toBe(true);
    expect(sendToNextPart(music, selectionOf(1, [high.id]), [1, 2, 3], -1)).toBeNull();
    // A locked part between is passed over.
    expect(done(music, sendToNextPart(music, selectionOf(1, [high.id]), [1, 3], 1)?.edit).parts[2]?.notes).toHaveLength(
      1,
    );
    expect(sendToPart(music, selectionOf(1, [high.id]), 99)).toBeNull();
  });
});

describe('a part itself', () => {
  const events = [
    { id: 1, kind: 'program' as const, tick: ticks(0), channel: 0, program: 73 },
    { id: 2, kind: 'controller' as const, tick: ticks(0), channel: 0, controller: 7, value: 100 },
    { id: 3, kind: 'controller' as const, tick: ticks(900), channel: 0, controller: 11, value: 30 },
  ];
  const music = arrangementWith([
    partWith([note(72, 480, 480)], { id: 1, events }),
    partWith([note(48, 0, 480)], { id: 2, name: 'Cello', channel: 3 }),
    partWith([note(50, 0, 480)], { id: 3, name: 'Horn', channel: 5 }),
  ]);
  const flute = partOf(music, 1);

  it('is renamed; nothing is no name', () => {
    expect(names(done(music, renamePart(flute, '  Piccolo ')))).toEqual(['Piccolo', 'Cello', 'Horn']);
    expect(renamePart(flute, ' ')).toBeNull();
    expect(renamePart(flute, 'Flute')).toBeNull();
  });

  it('says what it starts with, and takes another start at the place of the old', () => {
    expect(partStart(flute)).toEqual({ program: 73, volume: 100, pan: null, expression: null });
    const after = done(music, changePartStart(music, flute, { volume: 90, pan: 20, program: 71 }));
    expect(partStart(partOf(after, 1))).toEqual({ program: 71, volume: 90, pan: 20, expression: null });
    expect(partOf(after, 1).program).toBe(71);
    expect(partOf(after, 1).events).toHaveLength(4);
    const without = done(after, changePartStart(after, partOf(after, 1), { volume: null }));
    expect(partStart(partOf(without, 1)).volume).toBeNull();
    expect(changePartStart(music, flute, { volume: 100 })).toBeNull();
  });

  it('is written for another instrument and sounds like it; a program that fits stays', () => {
    const after = done(music, changeInstrument(music, flute, 'clarinet'));
    expect(partOf(after, 1)).toMatchObject({ instrument: 'clarinet', program: 71 });
    expect(partOf(after, 1).events[0]).toMatchObject({ kind: 'program', program: 71 });
    const piccolo = partWith([note(72, 0, 10)], { program: 75, instrumentFrom: 'program' });
    const own = arrangementWith([piccolo]);
    expect(partOf(done(own, changeInstrument(own, piccolo, 'flute')), 1)).toMatchObject({ program: 75 });
  });

  it('goes to another channel with its notes and messages, and tells who is there', () => {
    const after = done(music, changeChannel(flute, 5));
    expect(partOf(after, 1).notes[0]?.channel).toBe(5);
    expect(partOf(after, 1).events.every((event) => 'channel' in event && event.channel === 5)).toBe(true);
    expect(sharingChannel(music, 1, 5)).toEqual(['Horn']);
    expect(sharingChannel(music, 3, 5)).toEqual([]);
  });

  it('has all of it set at once, as one Edit', () => {
    const settings = { name: 'Alto', instrument: 'clarinet', channel: 7, start: { volume: 80, program: 71 } };
    const edit = changePart(music, 1, settings);
    const after = partOf(done(music, edit), 1);
    expect(after).toMatchObject({ name: 'Alto', instrument: 'clarinet', channel: 7, program: 71 });
    expect(partStart(after)).toMatchObject({ volume: 80, program: 71 });
    expect(edit?.label).toBe('Alto: settings of the part');
    expect(changePart(music, 1, { channel: 3 })?.label).toBe('Flute: channel 4');
    expect(changePart(music, 1, { name: 'Flute', channel: 0, instrument: 'flute', start: { volume: 100 } })).toBeNull();
  });

  it('moves in the order, both ways, and no further than there is', () => {
    expect(names(done(music, movePart(music, 1, 2)))).toEqual(['Cello', 'Horn', 'Flute']);
    expect(names(done(music, movePart(music, 3, 0)))).toEqual(['Horn', 'Flute', 'Cello']);
    expect(movePart(music, 3, 7)).toBeNull();
    expect(movePart(music, 3, 0)?.label).toBe('Move Horn up');
  });

  it('is deleted and comes back in its place, several at once', () => {
    const after = done(music, deleteParts(music, new Set([1, 3])));
    expect(names(after)).toEqual(['Cello']);
    expect(deleteParts(music, new Set([9]))).toBeNull();
  });

  it('is copied under ids of its own, with what was decided about its notes', () => {
    const [own] = flute.notes;
    const decided = { ...flute, vetoes: [{ noteId: own?.id ?? 0, step: 'merge' as const }] };
    const arrangement = { ...music, parts: [decided, ...music.parts.slice(1)] };
    const after = done(arrangement, duplicatePart(arrangement, 1));
    expect(names(after)).toEqual(['Flute', 'Flute 2', 'Cello', 'Horn']);
    const copy = after.parts[1] as Part;
    expect(placesOf(copy.notes)).toEqual(placesOf(flute.notes));
    expect(copy.notes[0]?.id).not.toBe(own?.id);
    expect(copy.vetoes?.[0]?.noteId).toBe(copy.notes[0]?.id);
    expect(freeName(after, 'Flute 2')).toBe('Flute 3');
  });

  it('is added empty, on a free channel; percussion on its own', () => {
    const after = done(music, addEmptyPart(music, 'flute'));
    expect(after.parts[3]).toMatchObject({ name: 'Flute 2', channel: 1, program: 73, notes: [] });
    expect(done(music, addEmptyPart(music, 'percussion')).parts[3]?.channel).toBe(9);
  });
});

describe('combine and split', () => {
  it('combining loses no note and no message, and splitting by channel gives the parts back', () => {
    fc.assert(
      fc.property(threeParts, (music) => {
        const combined = combineParts(music, {
          partIds: [1, 2, 3],
          into: 2,
          range: null,
          copy: false,
          channels: 'keep',
        });
        const one = done(music, combined?.edit);
        expect(names(one)).toEqual(['Cello']);
        expect(one.parts[0]?.notes.length).toBe(music.parts.flatMap((part) => part.notes).length);
        expect(one.parts[0]?.vetoes).toEqual(music.parts[0]?.vetoes);
        expect(one.parts[0]?.overrides?.list).toEqual(music.parts[2]?.overrides?.list);
        const split = splitPart(one, 2, { by: 'channel' });
        if (!split.ok) throw new Error(split.problem.message);
        const again = done(one, split.value.edit);
        const byChannel = (arrangement: Arrangement) =>
          [...arrangement.parts]
            .sort((a, b) => a.channel - b.channel)
            .map((part) => ({ notes: part.notes, events: part.events.map(({ id: _, ...event }) => event) }));
        expect(byChannel(again)).toEqual(byChannel(music));
      }),
      runs,
    );
  });

  it('splitting by pitch and combining again gives the same notes', () => {
    fc.assert(
      fc.property(threeParts, fc.integer({ min: 31, max: 90 }), (music, pitch) => {
        const split = splitPart(music, 2, { by: 'pitch', pitch });
        if (!split.ok) return;
        const two = done(music, split.value.edit);
        const [upper, lower] = split.value.partIds.map((id) => partOf(two, id));
        expect(upper?.notes.every((n) => n.pitch >= pitch)).toBe(true);
        expect(lower?.notes.every((n) => n.pitch < pitch)).toBe(true);
        // Both still have the pedal that holds them.
        expect(lower?.events).toHaveLength(2);
        const back = done(
          two,
          combineParts(two, { partIds: split.value.partIds, into: 2, range: null, copy: false, channels: 'keep' })
            ?.edit,
        );
        expect(partOf(back, 2).notes).toEqual(partOf(music, 2).notes);
        expect(partOf(back, 2).events).toEqual(partOf(music, 2).events);
      }),
      runs,
    );
  });

  it('on one channel the other programs go, and the notes sound as the part that takes them', () => {
    const music = arrangementWith([
      partWith([note(60, 0, 10)], {
        id: 1,
        events: [{ id: 1, kind: 'program', tick: ticks(0), channel: 0, program: 73 }],
      }),
      partWith([note(62, 0, 10, { channel: 4 })], {
        id: 2,
        name: 'Oboe',
        channel: 4,
        events: [
          { id: 2, kind: 'program', tick: ticks(0), channel: 4, program: 68 },
          { id: 3, kind: 'controller', tick: ticks(0), channel: 4, controller: 64, value: 127 },
        ],
      }),
    ]);
    const how = { partIds: [1, 2], into: 1, range: null, copy: false } as const;
    const one = done(music, combineParts(music, { ...how, channels: 'part' })?.edit);
    expect(one.parts[0]?.notes.map((n) => n.channel)).toEqual([0, 0]);
    expect(one.parts[0]?.events).toMatchObject([{ program: 73 }, { controller: 64, channel: 0 }]);
    expect(done(music, combineParts(music, { ...how, channels: 'keep' })?.edit).parts[0]?.events).toHaveLength(3);
    expect(combineParts(music, { ...how, partIds: [1], channels: 'keep' })).toBeNull();
  });

  it('takes or copies only what begins in some bars; the other parts stay', () => {
    const music = arrangementWith([
      partWith([], { id: 1, name: 'Sketch' }),
      partWith([note(60, 0, 10), note(62, 1920, 10), note(64, 3840, 10)], { id: 2, name: 'Oboe', channel: 4 }),
    ]);
    const how = { partIds: [1, 2], into: 1, range: { start: 1920, end: 3840 }, channels: 'part' } as const;
    const moved = done(music, combineParts(music, { ...how, copy: false })?.edit);
    expect(moved.parts.map((part) => placesOf(part.notes))).toEqual([['62 1920+10'], ['60 0+10', '64 3840+10']]);
    const copied = combineParts(music, { ...how, copy: true });
    const after = done(music, copied?.edit);
    expect(after.parts.map((part) => part.notes.length)).toEqual([1, 3]);
    expect(after.parts[0]?.notes[0]?.id).not.toBe(music.parts[1]?.notes[1]?.id);
    expect(selectionSize(copied?.selection ?? new Map())).toBe(1);
  });

  it('splits a kit by its sounds, a keyboard by its voices; what is all of one kind stays', () => {
    const kit = arrangementWith([
      partWith([note(36, 0, 10), note(42, 0, 10), note(36, 480, 10)], {
        name: 'Kit',
        instrument: 'percussion',
        channel: 9,
      }),
    ]);
    const split = splitPart(kit, 1, { by: 'sound' });
    const after = done(kit, split.ok ? split.value.edit : null);
    expect(names(after)).toEqual(['Kit: Closed hi-hat', 'Kit: Bass drum 1']);
    expect(after.parts.map((part) => part.notes.length)).toEqual([1, 2]);
    const keys = arrangementWith([
      partWith([note(48, 0, 1920), note(72, 0, 480), note(74, 480, 480), note(76, 960, 480), note(77, 1440, 480)], {
        name: 'Vibes',
        instrument: 'vibraphone',
      }),
    ]);
    expect(sharesOf(keys, partOf(keys, 1), { by: 'voice' }).map((share) => share.notes.length)).toEqual([4, 1]);
    const alone = arrangementWith([partWith([note(60, 0, 10)])]);
    const none = splitPart(alone, 1, { by: 'channel' });
    expect(!none.ok && none.problem.message).toContain('nothing to split');
    expect(splitPart(alone, 7, { by: 'channel' }).ok).toBe(false);
  });
});

describe('two hands of one player', () => {
  const piano = (id: number, name: string, pitch: number, more: Partial<Part> = {}) =>
    partWith([note(pitch, 0, 480), note(pitch + 4, 480, 480)], { id, name, instrument: 'piano', program: 0, ...more });

  it('are known by their names or by how they lie; two players of one instrument are left alone', () => {
    expect(partsOfOnePlayer(arrangementWith([piano(1, 'Piano RH', 60), piano(2, 'Piano LH', 58)]))).toMatchObject([
      { partIds: [1, 2], reason: 'as their names say' },
    ]);
    expect(partsOfOnePlayer(arrangementWith([piano(1, 'Piano', 48), piano(2, 'Piano', 72)]))).toMatchObject([
      { partIds: [2, 1] },
    ]);
    expect(partsOfOnePlayer(arrangementWith([piano(1, 'Piano 1', 60), piano(2, 'Piano 2', 62)]))).toEqual([]);
    expect(
      partsOfOnePlayer(arrangementWith([piano(1, 'Piano', 72), piano(2, 'Celesta', 48, { instrument: 'celesta' })])),
    ).toEqual([]);
    expect(
      partsOfOnePlayer(
        arrangementWith([
          piano(1, 'Flute right', 72, { instrument: 'flute' }),
          piano(2, 'left', 40, { instrument: 'flute' }),
        ]),
      ),
    ).toEqual([]);
  });
});

describe('one drum kit in several tracks', () => {
  const drums = (id: number, name: string, sounds: readonly number[]) =>
    partWith(
      sounds.map((sound, index) => note(sound, index * 480, 60)),
      { id, name, instrument: 'percussion', channel: 9 },
    );

  it('is offered as one part where each track has sounds of its own', () => {
    const kit = arrangementWith([drums(1, 'Kick', [36, 36]), drums(2, 'Snare', [38]), drums(3, 'Hats', [42, 46])]);
    const [offer] = partsOfOnePlayer(kit);
    expect(offer).toMatchObject({ partIds: [1, 2, 3], what: 'one drum kit' });
    const one = combineParts(kit, {
      partIds: [1, 2, 3],
      into: 1,
      range: null,
      copy: false,
      channels: 'keep',
    });
    const after = done(kit, one?.edit ?? null);
    expect(after.parts.map((part) => part.notes.length)).toEqual([5]);
  });

  it('is not two kits that play the same sounds, nor one alone', () => {
    expect(partsOfOnePlayer(arrangementWith([drums(1, 'Kit 1', [36, 38]), drums(2, 'Kit 2', [38, 42])]))).toEqual([]);
    expect(partsOfOnePlayer(arrangementWith([drums(1, 'Kit', [36, 38])]))).toEqual([]);
  });
});
