/** What a module holds by itself would be shared by all that is opened in a tab: the screens hold their state in a store, or in what is handed down. */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');

const sources = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter(
  (name) => /\.tsx?$/.test(name) && !/\.test\.|\.d\.ts$/.test(name),
);

/** Lines at the top of a module that make something which changes. */
const CHANGING = [
  /^(export )?(let|var) /,
  /^(export )?const \w+(: [^=]+)? = createValueStore\b/,
  /^(export )?const \w+(: [^=]+)? = new (Map|Set|WeakMap|WeakSet)(<[^(]*>)?\(\)/,
  /^(export )?const \w+(: [^=]+)? = new (?!Map\b|Set\b)[A-Z]\w+\(/,
];
/** What does not change: the language's own, and what is said to be read only. */
const PLAIN = /new Intl\.|: Readonly(Map|Set)</;

describe('modules of the screens', () => {
  it('hold no state of their own', () => {
    const found = sources.flatMap((name) =>
      readFileSync(path.join(root, name), 'utf8')
        .split('\n')
        .filter((line) => CHANGING.some((changing) => changing.test(line)) && !PLAIN.test(line))
        .map((line) => `${name}: ${line}`),
    );
    expect(found).toEqual([]);
  });

  it('are looked at: a store of values is told', () => {
    expect(sources.length).toBeGreaterThan(250);
    const lines = [
      'let last = 3;',
      'export const hint = createValueStore("");',
      'const known = new WeakMap<A, B>();',
      'export const player = new Player();',
    ];
    for (const line of lines) expect(CHANGING.some((changing) => changing.test(line))).toBe(true);
    expect(CHANGING.some((changing) => changing.test("const KEYS = new Set(['a']);"))).toBe(false);
  });
});
