/** Puts the demo into the library, with its recording beside it; and its prelude, which was played with no click. */
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { DEMO_LEAD_IN, demoArrangement, demoRecording, preludeArrangement } from '@crispfold/core';
import type { ArrangementStore } from './arrangementStore.js';
import type { RecordingStore } from './keeping/recordingStore.js';
import { newId } from './newId.js';

/** The demo's id. Its recording lies where it was played, and is silent until somebody wants to hear it. */
export const createDemo = async (
  store: ArrangementStore,
  recordings: RecordingStore,
  workFolder: string,
): Promise<string> => {
  await store.create(preludeArrangement());
  const { name, bytes, seconds } = demoRecording();
  const beside = { id: newId(), name, seconds, offset: -DEMO_LEAD_IN, level: 0.7, muted: true };
  const id = await store.create({ ...demoArrangement(), recording: beside });
  const file = path.join(workFolder, 'take.wav');
  await writeFile(file, bytes);
  await recordings.keep(id, file, beside.id);
  return id;
};
