/** A cursor over bytes that never reads past its end: it throws {@link EndOfData} instead, which the reader catches. */

/** Thrown where a chunk ends in the middle of a message. */
export class EndOfData extends Error {}

/** Big-endian reading as the Standard MIDI File 1.0 asks. */
export class ByteReader {
  constructor(
    private readonly bytes: Uint8Array,
    public position = 0,
    readonly end = bytes.length,
  ) {}

  get atEnd(): boolean {
    return this.position >= this.end;
  }

  /** The next byte, 0 to 255. */
  byte(): number {
    if (this.position >= this.end) throw new EndOfData();
    return this.bytes[this.position++] as number;
  }

  /** A whole number of `count` bytes, most significant first. */
  number(count: number): number {
    let value = 0;
    for (let index = 0; index < count; index += 1) value = value * 256 + this.byte();
    return value;
  }

  /** A variable-length quantity: seven bits a byte, at most four bytes (SMF 1.0). */
  variableLength(): number {
    let value = 0;
    for (let index = 0; index < 4; index += 1) {
      const byte = this.byte();
      value = value * 128 + (byte & 0x7f);
      if (byte < 0x80) return value;
    }
    throw new EndOfData();
  }

  /** The next `count` bytes. */
  take(count: number): Uint8Array {
    if (count > this.end - this.position) throw new EndOfData();
    const taken = this.bytes.subarray(this.position, this.position + count);
    this.position += count;
    return taken;
  }
}

const utf8 = new TextDecoder('utf-8', { fatal: true });

/** Text of a file: UTF-8, else Latin-1. */
export const decodeText = (bytes: Uint8Array): string => {
  try {
    return utf8.decode(bytes);
  } catch {
    let text = '';
    for (const byte of bytes) text += String.fromCharCode(byte);
    return text;
  }
};
