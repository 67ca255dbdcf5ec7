/** What the player asks of sounds, whatever makes them. Times are seconds of the audio clock. */
import type { Part, PartId, SoundEvent } from '@crispfold/core';

/** One part's sound. */
export interface PartSound {
  /** Velocity 1 to 127. */
  play(pitch: number, at: number, until: number, velocity: number): void;
  /** A key goes down, and sounds until it is let go. */
  strike(pitch: number, at: number, velocity: number): void;
  letGo(pitch: number, at: number): void;
  /** A controller, a bend, a program, pressure. */
  change(event: SoundEvent, at: number): void;
}

/** The sounds of all parts. */
export interface Sounds {
  /** Makes them ready for a beginning: each part in its first program, all controllers at rest. */
  prepare(parts: readonly Part[]): void;
  of(partId: PartId): PartSound | undefined;
  /** Hands on what ends before a time. Asked often. */
  turn(until: number): void;
  /** All that sounds ends now, and nothing that was to end is left over. */
  stopAll(): void;
  /** As {@link stopAll}, by force. */
  panic(): void;
  dispose(): void;
}
