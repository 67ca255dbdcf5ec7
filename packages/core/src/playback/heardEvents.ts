/** Messages besides notes as they are heard: controllers, bends, programs and pressure, in seconds. */
import { expandedEvents } from '../lanes/lanes.js';
import type { Arrangement, Part, PartId, TrackEvent } from '../model/arrangement.js';
import { waysInSound } from '../model/waysOfPlaying.js';
import { SOSTENUTO_CONTROLLER, SUSTAIN_CONTROLLER } from '../reading/pedal.js';
import { createTempoMap } from '../time/tempoMap.js';

/** What changes how notes sound. */
export type SoundEvent = Extract<
  TrackEvent,
  { readonly kind: 'controller' | 'program' | 'pitchBend' | 'channelPressure' }
>;

/** One of them, with its part, in seconds from tick 0. */
export interface HeardEvent {
  readonly partId: PartId;
  readonly at: number;
  readonly event: SoundEvent;
}

const KINDS: ReadonlySet<TrackEvent['kind']> = new Set(['controller', 'program', 'pitchBend', 'channelPressure']);

/** Pedals that hold are in the lengths of the notes already; bank and parameter numbers are for the program they come with. */
const isHeard = (event: TrackEvent): event is SoundEvent =>
  KINDS.has(event.kind) &&
  !(
    event.kind === 'controller' &&
    (event.controller === SUSTAIN_CONTROLLER || event.controller === SOSTENUTO_CONTROLLER || event.controller >= 120)
  );

/** All of them, of some parts, in order of time; ramps as the single values that a file would hold. */
export const heardEvents = (arrangement: Arrangement, partIds: readonly PartId[]): HeardEvent[] => {
  const map = createTempoMap(arrangement.tempos, arrangement.ppq);
  const asked = new Set(partIds);
  return arrangement.parts
    .filter(({ id }) => asked.has(id))
    .flatMap((part) =>
      [...expandedEvents(part.events, map.ticksPerMillisecond), ...waysInSound(part, arrangement.ppq).events].flatMap(
        (event): HeardEvent[] => (isHeard(event) ? [{ partId: part.id, at: map.secondsAt(event.tick), event }] : []),
      ),
    )
    .sort((a, b) => a.at - b.at);
};

/** What an event sets: events with the same key take each other's place. */
const keyOf = ({ partId, event }: HeardEvent): string =>
  event.kind === 'controller' ? `${partId} ${event.controller}` : `${partId} ${event.kind}`;

/**
 * The last event of each kind before a place, in their order: what must be set where playing begins there, so that it sounds
 * as if played from the start.
 */
export const stateBefore = (events: readonly HeardEvent[], at: number): HeardEvent[] => {
  const last = new Map<string, HeardEvent>();
  for (const heard of events) {
    if (heard.at >= at) break;
    const key = keyOf(heard);
    // The newest goes to the end: a parameter number keeps its place before its value.
    last.delete(key);
    last.set(key, heard);
  }
  return [...last.values()];
};

/** How loud volume (CC 7) and expression (CC 11) leave a part, 0 to 1, where nothing was said 1 (General MIDI 2: squares). */
export const loudnessBy = (volume: number | undefined, expression: number | undefined): number =>
  ((volume ?? 127) / 127) ** 2 * ((expression ?? 127) / 127) ** 2;

/** The program a part begins with. */
export const firstProgram = (part: Pick<Part, 'program' | 'events'>): number =>
  part.program ?? part.events.find((event) => event.kind === 'program')?.program ?? 0;
