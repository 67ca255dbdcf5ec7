import { type PercussionMap, percussionSound } from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { percussionMapFromFile, percussionMapToFile } from './percussionSchema.js';

const MAP: PercussionMap = [
  { sound: 36, ...percussionSound(36) },
  { sound: 84, name: 'Bell tree', step: 'A', octave: 5, notehead: 'triangle', voice: 1 },
];

describe('a file of a percussion map', () => {
  it('gives back the very map', () => {
    expect(percussionMapFromFile(percussionMapToFile(MAP))).toEqual({ ok: true, map: MAP });
  });

  const messageFor = (change: (file: { version: number; sounds: object[] }) => void): string => {
    const file = JSON.parse(percussionMapToFile(MAP));
    change(file);
    const read = percussionMapFromFile(JSON.stringify(file));
    return read.ok ? '' : read.message;
  };

  it('is refused in words where it is something else, newer, or damaged', () => {
    expect(percussionMapFromFile('{')).toMatchObject({ message: 'This is not a percussion map: it is not JSON.' });
    expect(percussionMapFromFile('{"format":"crisp-fold-plan"}').ok).toBe(false);
    expect(messageFor((file) => Object.assign(file, { version: 2 }))).toContain('newer than this Crisp Fold');
    expect(messageFor(({ sounds }) => sounds.push({ ...sounds[0] }))).toContain('twice');
    expect(messageFor(({ sounds }) => Object.assign(sounds[0] as object, { sound: 128 }))).toContain('127');
    expect(messageFor(({ sounds }) => Object.assign(sounds[0] as object, { voice: 3 }))).toContain('voice');
    expect(messageFor(({ sounds }) => Object.assign(sounds[0] as object, { notehead: 'star' }))).toContain('notehead');
    expect(messageFor(({ sounds }) => Object.assign(sounds[0] as object, { name: ' ' }))).toContain('name');
    expect(messageFor((file) => Object.assign(file, { sounds: [] }))).toContain('no sounds');
  });
});
