/** The worker for recordings. */
import { expose } from 'comlink';
import { createSoundWorker } from './sounding.js';

expose(createSoundWorker());
