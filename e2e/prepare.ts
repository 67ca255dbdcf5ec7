/** Before all browser tests: makes the database with the demo once, so that each test begins with a copy of it. */
import { mkdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import { READY_DATABASE, Server } from './browser.js';

export default async (): Promise<void> => {
  rmSync(path.dirname(READY_DATABASE), { recursive: true, force: true });
  mkdirSync(path.dirname(READY_DATABASE), { recursive: true });
  const server = new Server(READY_DATABASE);
  await server.start();
  await server.stop();
};
