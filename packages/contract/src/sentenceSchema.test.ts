import {
  CHANGE_KINDS,
  CONDITION_KINDS,
  newChange,
  newCondition,
  READY_SENTENCES,
  type Sentence,
} from '@crispfold/core';
import { describe, expect, it } from 'vitest';
import { sentencesFromFile, sentencesToFile } from './sentenceSchema.js';

const named = (name: string): Sentence => ({
  version: 1,
  name,
  key: 'q',
  lines: [{ where: [CONDITION_KINDS.map(newCondition)], do: CHANGE_KINDS.map(newChange) }],
});

describe('a file of sentences', () => {
  it('gives back the very sentences: each condition and each change, and the ready ones', () => {
    const all = [named('All'), ...READY_SENTENCES];
    expect(sentencesFromFile(sentencesToFile(all))).toEqual({ ok: true, sentences: all });
  });

  const messageFor = (change: (file: { version: unknown; sentences: Sentence[] }) => void): string => {
    const file = JSON.parse(sentencesToFile([named('One')]));
    change(file);
    const read = sentencesFromFile(JSON.stringify(file));
    return read.ok ? '' : read.message;
  };
  const line = (file: { sentences: unknown }) =>
    (
      file.sentences as {
        lines: { where: { kind: string; parameters: object }[][]; do: { kind: string; parameters: object }[] }[];
      }[]
    )[0]?.lines[0] as { where: { kind: string; parameters: object }[][]; do: { kind: string; parameters: object }[] };

  it('is refused in words where it is newer, damaged, or asks for what there is not', () => {
    expect(sentencesFromFile('{').ok).toBe(false);
    expect(sentencesFromFile('{"format":"other"}')).toMatchObject({ message: expect.stringContaining('no sentences') });
    expect(messageFor((file) => Object.assign(file, { version: 2 }))).toContain('newer than this Crisp Fold');
    expect(messageFor((file) => Object.assign(line(file).where[0]?.[0] ?? {}, { kind: 'colour' }))).toContain(
      'no such condition as "colour"',
    );
    expect(messageFor((file) => Object.assign(line(file).do[0] ?? {}, { kind: 'paint' }))).toContain(
      'no such change as "paint"',
    );
    expect(
      messageFor((file) => {
        const own = line(file).where[0]?.find(({ kind }) => kind === 'pitch');
        Object.assign(own ?? {}, { parameters: { from: -1, to: 60 } });
      }),
    ).toContain('cannot be used');
    expect(
      messageFor((file) => {
        const own = line(file).do.find(({ kind }) => kind === 'pitchList');
        Object.assign(own ?? {}, { parameters: { list: [[60, 200]] } });
      }),
    ).toContain('pairs of pitches');
    expect(messageFor((file) => Object.assign(line(file), { do: [] }))).toContain('needs something to do');
    expect(messageFor((file) => Object.assign(file.sentences[0] ?? {}, { key: 'ctrl+q' }))).toContain(
      'one letter or digit',
    );
    expect(messageFor((file) => Object.assign(file.sentences[0] ?? {}, { name: ' ' }))).toContain('needs a name');
  });
});
