/** MIDI devices, while they are wanted. */
import { useEffect, useRef, useState } from 'react';
import { type Heard, type Listening, listenToDevices } from '../session/inputs.js';

/** Hands on what devices say, while `wanted`; answers what listening came to, in words. */
export const useDevices = (wanted: boolean, onHeard: (heard: Heard) => void): string => {
  const [words, setWords] = useState('');
  const newest = useRef(onHeard);
  newest.current = onHeard;
  useEffect(() => {
    if (!wanted) return undefined;
    let listening: Listening | null = null;
    let over = false;
    void listenToDevices((heard) => newest.current(heard), setWords).then((made) => {
      if (over) made.stop();
      else {
        listening = made;
        setWords(made.words);
      }
    });
    return () => {
      over = true;
      listening?.stop();
      setWords('');
    };
  }, [wanted]);
  return words;
};
