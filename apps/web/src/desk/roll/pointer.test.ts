import {
  type Arrangement,
  applyEdit,
  createMeterMap,
  demoArrangement,
  isSelected,
  NOTHING,
  type Note,
  type Part,
  selectionOf,
  selectionSize,
  ticks,
} from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { createRows, xOfTick, yOfPitch } from '../state/rollView.js';
import { NO_WISHES, type Scene, type Wishes } from './drags.js';
import { layOut } from './layers.js';
import { afterPointer, type Outcome, type PointerInput, restingPointer } from './pointer.js';
import { offer } from './pointerWords.js';

const note = (id: number, pitch: number, onset: number, duration: number): Note => ({
  id,
  pitch,
  onset: ticks(onset),
  duration: ticks(duration),
  velocity: 80,
  channel: 0,
});
const demo = demoArrangement();
const part = (id: number, notes: readonly Note[]): Part => ({ ...(demo.parts[0] as Part), id, notes, events: [] });
const front = [note(1, 60, 0, 480), note(2, 64, 480, 480), note(3, 64, 960, 480)];
const behind = [note(4, 70, 0, 960)];
const arrangement: Arrangement = {
  ...demo,
  parts: [part(1, front), part(2, behind)],
  nextNoteId: 50,
};
const meterMap = createMeterMap(demo.meters, demo.ppq);
const rows = createRows(null);
const view = { left: 0, ticksPerPixel: 4, top: (127 - 76) * 12, rowHeight: 12, width: 800, height: 400 };

const sceneWith = (more: Partial<Scene> = {}): Scene => {
  const now = more.arrangement ?? arrangement;
  return {
    arrangement: now,
    view,
    rows,
    head: 46,
    pressing: 'point',
    parts: [...now.parts].reverse().map((p) => layOut(p, undefined, demo.ppq)),
    frontPartId: 1,
    selection: NOTHING,
    creaseTick: Number.POSITIVE_INFINITY,
    endTick: 5000,
    drawing: false,
    drawn: { length: null, velocity: 80, fits: false },
    snapTo: 'grid',
    within: null,
    held: (part) => part,
    lineNear: null,
    reach: 'front',
    open: new Set(now.parts.map((p) => p.id)),
    unit: 120,
    barStart: (tick) => meterMap.barAt(tick).start,
    ...more,
  };
};
const at = (tick: number, pitch: number) => ({ x: xOfTick(view, tick), y: yOfPitch(view, rows, pitch) + 6 });

/** Plays events one after another, the selection and the arrangement carried along as the Desk does. */
const play = (scene: Scene, ...inputs: PointerInput[]): { outcomes: Outcome[]; scene: Scene } => {
  let now = scene;
  let state = restingPointer;
  const outcomes = inputs.map((input) => {
    const outcome = afterPointer(state, input, now);
    state = outcome.state;
    if (outcome.edit)
      now = sceneWith({ ...now, arrangement: applyEdit(now.arrangement, outcome.edit), parts: undefined as never });
    if (outcome.edit)
      now = { ...now, parts: now.arrangement.parts.map((p) => layOut(p, undefined, demo.ppq)).reverse() };
    if (outcome.selection) now = { ...now, selection: outcome.selection };
    if (outcome.front !== undefined) now = { ...now, frontPartId: outcome.front };
    return outcome;
  });
  return { outcomes, scene: now };
};
const press = (tick: number, pitch: number, adding = false): PointerInput => ({
  type: 'press',
  ...at(tick, pitch),
  adding,
});
const move = (tick: number, pitch: number, wishes: Partial<Wishes> = {}): PointerInput => ({
  type: 'move',
  ...at(tick, pitch),
  wishes: { ...NO_WISHES, ...wishes },
});
const release = (tick: number, pitch: number, wishes: Partial<Wishes> = {}): PointerInput => ({
  type: 'release',
  ...at(tick, pitch),
  wishes: { ...NO_WISHES, ...wishes },
});
const notesOf = ({ arrangement: { parts } }: Scene, index = 0) =>
  parts[index]?.notes.map((n) => `${n.id}: ${n.pitch} ${n.onset}+${n.duration}`);

