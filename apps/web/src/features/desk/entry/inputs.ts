/** Where pitches come from while notes are entered: letters, the computer's keys laid out as a keyboard, a MIDI device. */

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

/** What a MIDI message says: a note struck, or let go; null for anything else. */
export const readNoteMessage = (
  data: ArrayLike<number>,
): { readonly pitch: number; readonly velocity: number; readonly on: boolean } | null => {
  const [status = 0, pitch = 0, velocity = 0] = [data[0], data[1], data[2]];
  const kind = status & 0xf0;
  if (kind !== 0x90 && kind !== 0x80) return null;
  return { pitch, velocity, on: kind === 0x90 && velocity > 0 };
};

/** What listening to MIDI devices came to, in words. */
export type Listening = { readonly words: string; readonly stop: () => void };

/** Listens to all MIDI devices of the browser; says why where it cannot. */
export const listenToDevices = async (
  onNote: (note: { readonly pitch: number; readonly velocity: number; readonly on: boolean }) => void,
): Promise<Listening> => {
  const nothing = () => {};
  if (!('requestMIDIAccess' in navigator))
    return {
      words: isSecureContext
        ? 'This browser has no MIDI: use the letters, or the keyboard here.'
        : 'MIDI devices want https, or localhost: use the letters, or the keyboard here.',
      stop: nothing,
    };
  try {
    const access = await navigator.requestMIDIAccess();
    const hear = ({ data }: MIDIMessageEvent) => {
      const note = data && readNoteMessage(data);
      if (note) onNote(note);
    };
    const inputs = [...access.inputs.values()];
    for (const input of inputs) input.onmidimessage = hear;
    return {
      words:
        inputs.length === 0
          ? 'No MIDI device is connected.'
          : `Listening to ${inputs.map(({ name }) => name).join(', ')}.`,
      stop: () => {
        for (const input of inputs) input.onmidimessage = null;
      },
    };
  } catch {
    return { words: 'The browser does not let MIDI devices be heard here.', stop: nothing };
  }
};
