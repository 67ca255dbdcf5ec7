/** Standard MIDI Files put together byte by byte, so that reading is tested against the format and not our own writer. */

/** Bytes of text. */
export const text = (value: string): number[] => [...value].map((letter) => letter.charCodeAt(0));
const fourBytes = (value: number): number[] => [
  (value >>> 24) & 255,
  (value >>> 16) & 255,
  (value >>> 8) & 255,
  value & 255,
];

/** A header chunk; `division` as its two bytes say. */
export const header = (format: number, tracks: number, division: number): number[] => [
  ...text('MThd'),
  ...fourBytes(6),
  0,
  format,
  0,
  tracks,
  (division >> 8) & 255,
  division & 255,
];

/** End of track, straight away. */
export const END = [0, 0xff, 0x2f, 0];

/** A track chunk; `length` lies where it is given. */
export const track = (data: readonly number[], length = data.length): number[] => [
  ...text('MTrk'),
  ...fourBytes(length),
  ...data,
];

/** A whole file. */
export const file = (...chunks: readonly (readonly number[])[]): Uint8Array => Uint8Array.from(chunks.flat());

/** A file of one track at 96 ticks to the quarter. */
export const oneTrack = (data: readonly number[]): Uint8Array => file(header(0, 1, 96), track([...data, ...END]));
