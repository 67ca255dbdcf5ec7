/** The demo arrangement: the piece, performed, written to a MIDI file and read back as any recording would be. */
import { type Imported, importMidi } from '../midi/importMidi.js';
import { writePlayedMidi } from '../midi/writeMidi.js';
import { DEMO_PERFORMANCE, perform } from './performer.js';
import { saltmarshLanterns } from './saltmarshLanterns.js';

/** Bytes of the demo's recording, one track a part. */
export const demoMidi = (): Uint8Array => writePlayedMidi(perform(saltmarshLanterns(), DEMO_PERFORMANCE));

/** The demo as it stands in the library. */
export const demoArrangement = (): Imported['arrangement'] => {
  const result = importMidi([{ name: 'Saltmarsh Lanterns.mid', bytes: demoMidi() }]);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value.arrangement;
};