describe('the pointer in the roll', () => {
  it('previews the very Edit that letting go carries out, at the edges of what can be too', () => {
    const drags: [PointerInput, PointerInput, PointerInput][] = [
      [press(240, 60), move(720, 62), release(720, 62)],
      // Before tick 0, and below the lowest pitch on view.
      [press(700, 64), move(-9000, 46), release(-9000, 46)],
      [press(474, 60), move(-300, 60), release(-300, 60)],
      [press(1436, 64), move(2000, 64), release(2000, 64)],
      // The edge that two notes share, past the end of the second.
      [press(958, 64), move(4000, 64), release(4000, 64)],
    ];
    for (const [down, drag, up] of drags) {
      const { outcomes } = play(sceneWith(), down, drag, up);
      const [, preview, result] = outcomes;
      expect(preview?.draft.edit).not.toBeNull();
      expect(result?.edit).toEqual(preview?.draft.edit);
      for (const p of applyEdit(arrangement, result?.edit as never).parts) {
        for (const n of p.notes) {
          expect(n.onset).toBeGreaterThanOrEqual(0);
          expect(n.duration).toBeGreaterThan(0);
        }
      }
    }
  });

  it('moves what is selected by the grid, each note keeping its own place beside it', () => {
    const { scene } = play(
      sceneWith({ selection: selectionOf(1, [1, 2]) }),
      press(240, 60),
      move(390, 61),
      release(390, 61),
    );
    expect(notesOf(scene)).toEqual(['1: 61 120+480', '2: 65 600+480', '3: 64 960+480']);
    expect(selectionSize(scene.selection)).toBe(2);
  });

  it('moves notes of several parts as one Edit', () => {
    const selection = new Map([
      [1, new Set([1])],
      [2, new Set([4])],
    ]);
    const { scene, outcomes } = play(sceneWith({ selection }), press(240, 60), move(360, 60), release(360, 60));
    expect(outcomes[2]?.edit?.label).toMatch(/^Move: 1 note in .*, 1 in /);
    expect(notesOf(scene, 1)).toEqual(['4: 70 120+960']);
  });

  it('leaves selected notes of hidden parts where they are', () => {
    const selection = new Map([
      [1, new Set([1])],
      [2, new Set([4])],
    ]);
    const parts = sceneWith().parts.filter((p) => p.partId === 1);
    const drags: [PointerInput, PointerInput, PointerInput][] = [
      [press(240, 60), move(360, 60), release(360, 60)],
      [press(474, 60), move(360, 60), release(360, 60)],
    ];
    for (const drag of drags) {
      const { scene } = play(sceneWith({ selection, parts, open: new Set([1]) }), ...drag);
      expect(notesOf(scene)).not.toEqual(notesOf(sceneWith()));
      expect(notesOf(scene, 1)).toEqual(['4: 70 0+960']);
    }
  });

  it('takes no selected note along that is not among those shown alone', () => {
    const selection = selectionOf(1, [1, 2]);
    const { scene } = play(
      sceneWith({ selection, within: selectionOf(1, [1]) }),
      press(240, 60),
      move(360, 60),
      release(360, 60),
    );
    expect(notesOf(scene)).toEqual(['1: 60 120+480', '2: 64 480+480', '3: 64 960+480']);
  });

  it('takes a click for a choice, and adds with a key', () => {
    const one = play(sceneWith({ selection: selectionOf(1, [1, 2]) }), press(240, 60), release(240, 60)).scene;
    expect(one.selection).toEqual(selectionOf(1, [1]));
    const two = play(one, press(700, 64, true), release(700, 64)).scene;
    expect(two.selection).toEqual(selectionOf(1, [1, 2]));
    expect(play(two, press(700, 64, true), release(700, 64)).scene.selection).toEqual(selectionOf(1, [1]));
    expect(play(two, press(3000, 40), release(3000, 40)).scene.selection).toEqual(NOTHING);
  });

  it('brings a part behind forward where its note is clicked', () => {
    const { scene } = play(sceneWith(), press(500, 70), release(500, 70));
    expect(scene.frontPartId).toBe(2);
    expect(scene.selection).toEqual(selectionOf(2, [4]));
  });

  it('selects what a box touches, in the front part', () => {
    const { scene, outcomes } = play(sceneWith(), press(3000, 74), move(100, 58), release(100, 58));
    expect(outcomes[1]?.draft.box).not.toBeNull();
    expect(scene.selection).toEqual(selectionOf(1, [1, 2, 3]));
  });

  it('chooses the note under a press for the menu, unless it is selected already', () => {
    const menu = (tick: number, pitch: number): PointerInput => ({ type: 'menu', ...at(tick, pitch) });
    expect(play(sceneWith(), menu(240, 60)).scene.selection).toEqual(selectionOf(1, [1]));
    expect(play(sceneWith(), menu(240, 70)).scene).toMatchObject({ frontPartId: 2 });
    const both = selectionOf(1, [1, 2]);
    expect(play(sceneWith({ selection: both }), menu(240, 60)).scene.selection).toBe(both);
    expect(play(sceneWith({ selection: both }), menu(3000, 40)).scene.selection).toBe(both);
  });

  it('draws, at least as long as the grid, and selects what it drew', () => {
    const { scene } = play(sceneWith({ drawing: true }), press(2050, 50), release(2050, 50));
    expect(notesOf(scene)).toContain('50: 50 2040+120');
    expect(isSelected(scene.selection, 1, 50)).toBe(true);
  });

  it('edits nothing where the front part is hidden, or on the written side of the crease', () => {
    const hidden = sceneWith({
      frontPartId: null,
      open: new Set([2]),
      parts: [layOut(arrangement.parts[1] as Part, undefined, demo.ppq)],
    });
    const written = sceneWith({ creaseTick: 0 });
    for (const scene of [hidden, written]) {
      const { outcomes } = play({ ...scene, drawing: true }, press(240, 60), move(700, 66), release(700, 66));
      expect(outcomes.every((outcome) => !outcome.edit && !outcome.draft.edit)).toBe(true);
    }
  });

  it('sets the playhead, the loop and the crease', () => {
    const ruler = (tick: number) => ({ x: xOfTick(view, tick), y: -10 });
    expect(
      play(
        sceneWith(),
        { type: 'press', ...ruler(500), adding: false },
        { type: 'release', ...ruler(500), wishes: NO_WISHES },
      ).outcomes[1],
    ).toMatchObject({ seek: 480 });
    const loop = play(
      sceneWith(),
      { type: 'press', ...ruler(500), adding: false },
      { type: 'move', ...ruler(1000), wishes: NO_WISHES },
    );
    expect(loop.outcomes[1]).toMatchObject({ loop: { start: 480, end: 960 } });
    const crease = sceneWith({ creaseTick: 960 });
    const drag = play(
      crease,
      { type: 'press', ...at(960, 50), adding: false },
      { type: 'move', ...at(99_000, 50), wishes: NO_WISHES },
    );
    expect(drag.outcomes[1]).toMatchObject({ creaseTick: 5000 });
  });

  describe('in reach of all shown parts', () => {
    const all = (more: Partial<Scene> = {}) => sceneWith({ reach: 'all', ...more });

    it('takes a note of another part, and the front part stays', () => {
      const { scene } = play(all(), press(500, 70), release(500, 70));
      expect(scene.frontPartId).toBe(1);
      expect(scene.selection).toEqual(selectionOf(2, [4]));
      const added = play(scene, press(240, 60, true), release(240, 60)).scene;
      expect(selectionSize(added.selection)).toBe(2);
      expect(play(all(), { type: 'menu', ...at(500, 70) }).outcomes[0]).not.toHaveProperty('front');
    });

    it('boxes notes of all of them, and none of a locked or hidden one', () => {
      const box = [press(3000, 74), move(100, 58), release(100, 58)] as const;
      expect(selectionSize(play(all(), ...box).scene.selection)).toBe(4);
      expect(play(all({ open: new Set([1]) }), ...box).scene.selection).toEqual(selectionOf(1, [1, 2, 3]));
      const click = play(all({ open: new Set([1]) }), press(500, 70), release(500, 70));
      expect(click.scene.selection).toEqual(NOTHING);
    });

    it('trims the ends of a chord that several parts play', () => {
      const selection = new Map([
        [1, new Set([1])],
        [2, new Set([4])],
      ]);
      const { scene } = play(all({ selection }), press(462, 60), move(360, 60), release(360, 60));
      expect(notesOf(scene)).toContain('1: 60 0+360');
      expect(notesOf(scene, 1)).toEqual(['4: 70 0+840']);
    });
  });

  it('brings a locked part forward to be seen, and picks nothing of it', () => {
    const { scene, outcomes } = play(sceneWith({ open: new Set([1]) }), press(500, 70), release(500, 70));
    expect(outcomes[1]).toMatchObject({ front: 2 });
    expect(scene.selection).toEqual(NOTHING);
  });

  it('moves the edge that chords of several parts share, where it is grabbed at the seam alone', () => {
    const horn = part(2, [note(4, 50, 0, 474), note(5, 55, 486, 300)]);
    const music = { ...arrangement, parts: [part(1, front), horn] };
    const scene = sceneWith({ arrangement: music, reach: 'all', unit: 0 });
    const seam = play(scene, press(481, 64), move(440, 64), release(440, 64));
    expect(notesOf(seam.scene)).toEqual(['1: 60 0+440', '2: 64 440+520', '3: 64 960+480']);
    expect(notesOf(seam.scene, 1)).toEqual(['4: 50 0+434', '5: 55 446+340']);
    // Four pixels inside the note is its own edge.
    const own = play(scene, press(497, 64), move(520, 64), release(520, 64));
    expect(notesOf(own.scene)).toEqual(['1: 60 0+480', '2: 64 520+440', '3: 64 960+480']);
    // In reach of the front part the horn stays.
    const alone = play({ ...scene, reach: 'front' }, press(481, 64), move(440, 64), release(440, 64));
    expect(notesOf(alone.scene, 1)).toEqual(['4: 50 0+474', '5: 55 486+300']);
  });

  it('heeds what keys ask of a drag', () => {
    const drag = (wishes: Partial<Wishes>, selection = selectionOf(1, [1, 2])) =>
      play(sceneWith({ selection }), press(240, 60), move(360, 62, wishes), release(360, 62, wishes));
    expect(notesOf(drag({ along: 'time' }).scene)).toEqual(['1: 60 120+480', '2: 64 600+480', '3: 64 960+480']);
    expect(notesOf(drag({ along: 'pitch' }).scene)).toEqual(['1: 62 0+480', '2: 66 480+480', '3: 64 960+480']);
    const copied = drag({ copy: true });
    expect(notesOf(copied.scene)).toHaveLength(5);
    expect(copied.scene.selection).toEqual(selectionOf(1, [50, 51]));
    const trim = (same: boolean) =>
      play(
        sceneWith({ selection: selectionOf(1, [1, 3]) }),
        press(1436, 64),
        move(1320, 64, { same }),
        release(1320, 64, { same }),
      ).scene;
    expect(notesOf(trim(false))).toEqual(['1: 60 0+360', '2: 64 480+480', '3: 64 960+360']);
    const oneLength = play(
      sceneWith({ selection: selectionOf(1, [1, 3]) }),
      press(1436, 64),
      move(1200, 64, { same: true }),
      release(1200, 64, { same: true }),
    ).scene;
    expect(notesOf(oneLength)).toEqual(['1: 60 0+240', '2: 64 480+480', '3: 64 960+240']);
  });

  it('makes notes louder by a drag upward, each by as much or all the same, and shows the number', () => {
    const soft = { ...note(2, 64, 480, 480), velocity: 30 };
    const music = { ...arrangement, parts: [part(1, [note(1, 60, 0, 480), soft])] };
    const scene = sceneWith({ arrangement: music, selection: selectionOf(1, [1, 2]) });
    const velocities = (same: boolean) => {
      const { scene: after, outcomes } = play(
        scene,
        press(240, 60),
        move(240, 62, { loudness: true, same }),
        release(240, 62, { loudness: true, same }),
      );
      expect(outcomes[1]?.draft.figure?.text).toBe('velocity 96');
      return after.arrangement.parts[0]?.notes.map((n) => n.velocity);
    };
    expect(velocities(false)).toEqual([96, 46]);
    expect(velocities(true)).toEqual([96, 96]);
  });

  it('marks the edges of other notes near what is dragged, and snaps to them where asked', () => {
    const horn = part(2, [note(4, 50, 0, 700), note(5, 55, 733, 300)]);
    const music = { ...arrangement, parts: [part(1, [note(1, 60, 0, 480)]), horn] };
    const drag = (snapTo: Scene['snapTo'], tick: number) =>
      play(sceneWith({ arrangement: music, snapTo }), press(476, 60), move(tick, 60), release(tick, 60));
    const shown = drag('grid', 722).outcomes[1]?.draft.near.map(({ tick, distance }) => [tick, distance]);
    expect(shown).toEqual([
      [733, 11],
      [700, -22],
    ]);
    expect(notesOf(drag('grid', 722).scene)).toEqual(['1: 60 0+720']);
    expect(notesOf(drag('notes', 722).scene)).toEqual(['1: 60 0+733']);
    expect(notesOf(drag('notes', 640).scene)).toEqual(['1: 60 0+640']);
    expect(notesOf(drag('both', 722).scene)).toEqual(['1: 60 0+720']);
    expect(notesOf(drag('both', 731).scene)).toEqual(['1: 60 0+733']);
    const move1 = play(
      sceneWith({ arrangement: music, snapTo: 'notes' }),
      press(240, 60),
      move(240 + 722, 60),
      release(240 + 722, 60),
    );
    expect(notesOf(move1.scene)).toEqual(['1: 60 733+480']);
  });

  it('shows the note that a click would draw, its length apart from the grid, in the chord that it joins', () => {
    const chord = [
      { ...note(1, 60, 486, 470), velocity: 50 },
      { ...note(2, 64, 490, 470), velocity: 54 },
    ];
    const music = { ...arrangement, parts: [part(1, chord)] };
    const scene = sceneWith({
      arrangement: music,
      drawing: true,
      unit: 60,
      drawn: { length: 480, velocity: 80, fits: true },
    });
    const hovering = play(scene, { type: 'hover', ...at(520, 67) }).outcomes[0]?.draft;
    const added = hovering?.edit?.changes[0];
    expect(added?.kind === 'notes' && added.added).toMatchObject([
      { onset: 490, duration: 480, velocity: 54, pitch: 67 },
    ]);
    expect(play(scene, press(520, 67), release(520, 67)).outcomes[1]?.edit).toEqual(hovering?.edit);
    const plain = { ...scene, drawn: { ...scene.drawn, fits: false } };
    expect(notesOf(play(plain, press(520, 67), release(520, 67)).scene)).toContain('50: 67 480+480');
    expect(play(sceneWith(), { type: 'hover', ...at(520, 67) }).outcomes[0]?.draft.edit).toBeNull();
  });

  it('draws out repeats of one pitch', () => {
    const { scene } = play(
      sceneWith({ drawing: true }),
      press(2050, 50),
      move(2400, 50, { repeats: true }),
      release(2400, 50, { repeats: true }),
    );
    expect(notesOf(scene)?.slice(3)).toEqual(['50: 50 2040+120', '51: 50 2160+120', '52: 50 2280+120']);
    expect(selectionSize(scene.selection)).toBe(3);
  });

  it('lets go of everything when the press is cancelled', () => {
    const { outcomes } = play(sceneWith(), press(240, 60), move(700, 66), { type: 'cancel' });
    expect(outcomes[2]).toMatchObject({ state: { kind: 'idle' }, draft: { edit: null, box: null, near: [] } });
  });
});

