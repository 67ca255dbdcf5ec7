/** Engraves long scores: a worker of its own, so that the strip under the roll never waits for one. */
import { expose } from 'comlink';
import { VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';
import { createScorePages } from './scorePages.js';

const toolkit = createVerovioModule().then((module: unknown) => new VerovioToolkit(module));

expose(createScorePages(() => toolkit));
