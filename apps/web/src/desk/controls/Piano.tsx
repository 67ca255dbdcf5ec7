/** Two octaves of keys on the screen: the device that is always there. */
import { pitchName } from '@crispfold/core';
import type { PointerEvent } from 'react';

const BLACK = new Set([1, 3, 6, 8, 10]);
const KEYS = 25;
/** Of a key that is clicked without a pointer. */
const VELOCITY = 80;
/** A key sounds softest where it is struck at its top end, loudest at its near end. */
const [SOFTEST, LOUDEST] = [40, 110];

/** A key struck: velocity by where it was struck, `at` in milliseconds of the page. */
export interface Strike {
  readonly pitch: number;
  readonly velocity: number;
  readonly at: number;
  readonly shift: boolean;
}

export const Piano = ({
  octave,
  label,
  onStrike,
  onLetGo,
}: {
  octave: number;
  label: string;
  onStrike: (strike: Strike) => void;
  /** Where given, a key sounds while it is held down, and is struck as the pointer goes down. */
  onLetGo?: (pitch: number, at: number) => void;
}) => {
  const lowest = 12 * (octave + 1);
  const struck = (event: PointerEvent<HTMLButtonElement>, pitch: number) => {
    const { top, height } = event.currentTarget.getBoundingClientRect();
    const depth = Math.max(0, Math.min(1, (event.clientY - top) / Math.max(1, height)));
    // Let go wherever the pointer is then.
    event.currentTarget.setPointerCapture(event.pointerId);
    onStrike({
      pitch,
      velocity: Math.round(SOFTEST + (LOUDEST - SOFTEST) * depth),
      at: event.timeStamp,
      shift: event.shiftKey,
    });
  };
  return (
    <div role="group" aria-label={label} className="flex h-11 touch-none">
      {Array.from({ length: KEYS }, (_, key) => {
        const pitch = lowest + key;
        const black = BLACK.has(key % 12);
        return (
          <button
            key={pitch}
            type="button"
            tabIndex={-1}
            aria-label={`Key ${key + 1}: ${pitchName(pitch)}`}
            className={`border border-strong ${black ? '-mx-2 z-10 h-6 w-4 bg-ink' : 'h-11 w-6 bg-sheet text-[0.6rem] text-soft'} hover:bg-selected`}
            {...(onLetGo
              ? {
                  onPointerDown: (event) => struck(event, pitch),
                  onPointerUp: ({ timeStamp }) => onLetGo(pitch, timeStamp),
                  onPointerCancel: ({ timeStamp }) => onLetGo(pitch, timeStamp),
                }
              : {
                  onClick: ({ timeStamp, shiftKey }) =>
                    onStrike({ pitch, velocity: VELOCITY, at: timeStamp, shift: shiftKey }),
                })}
          >
            <span className="flex h-full items-end justify-center" aria-hidden>
              {key % 12 === 0 ? pitchName(pitch) : ''}
            </span>
          </button>
        );
      })}
    </div>
  );
};
