/** Where pitches come from while notes are entered or played in: letters, the computer's keys laid out as a keyboard, a MIDI device. */
import type { TakenMessage } from '@crispfold/core';

/** The computer's keys as a keyboard: semitones above C, by the place of the key, whatever letter it has. */
const AS_KEYBOARD: { readonly [code: string]: number } = {
  KeyA: 0,
  KeyW: 1,
  KeyS: 2,
  KeyE: 3,
  KeyD: 4,
  KeyF: 5,
  KeyT: 6,
  KeyG: 7,
  KeyY: 8,
  KeyH: 9,
  KeyU: 10,
  KeyJ: 11,
  KeyK: 12,
  KeyO: 13,
  KeyL: 14,
  KeyP: 15,
  Semicolon: 16,
};

/** Semitones above C of a key, laid out as a keyboard; undefined for the others. */
export const semitonesOfKey = (code: string): number | undefined => AS_KEYBOARD[code];

/** What a device says, with the time stamp of its event in milliseconds of the page: when it was played, not when it came. */
export type Heard =
  | {
      readonly kind: 'note';
      readonly pitch: number;
      readonly velocity: number;
      readonly on: boolean;
      readonly at: number;
    }
  | { readonly kind: 'message'; readonly message: TakenMessage; readonly at: number };

/** What a MIDI message says (MIDI 1.0, channel voice messages); null for what is not used here. */
export const readMessage = (data: ArrayLike<number>, at: number): Heard | null => {
  const [status = 0, first = 0, second = 0] = [data[0], data[1], data[2]];
  switch (status & 0xf0) {
    case 0x80:
      return { kind: 'note', pitch: first, velocity: 0, on: false, at };
    case 0x90:
      return { kind: 'note', pitch: first, velocity: second, on: second > 0, at };
    case 0xb0:
      return first >= 120
        ? null
        : { kind: 'message', message: { kind: 'controller', controller: first, value: second }, at };
    case 0xd0:
      return { kind: 'message', message: { kind: 'channelPressure', value: first }, at };
    case 0xe0:
      return { kind: 'message', message: { kind: 'pitchBend', value: first + 128 * second }, at };
    default:
      return null;
  }
};

/** What listening to MIDI devices came to, in words. */
export interface Listening {
  readonly words: string;
  readonly stop: () => void;
}

const NOTHING = (): void => {};

/** Listens to all MIDI devices of the browser, also to those connected later; says why where it cannot. */
export const listenToDevices = async (
  onHeard: (heard: Heard) => void,
  onWords: (words: string) => void,
): Promise<Listening> => {
  if (!('requestMIDIAccess' in navigator))
    return {
      words: isSecureContext
        ? 'This browser has no MIDI: use the letters, or the keyboard here.'
        : 'MIDI devices want https, or localhost: use the letters, or the keyboard here.',
      stop: NOTHING,
    };
  try {
    const access = await navigator.requestMIDIAccess();
    const hear = ({ data, timeStamp }: MIDIMessageEvent) => {
      const heard = data && readMessage(data, timeStamp);
      if (heard) onHeard(heard);
    };
    const inputs = () => [...access.inputs.values()];
    const words = () => {
      const names = inputs().map(({ name }) => name);
      return names.length === 0 ? 'No MIDI device is connected.' : `Listening to ${names.join(', ')}.`;
    };
    const listen = (listener: typeof hear | null) => {
      for (const input of inputs()) input.onmidimessage = listener;
    };
    access.onstatechange = () => {
      listen(hear);
      onWords(words());
    };
    listen(hear);
    return {
      words: words(),
      stop: () => {
        access.onstatechange = null;
        listen(null);
      },
    };
  } catch {
    return { words: 'The browser does not let MIDI devices be heard here.', stop: NOTHING };
  }
};
