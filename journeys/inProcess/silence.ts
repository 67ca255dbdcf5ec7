/** Tone.js where nothing sounds: its clock runs, and what is played is remembered. */

/** What was asked of the voices, newest last. */
export const played: string[] = [];

/** The audio clock, in seconds, as the page's own. */
const now = (): number => performance.now() / 1000;

class SilentContext {
  state = 'running';
  get currentTime(): number {
    return now();
  }
  getOutputTimestamp() {
    return { contextTime: now(), performanceTime: performance.now() };
  }
  async suspend() {
    this.state = 'suspended';
  }
  async resume() {
    this.state = 'running';
  }
  async close() {
    this.state = 'closed';
  }
}
let context = new SilentContext();

/** A voice or what it is led through: all of them take all that is asked of any. */
class SilentNode {
  maxPolyphony = 0;
  toDestination() {
    return this;
  }
  connect() {
    return this;
  }
  triggerAttackRelease(...asked: unknown[]) {
    played.push(`play ${asked.join(' ')}`);
  }
  triggerAttack(...asked: unknown[]) {
    played.push(`strike ${asked.join(' ')}`);
  }
  triggerRelease(...asked: unknown[]) {
    played.push(`let go ${asked.join(' ')}`);
  }
  releaseAll() {
    return this;
  }
  dispose() {
    return this;
  }
}

/** As much of the module `tone` as the built-in sounds and the player ask of it. */
export const silentTone = {
  setContext: (given: SilentContext) => {
    context = given;
  },
  getContext: () => ({ rawContext: context }),
  start: async () => context.resume(),
  now,
  immediate: now,
  Synth: SilentNode,
  PolySynth: SilentNode,
  MembraneSynth: SilentNode,
  NoiseSynth: SilentNode,
  Filter: SilentNode,
};

Object.defineProperty(globalThis, 'AudioContext', { value: SilentContext, configurable: true });
