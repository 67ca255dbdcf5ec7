/**
 * How percussion sounds are named and written. At first by General MIDI 1: names, and places on a five-line staff (common
 * practice, e.g. Weinberg 1998); a part may have a map of its own, which says otherwise for single sounds.
 */

import type { Notehead, PercussionMap, PercussionSound } from '../model/percussionMap.js';

/** The map of a part that has none of its own. */
export const GENERAL_MIDI_MAP: PercussionMap = [];

const sound = (
  name: string,
  place: string,
  notehead: Notehead = 'normal',
  voice: PercussionSound['voice'] = 1,
): PercussionSound => ({
  name,
  step: place.charAt(0) as PercussionSound['step'],
  octave: Number(place.charAt(1)),
  notehead,
  voice,
});

const SOUNDS: { readonly [key: number]: PercussionSound } = {
  35: sound('Acoustic bass drum', 'E4', 'normal', 2),
  36: sound('Bass drum 1', 'F4', 'normal', 2),
  37: sound('Side stick', 'C5', 'x'),
  38: sound('Acoustic snare', 'C5'),
  39: sound('Hand clap', 'C5', 'slash'),
  40: sound('Electric snare', 'C5'),
  41: sound('Low floor tom', 'G4'),
  42: sound('Closed hi-hat', 'G5', 'x'),
  43: sound('High floor tom', 'A4'),
  44: sound('Pedal hi-hat', 'D4', 'x', 2),
  45: sound('Low tom', 'B4'),
  46: sound('Open hi-hat', 'G5', 'diamond'),
  47: sound('Low-mid tom', 'D5'),
  48: sound('Hi-mid tom', 'D5'),
  49: sound('Crash cymbal 1', 'A5', 'x'),
  50: sound('High tom', 'E5'),
  51: sound('Ride cymbal 1', 'F5', 'x'),
  52: sound('Chinese cymbal', 'B5', 'x'),
  53: sound('Ride bell', 'F5', 'diamond'),
  54: sound('Tambourine', 'B4', 'x'),
  55: sound('Splash cymbal', 'B5', 'x'),
  56: sound('Cowbell', 'E5', 'triangle'),
  57: sound('Crash cymbal 2', 'A5', 'x'),
  58: sound('Vibraslap', 'B4', 'x'),
  59: sound('Ride cymbal 2', 'F5', 'x'),
  60: sound('Hi bongo', 'D5'),
  61: sound('Low bongo', 'B4'),
  62: sound('Mute hi conga', 'D5', 'x'),
  63: sound('Open hi conga', 'D5'),
  64: sound('Low conga', 'B4'),
  65: sound('High timbale', 'D5'),
  66: sound('Low timbale', 'B4'),
  67: sound('High agogo', 'D5', 'triangle'),
  68: sound('Low agogo', 'B4', 'triangle'),
  69: sound('Cabasa', 'B4', 'x'),
  70: sound('Maracas', 'B4', 'x'),
  71: sound('Short whistle', 'D5', 'x'),
  72: sound('Long whistle', 'B4', 'x'),
  73: sound('Short guiro', 'D5', 'slash'),
  74: sound('Long guiro', 'B4', 'slash'),
  75: sound('Claves', 'B4', 'x'),
  76: sound('Hi wood block', 'D5', 'triangle'),
  77: sound('Low wood block', 'B4', 'triangle'),
  78: sound('Mute cuica', 'D5', 'x'),
  79: sound('Open cuica', 'D5'),
  80: sound('Mute triangle', 'B4', 'triangle'),
  81: sound('Open triangle', 'B4', 'triangle'),
};

/**
 * How a sound (MIDI key, 0 to 127) is named and written: as the part's map says, else by General MIDI. Keys outside both
 * stand on the middle line under their number.
 */
export const percussionSound = (key: number, map: PercussionMap = GENERAL_MIDI_MAP): PercussionSound =>
  map.find((row) => row.sound === key) ?? SOUNDS[key] ?? sound(`Percussion ${key}`, 'B4');

/** True where the map, or General MIDI, says how a sound is written. */
export const hasPlace = (key: number, map: PercussionMap = GENERAL_MIDI_MAP): boolean =>
  key in SOUNDS || map.some((row) => row.sound === key);
