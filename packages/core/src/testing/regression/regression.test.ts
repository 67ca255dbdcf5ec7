/**
 * Answers kept from before: what steps, plans, checks, pages and files made of small rough takes. They say that nothing
 * changed, not that it is right (other tests do); where a change is meant, `npx vitest run regression -u` keeps the new
 * answers, and the difference shows what it did to music it was not made for.
 */
import { describe, expect, it } from 'vitest';
import { ACCURACY_KINDS } from '../../demo/accuracyKinds.js';
import { demoArrangement, demoMidi, preludeArrangement } from '../../demo/demo.js';
import { exportAbout } from '../../exportAbout.js';
import { checkOf, FINDING_KINDS, findingsOf } from '../../findings/registry.js';
import { importMidi } from '../../midi/importMidi.js';
import { writePlayedMidi, writeWrittenMidi } from '../../midi/writeMidi.js';
import type { Arrangement } from '../../model/arrangement.js';
import { createChance } from '../../model/chance.js';
import type { KeptFeel } from '../../model/keptFeel.js';
import type { PlanStep } from '../../model/plan.js';
import type { StepId } from '../../model/stepParameters.js';
import { writeMusicXml } from '../../musicxml/writeMusicXml.js';
import { buildScore } from '../../notation/buildScore.js';
import { readPitches } from '../../notation/pitchReading.js';
import { hardestBars, readabilityOf } from '../../notation/readability.js';
import { playedContext } from '../../plan/context.js';
import { planOf, READY_PLANS } from '../../plan/readyPlans.js';
import { runPlan } from '../../plan/runPlan.js';
import { writtenMaps } from '../../plan/writtenMaps.js';
import { planStep, runStep, STEP_IDS, stepById } from '../../steps/registry.js';
import type { ParameterField } from '../../steps/step.js';
import { milliseconds, noteValue } from '../../time/noteLengths.js';
import { roughTake, roughTakeInThree } from './takes.js';
import { hashOf, resultInWords } from './words.js';

const TAKES: readonly Arrangement[] = [roughTake(1), roughTakeInThree(2)];

const FEEL: KeptFeel = {
  name: 'Late twos',
  bar: 16,
  places: [
    { sixteenth: 4, late: 18, louder: 9, met: 6 },
    { sixteenth: 12, late: -12, louder: -9, met: 6 },
  ],
};

/** A few values that a field can have: its bounds, its middle, none, each choice. */
const valuesOf = (field: ParameterField): readonly unknown[] => {
  switch (field.kind) {
    case 'choice':
      return field.choices.map(({ value }) => value);
    case 'number': {
      const middle = field.min + Math.floor((field.max - field.min) / 2);
      return [field.min, middle, field.max, ...(field.none === undefined ? [] : [null])];
    }
    case 'switch':
      return [true, false];
    case 'length':
      return [milliseconds(30), noteValue(1 / 8), ...(field.none === undefined ? [] : [null])];
    case 'lengths':
      return [[milliseconds(30)], [noteValue(1 / 16), milliseconds(90)]];
    case 'feel':
      return [FEEL, null];
    case 'part':
      return [0, 2];
    default:
      return field satisfies never;
  }
};

/** Each step as it is, and with one parameter after another set to its values. */
const variationsOf = (step: StepId): readonly (readonly [words: string, item: PlanStep])[] => {
  const fields: { readonly [key: string]: ParameterField } = stepById(step).fields;
  const usual = planStep(step);
  const set = (key: string, value: unknown) =>
    ({ ...usual, parameters: { ...usual.parameters, [key]: value } }) as unknown as PlanStep;
  return [
    ['as it is', usual],
    ...Object.entries(fields).flatMap(([key, field]) =>
      valuesOf(field).map((value) => [`${key} ${JSON.stringify(value)}`, set(key, value)] as const),
    ),
  ];
};

const kept = (name: string, lines: readonly string[]) =>
  expect(`${lines.join('\n')}\n`).toMatchFileSnapshot(`./${name}.txt`);

