/** The worker that engraves. */
import { expose } from 'comlink';
import { createEngraver } from './engraver.js';

expose(createEngraver());
