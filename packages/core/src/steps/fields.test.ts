import { describe, expect, it } from 'vitest';
import { milliseconds, noteValue } from '../time/noteLengths.js';
import { fieldsOf, fieldTakes, valuesOf, withValues } from './fields.js';
import { isStepId, planStep } from './registry.js';

describe('what a field takes', () => {
  it.each([
    ['a choice that there is', { kind: 'choice', label: 'To', choices: [{ value: 'a', label: 'A' }] }, 'a', 'b'],
    ['a length in note values', { kind: 'length', label: 'Gap' }, noteValue(1 / 8), { unit: 'beats', value: 1 }],
    ['a length in milliseconds', { kind: 'length', label: 'Gap' }, milliseconds(20), { unit: 'ms', value: -1 }],
    ['a length in ticks', { kind: 'length', label: 'Gap' }, { unit: 'ticks', value: 0 }, { unit: 'ticks', value: '3' }],
    ['none where there is one', { kind: 'length', label: 'Gap', none: 'any' }, null, undefined],
    ['a length, not none', { kind: 'length', label: 'Gap' }, milliseconds(0), null],
    ['lengths, one at least', { kind: 'lengths', label: 'Shorter' }, [milliseconds(2)], []],
    ['lengths and nothing else', { kind: 'lengths', label: 'Shorter' }, [noteValue(1)], [milliseconds(2), 3]],
    ['a number up to its bounds', { kind: 'number', label: 'N', min: 1, max: 9 }, 9, 10],
    ['a number down to its bounds', { kind: 'number', label: 'N', min: 1, max: 9 }, 1, 0],
    ['no number where none is said', { kind: 'number', label: 'N', min: 1, max: 9, none: 'any' }, null, 'any'],
    ['a number, not none', { kind: 'number', label: 'N', min: 1, max: 9 }, 5, null],
    ['on and off', { kind: 'switch', label: 'S' }, false, 0],
    ['no feel', { kind: 'feel', label: 'F', none: 'none' }, null, { name: 'Half a feel' }],
    ['a part by its id', { kind: 'part', label: 'P' }, 0, -1],
    ['a part, whole', { kind: 'part', label: 'P' }, 3, 1.5],
  ] as const)('%s', (_, field, good, bad) => {
    expect(fieldTakes(field, good)).toBe(true);
    expect(fieldTakes(field, bad)).toBe(false);
  });

  it('is set by name, and what is not named stays', () => {
    const item = planStep('quantizeEnds');
    const [[name, field] = []] = fieldsOf('quantizeEnds');
    expect(name && name in valuesOf(item)).toBe(true);
    const [other] = field?.kind === 'choice' ? field.choices.slice(-1) : [];
    const changed = withValues(item, { [name as string]: other?.value });
    expect(valuesOf(changed)).toEqual({ ...valuesOf(item), [name as string]: other?.value });
    expect(() => withValues(item, { [name as string]: 'nothing of the kind' })).toThrow(RangeError);
  });
});

describe('ids of steps', () => {
  it('are the names of steps, and nothing else', () => {
    expect(isStepId('merge')).toBe(true);
    for (const other of ['toString', 'Merge', '', 3, null, undefined, ['merge']]) expect(isStepId(other)).toBe(false);
  });
});
