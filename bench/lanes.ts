/** Times lanes: what is computed for two hundred thousand points, and the frames of a lane that shows them while it scrolls. */
import { writeFileSync } from 'node:fs';
import {
  changePoints,
  createTempoMap,
  drawInLane,
  expandedEvents,
  type Lane,
  lanePoints,
  type PartEvent,
  thinned,
  ticks,
} from '@crispfold/core';
import { dropToPage, end, fileOf, frames, median, page, untilReady } from './browser.js';
import { made } from './made.js';

const EVENTS = 200_000;
const LANE: Lane = { kind: 'controller', controller: 11 };

const piece = made(8000);
const [part] = piece.parts;
if (!part) throw new Error('There is no part.');
const length = part.notes.at(-1)?.onset ?? 0;
const events = Array.from(
  { length: EVENTS },
  (_, index): PartEvent => ({
    kind: 'controller',
    id: index + 1,
    tick: ticks(Math.round((index * length) / EVENTS)),
    channel: 0,
    controller: 11,
    value: Math.round(64 + 60 * Math.sin(index / 900) + (index % 7) - 3),
  }),
);
const arrangement = { ...piece, parts: [{ ...part, events }], nextEventId: EVENTS + 1 };

/** Milliseconds of the middle of five turns, after one. */
const timed = (act: () => unknown): number => {
  act();
  return median(
    Array.from({ length: 5 }, () => {
      const began = performance.now();
      act();
      return performance.now() - began;
    }),
  );
};
const points = lanePoints({ notes: [], events }, LANE);
const sort = timed(() => [...points].sort((a, b) => a.value - b.value || a.tick - b.tick));
const { ticksPerMillisecond } = createTempoMap(piece.tempos, piece.ppq);
const ramps = events.filter((_, index) => index % 50 === 0).map((event) => ({ ...event, ramp: 0 }) as PartEvent);
const rows = [
  { what: 'points of the lane', ms: timed(() => lanePoints({ notes: [], events: [...events] }, LANE)) },
  { what: 'thinned', ms: timed(() => thinned(points)) },
  { what: 'four thousand ramps as a file has them', ms: timed(() => expandedEvents(ramps, ticksPerMillisecond)) },
  {
    what: 'a line drawn over half of them',
    ms: timed(() =>
      drawInLane(arrangement, 1, LANE, [
        { tick: 0, value: 10, ramp: 0 },
        { tick: Math.round(length / 2), value: 100, ramp: null },
      ]),
    ),
  },
  {
    what: 'one point moved',
    ms: timed(() => changePoints(arrangement, 1, LANE, new Set([1000]), (point) => ({ ...point, value: 5 }))),
  },
].map((row) => ({ ...row, sorts: row.ms / sort }));

await dropToPage(fileOf(arrangement, 'Lanes'));
await untilReady();
const press = async (...keys: readonly string[]): Promise<void> => {
  await page.locator('#roll').focus();
  for (const key of keys) await page.keyboard.press(key);
  await page.waitForTimeout(1000);
};
const near = await frames();
await press('8', 'e');
const nearLane = await frames();
await press('0');
const wholeLane = await frames();
await press('8', 'x');
const whole = await frames();
const result = { events: EVENTS, sort, rows, near, nearLane, whole, wholeLane };
console.log(result);
writeFileSync(process.argv[2] ?? 'bench-lanes.json', JSON.stringify(result));
await end();
