import { demoArrangement, type Part } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { draftOf, sharedWith, startOf, whyInstrument, withInstrument } from './partModel.js';

const [flute] = demoArrangement().parts as unknown as [Part];

describe('the settings of a part', () => {
  it('begin as they are, and start with what was changed', () => {
    const draft = draftOf(flute);
    expect(draft).toEqual({ name: flute.name, instrument: 'flute', channel: flute.channel, start: {} });
    expect(startOf(flute, { ...draft, start: { pan: 20, volume: null } })).toMatchObject({
      program: 73,
      pan: 20,
      volume: null,
    });
  });

  it('take the program of an instrument that is chosen, and keep one that it has', () => {
    const oboe = withInstrument(draftOf(flute), flute, 'oboe');
    expect([oboe.instrument, oboe.start]).toEqual(['oboe', { program: 68 }]);
    const back = withInstrument(draftOf(flute), flute, 'flute');
    expect(back.start).toEqual({});
    const panned = withInstrument({ ...draftOf(flute), start: { pan: 3 } }, flute, 'oboe');
    expect(panned.start).toEqual({ pan: 3, program: 68 });
  });

  it('say why the instrument is what it is', () => {
    const named: Part = { ...flute, instrumentFrom: 'name', trackName: 'Fl. 1' };
    expect(whyInstrument(named, draftOf(named))).toBe('as its name says; the file calls it “Fl. 1”');
    expect(whyInstrument(named, { ...draftOf(named), instrument: 'oboe' })).toMatch(/^chosen by you; /);
    const own = { ...named, instrumentFrom: undefined, trackName: undefined } as unknown as Part;
    expect(whyInstrument(own, draftOf(own))).toBe('chosen by you');
  });

  it('name three that share the channel', () => {
    expect(sharedWith([])).toBeNull();
    expect(sharedWith(['Oboe', 'Horn', 'Harp'])).toBe('shared with Oboe, Horn, Harp: program and controllers are one');
    expect(sharedWith(['Oboe', 'Horn', 'Harp', 'Cello', 'Viola'])).toContain('Oboe, Horn, Harp and 2 more:');
  });
});
