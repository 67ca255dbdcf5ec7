import {
  ACCURACY_KINDS,
  type Arrangement,
  demoArrangement,
  FREE_KINDS,
  findBeats,
  type Part,
  type PartId,
  planOf,
  planStep,
  READY_PLANS,
  STEP_IDS,
  selectionOf,
  ticks,
} from '@crispfold/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { createDesk } from './deskSession.js';
import { newsOf, withLayers } from './news.js';
import { unpackNotes } from './packedNotes.js';
import type { AnswerTo, CallName, Calls, DeskRequest, WrittenLayer } from './protocol.js';

const demo = demoArrangement();
const flute = demo.parts[0] as Part;
const clarinet = demo.parts[1] as Part;

let desk: ReturnType<typeof createDesk>;
/** What the engraver was given. */
let engraved: string[] = [];
let session = 0;
let revision = 0;
let known: ReadonlyMap<PartId, Part>;
beforeEach(() => {
  engraved = [];
  desk = createDesk(async (musicXml) => {
    engraved.push(musicXml);
    return `<svg>${engraved.length}</svg>`;
  });
  session += 1;
  revision = 0;
  known = new Map();
});

const ask = <Name extends CallName>(call: Name, asks: Calls[Name]['asks'], stamp = { session, revision }) =>
  desk({ call, asks, ...stamp } as DeskRequest) as Promise<AnswerTo<Name>>;
const tell = (arrangement: Arrangement) => {
  revision += 1;
  const { parts, ...header } = arrangement;
  const changed = parts.filter((part) => known.get(part.id) !== part).map((part) => newsOf(part, known.get(part.id)));
  known = new Map(parts.map((part) => [part.id, part]));
  return ask('tell', { header, parts: changed, order: parts.map((part) => part.id) });
};
const takeAll = async (first: PartId[] = []) => {
  const layers: AnswerTo<'layers'>['layers'][number][] = [];
  for (;;) {
    const answer = await ask('layers', { first });
    layers.push(...answer.layers);
    if (answer.left === 0) return layers;
  }
};
const withPart = (part: Part, arrangement = demo): Arrangement => ({
  ...arrangement,
  parts: arrangement.parts.map((other) => (other.id === part.id ? part : other)),
});
const moved = (part: Part): Part => ({
  ...part,
  notes: part.notes.map((note, index) => (index === 0 ? { ...note, velocity: note.velocity === 90 ? 91 : 90 } : note)),
});

