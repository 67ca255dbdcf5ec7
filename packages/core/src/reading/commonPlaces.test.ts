import { describe, expect, it } from 'vitest';
import { instrumentById } from '../instruments/instruments.js';
import { contextIn, note } from '../testing/kit.js';
import { commonPlaces } from './commonPlaces.js';
import type { OtherPart, StepContext } from './context.js';

const flute = instrumentById('flute');
const piano = instrumentById('piano');
const own = contextIn();
const notes = [note(60, 10, 400), note(64, 490, 400)];

/** Reads every attack at its beat, and keeps whose rule it was read by. */
const reading = () => {
  const rules: string[] = [];
  const hear = (parts: readonly Pick<OtherPart, 'instrument' | 'notes'>[], context: StepContext = own) =>
    commonPlaces(
      { ...context, otherParts: () => parts.map((part) => ({ name: '', ...part })) },
      (attacks, { instrument }) => {
        rules.push(instrument.id);
        return attacks.map(({ onset }) => Math.round(onset / 480) * 480);
      },
    );
  return { rules, hear };
};

describe('where other parts begin', () => {
  it('is counted by place; a part without notes is none', () => {
    const { hear } = reading();
    const heard = hear([
      { instrument: flute, notes },
      { instrument: piano, notes: [note(70, 470, 300)] },
      { instrument: flute, notes: [] },
    ]);
    expect([0, 480, 960].map((place) => heard?.partsAt(place))).toEqual([1, 2, 0]);
    expect(hear([{ instrument: flute, notes: [] }])).toBeNull();
  });

  it('is read as each part’s own instrument is played, whoever asks first, and once', () => {
    const { rules, hear } = reading();
    const others = [
      { instrument: piano, notes: [...notes] },
      { instrument: flute, notes: [...notes] },
    ];
    hear(others);
    hear(others, { ...own, instrument: piano });
    expect(rules).toEqual(['piano', 'flute']);
    const [first] = others;
    if (first) hear([{ ...first, instrument: flute }]);
    expect(rules).toEqual(['piano', 'flute', 'flute']);
  });
});