describe('meter, key and tempo in the ruler', () => {
  const said = {
    ...arrangement,
    markers: [],
    meters: [
      { tick: ticks(0), numerator: 4, denominator: 4 },
      { tick: ticks(1920), numerator: 3, denominator: 4 },
    ],
    keys: [
      { tick: ticks(0), fifths: 0, minor: false },
      { tick: ticks(1920), fifths: 1, minor: false },
    ],
    tempos: [
      { tick: ticks(0), microsecondsPerQuarter: 500_000 },
      { tick: ticks(960), microsecondsPerQuarter: 600_000 },
    ],
  };
  const drag = (fromTick: number, right: number, by: number) => {
    const [x, y] = [xOfTick(view, fromTick) + 6 + right, -34];
    return play(
      sceneWith({ arrangement: said }),
      { type: 'press', x, y, adding: false },
      { type: 'move', x: x + by, y, wishes: NO_WISHES },
      { type: 'release', x: x + by, y, wishes: NO_WISHES },
    );
  };

  it('are dragged: a meter and a key to bar lines, a tempo to the grid', () => {
    // 480 ticks are 120 pixels; a bar of four quarters is 480 of them.
    const meter = drag(1920, 0, 470);
    expect(meter.outcomes[1]?.draft.edit?.label).toBe('Move the change to 3/4');
    expect(meter.scene.arrangement.meters.map(({ tick }) => tick)).toEqual([0, 3840]);
    const key = drag(1920, 32, 340);
    expect(key.scene.arrangement.keys.map(({ tick }) => tick)).toEqual([0, 3360]);
    const tempo = drag(960, 0, 61);
    expect(tempo.scene.arrangement.tempos.map(({ tick }) => tick)).toEqual([0, 1200]);
  });

  it('stay where the piece begins in them, and are no change where they come to stand as they stood', () => {
    expect(drag(0, 0, 480).scene.arrangement).toEqual(said);
    expect(drag(1920, 0, 20).scene.arrangement.meters).toEqual(said.meters);
  });
});