describe('a session of the Desk in the worker', () => {
  it('answers with a layer for each part, those asked for first, and then with what changed alone', async () => {
    await tell(demo);
    const { layers } = await ask('layers', { first: [3] });
    expect(layers[0]?.partId).toBe(3);
    const rest = await takeAll();
    expect([...layers, ...rest].map((layer) => layer.partId).sort()).toEqual(demo.parts.map((part) => part.id));
    await tell(demo);
    expect(await takeAll()).toEqual([]);
  });

  it('listens for beats a piece at a time, says how far it is, and begins anew where another thing is asked', async () => {
    await tell(demo);
    let now = 0;
    // Each look at the clock is a second later: an answer holds one piece.
    const clock = vi.spyOn(performance, 'now').mockImplementation(() => {
      now += 1000;
      return now;
    });
    const asks = { partIds: null, attacks: null };
    const shares: number[] = [];
    for (;;) {
      const { done, found } = await ask('beats', asks);
      shares.push(done);
      if (done === 1) {
        expect(found).toEqual(findBeats(demo));
        break;
      }
      expect(found).toBeNull();
    }
    expect(new Set(shares).size).toBeGreaterThan(4);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    const halfWay = async () => {
      while ((await ask('beats', asks)).done < 0.5);
    };
    await halfWay();
    expect((await ask('beats', { partIds: [1], attacks: null })).done).toBe(0);
    expect((await ask('beats', asks)).done).toBe(0);
    await halfWay();
    await tell(withPart(moved(flute)));
    expect((await ask('beats', asks)).done).toBe(0);
    clock.mockRestore();
  });

  it('lets the next change in while it seeks the beats of a take that followed no click', async () => {
    const kind = FREE_KINDS.find(({ name }) => name.includes('solo keyboard')) as (typeof FREE_KINDS)[number];
    const { arrangement } = kind.sample(5, 0);
    const clock = vi.spyOn(performance, 'now');
    let now = 0;
    clock.mockImplementation(() => {
      now += 1000;
      return now;
    });
    await tell(arrangement);
    const asked = ask('findings', {});
    // Long enough for all other checks of one part, which are made at one go.
    for (let turn = 0; turn < 3; turn += 1) await new Promise((resolve) => setTimeout(resolve));
    const [part] = arrangement.parts;
    await tell(withPart(moved(part as Part), arrangement));
    expect((await asked).parts).toBeNull();
    clock.mockRestore();
    const { parts } = await ask('findings', {});
    expect(parts?.flatMap(({ findings }) => findings.map((own) => own.kind))).toContain('ownTempo');
  });

  it('loses no layer where a second part is edited before the first one’s answer is read', async () => {
    await tell(demo);
    let shown = withLayers(new Map(), await takeAll(), [1, 2, 3, 4, 5, 6]);
    const editedFlute = withPart(moved(flute));
    await tell(editedFlute);
    // Its answer is on the way while the clarinet is edited; both are taken, in whatever order.
    const first = await ask('layers', { first: [1] });
    await tell(withPart(moved(clarinet), editedFlute));
    const second = await takeAll([2]);
    shown = withLayers(shown, second, [1, 2, 3, 4, 5, 6]);
    shown = withLayers(shown, first.layers, [1, 2, 3, 4, 5, 6]);
    expect(shown.get(1)?.covers).toBe(2);
    expect(shown.get(2)?.covers).toBe(3);
    const loudest = (layer: WrittenLayer | undefined) => layer?.notes[0]?.velocity;
    expect([loudest(shown.get(1)), loudest(shown.get(2))]).toEqual([90, 90]);
    // An older answer never takes the place of a newer one.
    expect(
      withLayers(
        shown,
        first.layers.map((layer) => ({ ...layer, covers: 1 })),
        [1, 2],
      ).get(1)?.covers,
    ).toBe(2);
  });

  it('shows nothing of another arrangement, though revisions begin again', async () => {
    await tell(demo);
    await takeAll();
    const other: Arrangement = { ...demo, parts: [{ ...clarinet, id: 1 }] };
    const before = { session, revision };
    session += 1;
    revision = 0;
    known = new Map();
    await tell(other);
    const layers = await takeAll();
    expect(layers).toHaveLength(1);
    expect(layers[0] && unpackNotes(layers[0].packed)[0]?.pitch).not.toBe(flute.notes[0]?.pitch);
    await expect(ask('page', { partIds: [1], firstBar: 1, lastBar: 2, shown: 0 }, before)).rejects.toMatchObject({
      name: 'SessionOver',
    });
    await expect(desk({ call: 'tell', asks: { header: demo, parts: [], order: [] }, ...before })).rejects.toThrow();
  });

  it('refuses a request about a change it was not told of, and tells what went wrong in a computation', async () => {
    await tell(demo);
    await expect(ask('findings', {}, { session, revision: 9 })).rejects.toMatchObject({ name: 'NotYet' });
    await tell({ ...demo, parts: [{ ...flute, plan: { ...planOf(flute), steps: [null as never] } }] });
    await expect(takeAll()).rejects.toThrow();
  });

  it('finds doubles of another part anew when that part changes', async () => {
    const copy: Part = { ...flute, id: 2, name: 'Flute again' };
    const doubled = { ...demo, parts: [flute, copy] };
    const twins = async () =>
      (await ask('findings', {})).parts
        ?.find(({ partId }) => partId === 2)
        ?.findings.filter(({ kind }) => kind === 'sameInTwoParts').length;
    await tell(doubled);
    expect(await twins()).toBeGreaterThan(0);
    await tell({ ...doubled, parts: [{ ...flute, notes: [] }, copy] });
    expect(await twins()).toBe(0);
  });

  it('compares parts anew when the tempo or the name of one changes', async () => {
    const hand = (k: number) => (k * 37) % 41;
    const notes = (first: number): Part['notes'] =>
      Array.from({ length: 24 }, (_, k) => ({
        ...(flute.notes[0] as Part['notes'][number]),
        id: first + k,
        pitch: 60 + ((k * 5) % 9),
        onset: ticks(1937 + k * 480 + hand(k)),
        duration: ticks(400),
        velocity: 60 + hand(k),
      }));
    const own = { ...flute, notes: notes(1), plan: undefined };
    const copy = { ...clarinet, notes: notes(101).map((note) => ({ ...note, onset: ticks(note.onset + 2) })) };
    const reasons = async () =>
      (await ask('findings', {})).parts?.flatMap(({ findings }) =>
        findings.flatMap(({ kind, reason }) => (kind === 'sameInTwoParts' ? reason : [])),
      );
    const takes = { ...demo, parts: [own, copy] };
    await tell(takes);
    await takeAll();
    expect(await reasons()).toEqual([expect.stringContaining(`those of ${flute.name},`)]);
    await tell({ ...takes, parts: [{ ...own, name: 'Piccolo' }, copy] });
    expect(await reasons()).toEqual([expect.stringContaining('those of Piccolo,')]);
    await tell({ ...takes, tempos: [{ tick: ticks(0), microsecondsPerQuarter: 4_000_000 }] });
    expect((await ask('findings', {})).parts?.map(({ partId }) => partId)).toContain(copy.id);
    expect(await reasons()).toEqual([]);
  });

  it('gives each step its count by its place, whatever is switched off, passages or not', async () => {
    const plan = {
      ...planOf(flute),
      passages: [{ firstBar: 1, lastBar: 2, steps: [planStep('dropSpecks')] }],
      steps: planOf(flute).steps.map((item) => (item.step === 'dropSpecks' ? { ...item, on: false } : item)),
    };
    await tell(withPart({ ...flute, plan }));
    const [layer] = (await takeAll()).filter(({ partId }) => partId === 1);
    for (const { step, place } of layer?.touched ?? []) expect(plan.steps[place]?.step).toBe(step);
    const quantized = layer?.touched.find(({ step }) => step === 'quantizeStarts');
    expect(quantized?.count).toBeGreaterThan(flute.notes.length / 3);
  });

  it('keeps the notes of a part of which only the plan is new', async () => {
    await tell(demo);
    await takeAll();
    await tell(withPart({ ...flute, plan: READY_PLANS.chords }));
    const [layer, ...others] = await takeAll();
    expect(others).toEqual([]);
    expect(layer?.touched.map(({ step }) => step)).toContain('separateVoices');
    expect(layer?.suggestion).toBe('');
    await tell(withPart({ ...flute, plan: { ...planOf(flute), steps: [] } }));
    const [empty] = await takeAll();
    expect(empty && unpackNotes(empty.packed)).toHaveLength(flute.notes.length);
  });

  it('runs a plan again when a part that it looks at changes, and no other', async () => {
    const follows = planStep('follow', { part: 2 });
    const plan = { ...planOf(flute), steps: [...planOf(flute).steps, follows] };
    const following = withPart({ ...flute, plan });
    await tell(following);
    await takeAll();
    await tell(withPart(moved(clarinet), following));
    expect((await takeAll()).map(({ partId }) => partId).sort()).toEqual([1, 2]);
    await tell(withPart(moved(demo.parts[2] as Part), withPart(moved(clarinet), following)));
    expect((await takeAll()).map(({ partId }) => partId)).toContain(3);
  });

  it('reads unsteady hands anew when another of them begins elsewhere, and leaves them when it only sounds otherwise', async () => {
    const kind = ACCURACY_KINDS.find(({ name }) => name.startsWith('eight lines together'));
    const whole = kind?.sample(1, 0).arrangement as Arrangement;
    const rough = { ...whole, parts: whole.parts.slice(0, 3) };
    await tell(rough);
    expect(await takeAll()).toHaveLength(3);
    const [first] = rough.parts;
    const change = (by: { pitch?: number; onset?: number }): Arrangement => ({
      ...rough,
      parts: rough.parts.map((part) =>
        part === first
          ? {
              ...part,
              notes: part.notes.map((note) => ({
                ...note,
                pitch: note.pitch + (by.pitch ?? 0),
                onset: ticks(note.onset + (by.onset ?? 0)),
              })),
            }
          : part,
      ),
    });
    await tell(change({ pitch: 1 }));
    expect((await takeAll()).map(({ partId }) => partId)).toEqual([first?.id]);
    await tell(change({ onset: 480 }));
    expect((await takeAll()).map(({ partId }) => partId)).toEqual([1, 2, 3]);
  });

  it('tells what each step did to a note, vetoes among it', async () => {
    await tell(demo);
    const reasonsOf = async (noteId: number) => (await ask('reasons', { partId: 1, noteId })).reasons;
    const all = await Promise.all(flute.notes.map(async ({ id }) => ({ id, reasons: await reasonsOf(id) })));
    const taken = all.find(({ reasons }) => reasons.some(({ change }) => !change.to));
    const reason = taken?.reasons.find(({ change }) => !change.to);
    if (!taken || !reason) throw new Error('the demo has litter');
    await tell(withPart({ ...flute, vetoes: [{ noteId: taken.id, step: reason.step }] }));
    expect(await reasonsOf(taken.id)).toContainEqual({ ...reason, vetoed: true });
  });

  it('engraves a page once, anew where the screen has another, and not where a change came meanwhile', async () => {
    await tell(demo);
    const bars = { partIds: [1], firstBar: 1, lastBar: 2 };
    const first = await ask('page', { ...bars, shown: 0 });
    expect(await ask('page', { ...bars, shown: first.picture })).toMatchObject({ picture: first.picture, svg: null });
    expect((await ask('page', { ...bars, shown: 0 })).svg).toBe('<svg>2</svg>');
    // An edit of another part leaves the picture as it is.
    await tell(withPart(moved(clarinet)));
    expect((await ask('page', { ...bars, shown: 2 })).svg).toBeNull();
    const late = ask('page', { ...bars, partIds: [2], shown: 0 });
    const overtaken = ask('page', { ...bars, partIds: [3], shown: 0 });
    await tell(demo);
    expect((await overtaken).svg).toBeNull();
    await late;
    expect(engraved).toHaveLength(2);
  });

  it('checks nothing while a page is engraved, and a newer change ends the wait', async () => {
    let engravedNow = (_: string) => {};
    const slow = createDesk(() => new Promise<string>((resolve) => (engravedNow = resolve)));
    session += 1;
    const first = { session, revision: 1 };
    const { parts, ...header } = demo;
    const told = { header, parts: parts.map((part) => newsOf(part, undefined)), order: parts.map(({ id }) => id) };
    await slow({ call: 'tell', asks: told, ...first } as DeskRequest);
    const bars = { partIds: [1], firstBar: 1, lastBar: 4, shown: 0 };
    const page = slow({ call: 'page', asks: bars, ...first } as DeskRequest);
    let checked = false;
    const findings = slow({ call: 'findings', asks: {}, ...first } as DeskRequest).then((answer) => {
      checked = true;
      return answer as AnswerTo<'findings'>;
    });
    for (let turn = 0; turn < 20; turn += 1) await new Promise((resolve) => setTimeout(resolve));
    expect(checked).toBe(false);
    const change = { header, parts: [], order: told.order };
    await slow({ call: 'tell', asks: change, session, revision: 2 } as DeskRequest);
    engravedNow('<svg/>');
    await page;
    expect((await findings).parts).toBeNull();
  });

  it('pretends changes where nothing is asked, which nobody sees, until a real one comes', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout'] });
    try {
      await tell(demo);
      await takeAll();
      const bars = { partIds: [flute.id, clarinet.id], firstBar: 1, lastBar: 4 };
      const { picture } = await ask('page', { ...bars, shown: 0 });
      const checked = ask('findings', {});
      await vi.advanceTimersByTimeAsync(100);
      await checked;
      expect(engraved).toHaveLength(1);
      while (engraved.length < 4) await vi.advanceTimersByTimeAsync(100);
      expect(new Set(engraved).size).toBeGreaterThan(2);
      expect(await takeAll()).toEqual([]);
      expect(await ask('page', { ...bars, shown: picture })).toMatchObject({ picture, svg: null });
      await tell(withPart(moved(flute)));
      const before = engraved.length;
      await vi.advanceTimersByTimeAsync(10_000);
      expect(engraved).toHaveLength(before);
    } finally {
      vi.useRealTimers();
    }
  });

  it('pretends none where it is not to rehearse', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout'] });
    try {
      let pages = 0;
      desk = createDesk(
        async () => {
          pages += 1;
          return '<svg/>';
        },
        () => false,
      );
      await tell(demo);
      await takeAll();
      await ask('page', { partIds: [flute.id], firstBar: 1, lastBar: 4, shown: 0 });
      const checked = ask('findings', {});
      await vi.advanceTimersByTimeAsync(100);
      await checked;
      await vi.advanceTimersByTimeAsync(10_000);
      expect(pages).toBe(1);
    } finally {
      vi.useRealTimers();
    }
  });

  it('checks all the same where a page is never engraved', async () => {
    const silent = createDesk(() => new Promise<string>(() => {}));
    session += 1;
    const first = { session, revision: 1 };
    const { parts, ...header } = demo;
    const told = { header, parts: parts.map((part) => newsOf(part, undefined)), order: parts.map(({ id }) => id) };
    await silent({ call: 'tell', asks: told, ...first } as DeskRequest);
    vi.useFakeTimers({ toFake: ['setTimeout'] });
    void silent({
      call: 'page',
      asks: { partIds: [1], firstBar: 1, lastBar: 4, shown: 0 },
      ...first,
    } as DeskRequest);
    const findings = silent({ call: 'findings', asks: {}, ...first } as DeskRequest);
    // One wait for all parts together.
    await vi.advanceTimersByTimeAsync(3000);
    expect(((await findings) as AnswerTo<'findings'>).parts?.length).toBeGreaterThan(3);
    vi.useRealTimers();
  });

  it('says what a step would do, writes the page of the bars asked for, and files', async () => {
    await tell(demo);
    const selection = selectionOf(
      1,
      flute.notes.map((note) => note.id),
    );
    const counts = new Map((await ask('stepCounts', { selection, tried: STEP_IDS.map((id) => planStep(id)) })).counts);
    const tried = await ask('stepEdit', { selection, tried: planStep('quantizeStarts') });
    expect(counts.get('quantizeStarts')).toBe(tried.touched);
    expect((await ask('page', { partIds: [1], firstBar: 2, lastBar: 3, shown: 0 })).svg).toBe('<svg>1</svg>');
    expect(engraved[0]?.match(/<measure /g)).toHaveLength(2);
    expect(engraved[0]).toContain('<part-name>Flute</part-name>');
    const { bytes } = await ask('exportFile', {
      kind: 'midi-played',
      partIds: [1],
      bars: null,
      order: 'own',
      concertPitch: false,
    });
    expect(String.fromCharCode(...bytes.slice(0, 4))).toBe('MThd');
    expect((await ask('timing', { partId: 99, only: null })).played).toEqual([]);
  });
});
