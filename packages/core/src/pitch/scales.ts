/** Scales as semitones above their first step. */

/** The major scale. */
export const MAJOR_SCALE = [0, 2, 4, 5, 7, 9, 11] as const;

/** Scales that rows can be chosen by (common practice; the modes by their usual names). */
export const SCALES = {
  major: { name: 'major', steps: MAJOR_SCALE },
  minor: { name: 'minor', steps: [0, 2, 3, 5, 7, 8, 10] },
  harmonicMinor: { name: 'harmonic minor', steps: [0, 2, 3, 5, 7, 8, 11] },
  melodicMinor: { name: 'melodic minor, rising', steps: [0, 2, 3, 5, 7, 9, 11] },
  dorian: { name: 'dorian', steps: [0, 2, 3, 5, 7, 9, 10] },
  phrygian: { name: 'phrygian', steps: [0, 1, 3, 5, 7, 8, 10] },
  lydian: { name: 'lydian', steps: [0, 2, 4, 6, 7, 9, 11] },
  mixolydian: { name: 'mixolydian', steps: [0, 2, 4, 5, 7, 9, 10] },
  majorPentatonic: { name: 'major pentatonic', steps: [0, 2, 4, 7, 9] },
  minorPentatonic: { name: 'minor pentatonic', steps: [0, 3, 5, 7, 10] },
  wholeTone: { name: 'whole tone', steps: [0, 2, 4, 6, 8, 10] },
  octatonic: { name: 'octatonic', steps: [0, 1, 3, 4, 6, 7, 9, 10] },
} as const satisfies { readonly [id: string]: { readonly name: string; readonly steps: readonly number[] } };

/** The name of a scale. */
export type ScaleId = keyof typeof SCALES;
/** All of them, in the order screens list them. */
export const SCALE_IDS = Object.keys(SCALES) as ScaleId[];

/** The pitch classes (0 to 11) of a scale on a root (a pitch class). */
export const scalePitches = (scale: ScaleId, root: number): ReadonlySet<number> =>
  new Set(SCALES[scale].steps.map((step) => (step + root) % 12));

/** True where a pitch is in the signature of so many sharps (flats negative). */
export const inSignature = (pitch: number, fifths: number): boolean =>
  MAJOR_SCALE.some((step) => step === (((pitch - fifths * 7) % 12) + 12) % 12);
