/** The worker that runs the plan. */
import { expose } from 'comlink';
import { applyNamingOfWorker } from '../browser/naming.js';
import { createDeskWorker } from './deskDoor.js';

applyNamingOfWorker();
expose(createDeskWorker());
