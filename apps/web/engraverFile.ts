/** Takes the engraver's code out of the script that holds it as one long text, into a file that browsers compile as it comes. */
import { runInNewContext } from 'node:vm';
import type { Plugin } from 'vite';

/** The text, in which a zero byte is the letter 256. */
const TEXT = /function findWasmBinary\(\)\{return binaryDecode\(('(?:[^'\\]|\\[\s\S])*')\)\}/;
const START = /async function instantiateAsync\(binary,binaryFile,imports\)\{[^{}]*\}/;

/** Made once: the workers that engrave share one file. */
let code: Uint8Array | undefined;
const decoded = (literal: string): Uint8Array =>
  Uint8Array.from(runInNewContext(literal) as string, (letter) => letter.charCodeAt(0) & 255);

/** The plugin; throws at the build where the engraver's script is not as it was. */
export const engraverFile = (): Plugin => ({
  name: 'engraver-file',
  apply: 'build',
  transform(script, id) {
    if (!/verovio-module\.mjs$/.test(id)) return null;
    const literal = TEXT.exec(script)?.[1];
    if (literal === undefined || !START.test(script)) throw new Error('The engraver’s script is not as it was.');
    code ??= decoded(literal);
    const file = this.emitFile({ type: 'asset', name: 'engraver.wasm', source: code });
    return {
      code: script
        .replace(TEXT, () => 'function findWasmBinary(){}')
        .replace(
          START,
          () =>
            `function instantiateAsync(binary,binaryFile,imports){return WebAssembly.instantiateStreaming(fetch(import.meta.ROLLUP_FILE_URL_${file}),imports)}`,
        ),
      map: null,
    };
  },
});
