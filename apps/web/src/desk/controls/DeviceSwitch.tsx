/** Listens to MIDI devices while it is ticked, and says what came of it. */
import { useState } from 'react';
import type { Heard } from '../session/inputs.js';
import { Check } from './Check.js';
import { useDevices } from './useDevices.js';

export const DeviceSwitch = ({ onHeard }: { onHeard: (heard: Heard) => void }) => {
  const [on, setOn] = useState(false);
  const words = useDevices(on, onHeard);
  return (
    <>
      <Check checked={on} onChange={() => setOn(!on)}>
        MIDI device
      </Check>
      {words && <span role="status">{words}</span>}
    </>
  );
};
