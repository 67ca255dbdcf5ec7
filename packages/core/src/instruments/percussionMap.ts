/** General MIDI 1 percussion keys: names, and where they stand on a five-line staff (common practice, e.g. Weinberg 1998). */

/** How one percussion sound is written. */
export interface PercussionSound {
  readonly name: string;
  /** Staff place as a treble-clef pitch. */
  readonly step: string;
  readonly octave: number;
  readonly notehead: 'normal' | 'x' | 'diamond' | 'triangle' | 'slash';
}

const sound = (name: string, place: string, notehead: PercussionSound['notehead'] = 'normal'): PercussionSound => ({
  name,
  step: place.charAt(0),
  octave: Number(place.charAt(1)),
  notehead,
});

const SOUNDS: { readonly [key: number]: PercussionSound } = {
  35: sound('Acoustic bass drum', 'E4'),
  36: sound('Bass drum 1', 'F4'),
  37: sound('Side stick', 'C5', 'x'),
  38: sound('Acoustic snare', 'C5'),
  39: sound('Hand clap', 'C5', 'slash'),
  40: sound('Electric snare', 'C5'),
  41: sound('Low floor tom', 'G4'),
  42: sound('Closed hi-hat', 'G5', 'x'),
  43: sound('High floor tom', 'A4'),
  44: sound('Pedal hi-hat', 'D4', 'x'),
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

/** How a percussion key (0 to 127) is named and written; keys outside the General MIDI table stand on the middle line. */
export const percussionSound = (key: number): PercussionSound => SOUNDS[key] ?? sound(`Percussion ${key}`, 'B4');
