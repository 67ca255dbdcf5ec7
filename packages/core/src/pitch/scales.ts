/** Scales as semitones above their first step. */

/** The major scale. */
export const MAJOR_SCALE = [0, 2, 4, 5, 7, 9, 11] as const;

/** True where a pitch is in the signature of so many sharps (flats negative). */
export const inSignature = (pitch: number, fifths: number): boolean =>
  MAJOR_SCALE.some((step) => step === (((pitch - fifths * 7) % 12) + 12) % 12);