describe('answers are as they were', () => {
  for (const step of STEP_IDS) {
    it(`of ${stepById(step).name}`, async () => {
      const lines = TAKES.flatMap((take) =>
        take.parts.flatMap((part) =>
          variationsOf(step).map(([words, item]) => {
            let next = 500_000;
            const context = { ...playedContext(take, part), newId: () => next++ };
            return `${take.title}, ${part.name}, ${words}: ${resultInWords(runStep(item, part.notes, context))}`;
          }),
        ),
      );
      await kept(`step-${step}`, lines);
    });
  }

  it('of whole plans, with vetoes and passages', async () => {
    const lines = TAKES.flatMap((take) =>
      take.parts.flatMap((part) =>
        Object.entries(READY_PLANS).flatMap(([kind, ready]) => {
          const passage = {
            firstBar: 2,
            lastBar: 3,
            steps: ready.steps.map((item) => (item.step === 'quantizeStarts' ? { ...item, on: false } : item)),
          };
          const vetoes = part.notes.slice(0, 9).flatMap(({ id }) => [
            { step: 'merge' as const, noteId: id },
            { step: 'settleLengths' as const, noteId: id },
          ]);
          return [
            ['', part, ready] as const,
            [', a passage', part, { ...ready, passages: [passage] }] as const,
            [', vetoes', { ...part, vetoes }, ready] as const,
          ].map(([words, own, plan]) => {
            const written = runPlan(own, take.ppq, writtenMaps(take), plan);
            const touched = written.steps.map(
              ({ step, touched: count, vetoed }) => `${step} ${count}/${vetoed.length}`,
            );
            return `${take.title}, ${part.name}, ${kind}${words}: ${written.notes.length} notes; ${touched.join(', ')} #${hashOf(JSON.stringify(written))}`;
          });
        }),
      ),
    );
    await kept('plans', lines);
  });

  const PIECES: readonly (readonly [string, () => Arrangement])[] = [
    ...[1, 2, 3, 4].map((seed) => [`rough ${seed}`, () => roughTake(seed)] as const),
    ...[5, 6].map((seed) => [`rough in three ${seed}`, () => roughTakeInThree(seed)] as const),
    ['Saltmarsh Lanterns', demoArrangement],
    ['Lantern Prelude', preludeArrangement],
  ];

  it('of the checks', async () => {
    const lines = PIECES.flatMap(([name, make]) => {
      const take = make();
      const maps = writtenMaps(take);
      return take.parts.flatMap((part) => {
        const found = findingsOf(take, part, runPlan(part, take.ppq, maps));
        return FINDING_KINDS.flatMap((kind) => {
          const own = found.filter((finding) => finding.kind === kind);
          const [first] = own;
          if (!first) return [];
          const mends = own.map(({ mend, otherMend }) => `${mend?.label}${otherMend ? `, ${otherMend.label}` : ''}`);
          return `${name}, ${part.name}, ${checkOf(kind).name}: ${own.length}, first at ${first.tick}, ${first.severity}, ${first.reason}; ${[...new Set(mends)].join(' | ')} #${hashOf(JSON.stringify(own))}`;
        });
      });
    });
    await kept('checks', lines);
  });

  /** How often each element stands in a file. */
  const elementsOf = (xml: string): string => {
    const counts = new Map<string, number>();
    for (const [, name = ''] of xml.matchAll(/<([a-z-]+)/g)) counts.set(name, (counts.get(name) ?? 0) + 1);
    return [...counts]
      .sort(([a], [b]) => a.localeCompare(b))
      .map(([name, count]) => `${name} ${count}`)
      .join(' ');
  };

  const SHEETS: readonly (readonly [string, () => Arrangement])[] = [
    ...PIECES,
    ...ACCURACY_KINDS.map(({ name, sample }) => [name, () => sample(100, 1).arrangement] as const),
  ];

  it('of the page', async () => {
    const lines = SHEETS.flatMap(([name, make]) => {
      const piece = make();
      const maps = writtenMaps(piece);
      const written = piece.parts.map((part) => runPlan(part, piece.ppq, maps, planOf(part)));
      const reading = readPitches(piece, written);
      return [
        ['whole', {}] as const,
        ['concert pitch, bars 2 to 4', { concertPitch: true, firstBar: 2, lastBar: 4 }] as const,
        ['a part', { partIds: [piece.parts[0]?.id ?? 1], longRests: true }] as const,
      ].map(([words, options]) => {
        const score = buildScore(piece, written, maps, reading, options);
        const xml = writeMusicXml(score, 'dense');
        const about = exportAbout(score);
        return `${name}, ${words}: ${elementsOf(xml)} #${hashOf(xml)} #${hashOf(JSON.stringify([score, about]))}`;
      });
    });
    await kept('pages', lines);
  });

  it('of how hard bars are to read', async () => {
    const lines = PIECES.flatMap(([name, make]) => {
      const piece = make();
      const maps = writtenMaps(piece);
      const written = piece.parts.map((part) => runPlan(part, piece.ppq, maps));
      const reading = readPitches(piece, written);
      return piece.parts.map((part) => {
        const bars = readabilityOf(piece, part, written, maps, reading);
        const worst = hardestBars(bars, 2).map((bar) => JSON.stringify(bar));
        return `${name}, ${part.name}: ${worst.join(' ')} #${hashOf(JSON.stringify(bars))}`;
      });
    });
    await kept('readability', lines);
  });

  it('of MIDI files, whole and damaged', async () => {
    const whole = demoMidi();
    const rough = writePlayedMidi(roughTakeInThree(3));
    const chance = createChance(77);
    const damaged = [whole, rough].flatMap((bytes, file) =>
      Array.from({ length: 60 }, (_, turn) => {
        const copy = bytes.slice(0, chance.chance(0.3) ? Math.floor(chance.next() * bytes.length) : bytes.length);
        const near = chance.chance(0.5) ? 120 : copy.length;
        for (let flip = 0; flip < 1 + (turn % 4); flip += 1)
          copy[Math.floor(chance.next() * near)] = Math.floor(chance.next() * 256);
        return [`file ${file + 1}, damage ${turn + 1}`, copy] as const;
      }),
    );
    const lines = [['file 1', whole] as const, ['file 2', rough] as const, ...damaged].map(([name, bytes]) => {
      const read = importMidi([{ name: 'Take.mid', bytes }]);
      if (!read.ok) return `${name}: ${read.problem.code}, ${read.problem.message}`;
      const { arrangement, warnings } = read.value;
      const parts = arrangement.parts.map((part) => `${part.name} ${part.notes.length}`);
      return `${name}: ${parts.join(', ')}; ${warnings.map(({ message }) => message).join(' ')} #${hashOf(JSON.stringify([arrangement, warnings]))}`;
    });
    const written = PIECES.map(([name, make]) => {
      const piece = make();
      const layers = piece.parts.map((part) => runPlan(part, piece.ppq, writtenMaps(piece)));
      const files = [writePlayedMidi(piece), writeWrittenMidi(piece, layers)];
      return `${name}: ${files.map((bytes) => `${bytes.length} bytes #${hashOf(bytes.join())}`).join(', ')}`;
    });
    await kept('midi', [...lines, ...written]);
  });
});
