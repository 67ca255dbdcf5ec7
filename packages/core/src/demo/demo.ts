/** The demo arrangement: the piece, performed, written to a MIDI file and read back as any recording would be. */
import { type Imported, importMidi } from '../midi/importMidi.js';
import { writePlayedMidi } from '../midi/writeMidi.js';
import { atOwnTempo, freely } from './freeTempo.js';
import { DEMO_PERFORMANCE, perform } from './performer.js';
import { lanternPrelude, PRELUDE_BARS } from './prelude.js';
import { saltmarshLanterns } from './saltmarshLanterns.js';

/** Bytes of the demo's recording, one track a part. */
export const demoMidi = (): Uint8Array => writePlayedMidi(perform(saltmarshLanterns(), DEMO_PERFORMANCE));

/**
 * Bytes of the prelude's recording: played with no click, each phrase pressing on and holding back, in a file that says
 * what a recorder says that nobody told otherwise, 120 quarters a minute.
 */
export const preludeMidi = (): Uint8Array => {
  const score = lanternPrelude();
  const seed = DEMO_PERFORMANCE.seed + 1;
  const played = perform(score, { ...DEMO_PERFORMANCE, seed });
  return writePlayedMidi(atOwnTempo(played, freely(seed, 4, 4 * PRELUDE_BARS), 120));
};

const readIn = (name: string, bytes: Uint8Array): Imported['arrangement'] => {
  const result = importMidi([{ name, bytes }]);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value.arrangement;
};

/** The demo as it stands in the library. */
export const demoArrangement = (): Imported['arrangement'] => readIn('Saltmarsh Lanterns.mid', demoMidi());

/** Its prelude, as it stands there. */
export const preludeArrangement = (): Imported['arrangement'] => readIn('Lantern Prelude.mid', preludeMidi());
