/** The sound of the recording: fetched and decoded once, its peaks worked out, kept while its arrangement is open. */
import { type Attack, LARGEST_RECORDING, LONGEST_RECORDING, type Recording, SAMPLES_A_PEAK } from '@crispfold/core';
import { ApiProblem, api } from '../../../browser/api.js';
import type { Engines } from '../../../engine/engine.js';
import { recordingActions, type Sound } from '../../state/recordingSlice.js';
import type { Thunk } from '../desk.js';

/** All recordings are decoded to so many samples a second, whatever the sound card has. */
const RATE = 44_100;
const MINUTES = LONGEST_RECORDING / 60;

/** What a person reads where a file is not to be heard. */
class NotHeard extends Error {}

const notHeard = (name: string): NotHeard =>
  new NotHeard(
    `${name} could not be read as sound: it is damaged or cut, or no wav, flac, mp3 or ogg file. Nothing was added.`,
  );

/** How long a file says that it lasts, in seconds; found without decoding it. Infinity where it does not say. */
const lengthOf = (file: Blob): Promise<number> =>
  new Promise((resolve) => {
    const element = new Audio();
    const address = URL.createObjectURL(file);
    const done = (seconds: number) => {
      URL.revokeObjectURL(address);
      resolve(seconds);
    };
    element.preload = 'metadata';
    element.onloadedmetadata = () => done(element.duration);
    // The decoder has the last word on files that this one cannot read.
    element.onerror = () => done(Number.NaN);
    element.src = address;
  });

const decode = async (file: Blob, name: string): Promise<AudioBuffer> => {
  if (file.size > LARGEST_RECORDING)
    throw new NotHeard(`${name} is larger than ${LARGEST_RECORDING / 1024 / 1024} MB. Nothing was added.`);
  if (file.size === 0) throw new NotHeard(`${name} is empty (0 bytes). Nothing was added.`);
  const seconds = await lengthOf(file);
  if (seconds > LONGEST_RECORDING && Number.isFinite(seconds))
    throw new NotHeard(
      `${name} is longer than ${MINUTES} minutes. Cut out the piece that you need. Nothing was added.`,
    );
  const context = new OfflineAudioContext(1, 1, RATE);
  const buffer = await context.decodeAudioData(await file.arrayBuffer()).catch(() => {
    throw notHeard(name);
  });
  if (buffer.duration > LONGEST_RECORDING)
    throw new NotHeard(
      `${name} is longer than ${MINUTES} minutes. Cut out the piece that you need. Nothing was added.`,
    );
  if (buffer.length === 0) throw notHeard(name);
  return buffer;
};

/** All channels as one. */
const mixed = (buffer: AudioBuffer): Float32Array<ArrayBuffer> => {
  const sum = new Float32Array(buffer.length);
  for (let channel = 0; channel < buffer.numberOfChannels; channel += 1) {
    const own = buffer.getChannelData(channel);
    for (let at = 0; at < own.length; at += 1)
      sum[at] = (sum[at] as number) + (own[at] as number) / buffer.numberOfChannels;
  }
  return sum;
};

/** Makes a file into sound. Throws an error in a musician's words. */
export const soundOf = async (engines: Pick<Engines, 'keepSound'>, file: Blob, name: string): Promise<Sound> => {
  const buffer = await decode(file, name);
  const { key, peaks } = await engines.keepSound(mixed(buffer), buffer.sampleRate);
  const loudest = peaks.reduce((most, peak) => Math.max(most, Math.abs(peak)), 1);
  return { key, buffer, peaks, peaksPerSecond: buffer.sampleRate / SAMPLES_A_PEAK, loudest };
};

/** Keeps the sound of a recording that was just added. */
export const haveSound = (id: string, sound: Sound) => recordingActions.soundAdded({ kind: 'ready', id, sound });

/** Fetches the sound of a recording where it is not there or on its way. */
export const needSound =
  (arrangementId: string, { id, name }: Recording): Thunk =>
  (dispatch, getState, { page }) => {
    const known = getState().recording.sound;
    if (known.kind !== 'none' && known.id === id) return;
    dispatch(recordingActions.soundChanged({ kind: 'loading', id }));
    const still = () => {
      const now = getState().recording.sound;
      return now.kind === 'loading' && now.id === id;
    };
    void api
      .recording(arrangementId, id)
      .then((file) => soundOf(page.engines, file, name))
      .then(
        (sound) => still() && dispatch(recordingActions.soundChanged({ kind: 'ready', id, sound })),
        (error: Error) => {
          const inWords = error instanceof NotHeard || error instanceof ApiProblem;
          const message = inWords ? error.message : `${name} could not be read. Your notes are as they were.`;
          if (still()) dispatch(recordingActions.soundChanged({ kind: 'failed', id, message }));
        },
      );
  };

/** Looks for attacks; sensitivity from 0 to 1. */
export const lookForAttacks =
  (sensitivity: number): Thunk<Promise<readonly Attack[]>> =>
  async (dispatch, getState, { page }) => {
    const before = getState().recording.sound;
    if (before.kind !== 'ready') return [];
    const found = await page.engines.attacksOf(before.sound.key, sensitivity);
    if (getState().recording.sound === before) dispatch(recordingActions.attacksFound(found));
    return found;
  };
