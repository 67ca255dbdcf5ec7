/**
 * Entries of a zip, counted while they are inflated: what a zip says of its own sizes is not believed (PKWARE, APPNOTE.TXT).
 * Source of the danger: D. Fifield, "A better zip bomb", WOOT 2019.
 */
import { Unzip, UnzipInflate, UnzipPassThrough } from 'fflate';

/** Thrown where a zip holds more than may be unpacked of it. */
export class UnpacksTooLarge extends Error {}

/** Thrown where a zip ends too soon, is damaged, or is packed in a way that is not read. */
export class DamagedZip extends Error {}

/** So many packed bytes are looked at in one go: a thousandfold of it may come out at once. */
const PIECE = 8 * 1024;
/** More files than any zip of ours or a score has. */
const MOST_ENTRIES = 1000;

/** What is taken out of a zip. */
export interface UnzipOptions {
  /** Which entries are taken out; the others are passed over. */
  readonly wanted: (name: string) => boolean;
  /** The most bytes that all entries together may unpack to, those passed over among them. */
  readonly most: number;
  /** Told how many bytes came out; it may throw. */
  readonly onBytes?: (count: number) => void;
}

/** The wanted entries by name. Throws {@link UnpacksTooLarge} and {@link DamagedZip}. */
export const unzip = (
  bytes: Uint8Array,
  { wanted, most, onBytes }: UnzipOptions,
): { readonly [name: string]: Uint8Array } => {
  const found: { [name: string]: Uint8Array } = Object.create(null);
  let total = 0;
  let entries = 0;
  let problem: Error | null = null;
  const stop = (error: Error): never => {
    problem ??= error;
    throw error;
  };
  const reader = new Unzip((file) => {
    entries += 1;
    if (entries > MOST_ENTRIES) stop(new UnpacksTooLarge());
    const pieces: Uint8Array[] = [];
    let own = 0;
    const isWanted = wanted(file.name);
    file.ondata = (error, piece, final) => {
      // What was thrown below comes here once more.
      if (problem) throw problem;
      if (error) stop(new DamagedZip());
      total += piece.length;
      own += piece.length;
      if (total > most) stop(new UnpacksTooLarge());
      try {
        onBytes?.(piece.length);
      } catch (thrown) {
        stop(thrown as Error);
      }
      if (!isWanted) return;
      if (piece.length > 0) pieces.push(piece);
      if (final) found[file.name] = joined(pieces, own);
    };
    file.start();
  });
  reader.register(UnzipInflate);
  reader.register(UnzipPassThrough);
  try {
    for (let at = 0; at < bytes.length; at += PIECE) {
      reader.push(bytes.subarray(at, at + PIECE), at + PIECE >= bytes.length);
      if (problem) throw problem;
    }
  } catch (error) {
    if (problem) throw problem;
    // The reader's own errors have a code, and say damage.
    throw (error as { code?: unknown }).code === undefined ? error : new DamagedZip();
  }
  if (entries === 0) throw new DamagedZip();
  return found;
};

/** The pieces in one; the list is emptied on the way, so that not all of it is there twice. */
const joined = (pieces: Uint8Array[], length: number): Uint8Array => {
  const whole = new Uint8Array(length);
  let at = 0;
  for (const piece of pieces.splice(0)) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
};