describe('a marker in the ruler', () => {
  const marked = { ...arrangement, markers: [{ tick: ticks(480), text: 'Verse' }] };
  const over = { x: xOfTick(view, 480) + 4, y: -34 };

  it('is dragged to another place on the grid, and a click on it puts the playhead there', () => {
    const { outcomes, scene } = play(
      sceneWith({ arrangement: marked }),
      { type: 'press', ...over, adding: false },
      { type: 'move', x: over.x + 62, y: over.y, wishes: NO_WISHES },
      { type: 'release', x: over.x + 62, y: over.y, wishes: NO_WISHES },
    );
    expect(outcomes[1]?.draft.edit?.label).toBe('Move marker: Verse');
    expect(scene.arrangement.markers).toEqual([{ tick: 720, text: 'Verse' }]);
    const clicked = play(
      sceneWith({ arrangement: marked }),
      { type: 'press', ...over, adding: false },
      { type: 'release', ...over, wishes: NO_WISHES },
    );
    expect(clicked.outcomes.at(-1)?.seek).toBe(480);
  });

  it('is not taken from the line of bars below it', () => {
    const { outcomes } = play(
      sceneWith({ arrangement: marked }),
      { type: 'press', x: over.x, y: -10, adding: false },
      { type: 'release', x: over.x, y: -10, wishes: NO_WISHES },
    );
    expect(outcomes.at(-1)?.edit).toBeUndefined();
  });
});

describe('what a place offers', () => {
  const told = (scene: Scene, x: number, y: number) =>
    offer(scene, x, y, (partId, { id }) => `note ${id} of ${partId}`);

  it('is said of the note, its edge and the ground under the hand', () => {
    const scene = sceneWith();
    const { x, y } = at(700, 64);
    expect(told(scene, x, y)).toEqual([expect.stringMatching(/^note 2 of 1\. Drag to move/), 'grab']);
    const end = at(1437, 64);
    expect(told(scene, end.x, end.y)).toEqual([expect.stringContaining('Drag to trim'), 'ew-resize']);
    const seam = at(477, 60);
    expect(told(scene, seam.x, seam.y)).toEqual([expect.stringContaining('that these 2 notes share'), 'col-resize']);
    expect(told(scene, at(3000, 60).x, at(3000, 60).y)[0]).toMatch(/^Drag to select\. Click a note of another part/);
    expect(told(sceneWith({ reach: 'all' }), at(3000, 60).x, y)).toEqual([
      'Drag to select in all shown parts.',
      'default',
    ]);
  });

  it('is said of the ruler, of the crease and of what lies beyond it', () => {
    expect(told(sceneWith(), 400, -40)).toEqual([expect.stringContaining('playhead'), 'pointer']);
    const folded = sceneWith({ creaseTick: 1000 });
    expect(told(folded, xOfTick(view, 1000), 50)[0]).toMatch(/^Drag the crease/);
    expect(told(folded, xOfTick(view, 2000), 50)).toEqual([expect.stringContaining('Written'), 'default']);
  });

  it('is nothing where the front part is hidden or locked', () => {
    expect(told(sceneWith({ frontPartId: null }), at(700, 64).x, at(700, 64).y)[0]).toContain('Show or unlock it');
  });

  it('is the note that would be drawn', () => {
    const { x, y } = at(2400, 65);
    expect(told(sceneWith({ drawing: true }), x, y)).toEqual([
      expect.stringMatching(/^Would go there: note \d+ of 1\. Click or drag to draw/),
      'crosshair',
    ]);
  });
});
