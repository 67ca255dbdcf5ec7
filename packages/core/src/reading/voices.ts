/**
 * Which notes belong to one melodic line. A staff keeps one voice with chords wherever its notes allow; a second begins
 * where a note is truly held while others move. Published ground: contig mapping (Chew and Wu, "Separating voices in
 * polyphonic music", CMMR 2004): where notes are held together the voices are known, and lines are joined from there by
 * nearness in pitch.
 */
import { endOf } from '../model/arrangement.js';
import { headOf } from './attacks.js';
import type { StepContext } from './context.js';
import { byOnset } from './noteGroups.js';
import type { StepNote } from './stepNote.js';

/** A note is held over a start where it sounds past it by this share of the way there, and by this much. */
const HELD_SHARE = 0.13;
/** Less than this past the next start is a finger that let go late; judged by the keyboard without pedal. */
const HELD_MILLISECONDS = 40;
/** A lone note is held over another only where it covers this much of it: two notes of a legato line overlap less. */
const COVERED = 0.5;

/** Notes of one start that reach equally far. */
interface Cluster {
  readonly notes: readonly StepNote[];
  readonly held: boolean;
  /** Where it is taken to end. */
  readonly end: number;
  readonly pitch: number;
}

interface BusyVoice {
  readonly end: number;
  readonly pitch: number;
}

/** What is held in each voice, from 1; null where it is free. */
type Busy = (BusyVoice | null)[];

/** The voice of each note of a hand, by id; notes of the first voice may be left out. */
export const assignVoices = (
  hand: readonly StepNote[],
  most: number,
  context: StepContext,
  voices: Map<number, number>,
): void => {
  if (most === 1) return;
  const groups = byOnset(hand);
  const busy: Busy = new Array(most + 1).fill(null);
  let anyBusy = false;
  const lines = linesUnderPedal(groups, context);
  groups.forEach((group, index) => {
    const onset = (group[0] as StepNote).onset;
    if (anyBusy) anyBusy = freeUntil(onset, busy);
    const margin = marginOver(groups, index, context);
    const longest = longestMoving(groups, index, margin);
    // With nothing held before it or in it, a group is in the first voice.
    const sure = heldIn(group, margin, longest);
    const held = sure.length === 0 && lines ? heldByPedal(groups, index, longest, lines) : sure;
    if (!anyBusy && group.length === 1 && held.length === 0) return;
    const apart = held.length === 0 ? lengthsApart(group, margin) : null;
    if (!anyBusy && held.length === 0 && !apart) return;
    const clusters = apart ?? clustersOf(groups, index, held, margin, lines);
    const places =
      clusters.length === 1 && !anyBusy
        ? [above(groups, index, clusters) ? 2 : 1]
        : placeClusters(clusters, busy, most);
    places.forEach((voice, rank) => {
      const cluster = clusters[rank] as Cluster;
      if (voice !== 1) for (const note of cluster.notes) voices.set(note.id, voice);
      if (!cluster.held) return;
      busy[voice] = { end: cluster.end, pitch: cluster.pitch };
      anyBusy = true;
    });
  });
};

/** Voices whose notes are over by a start are free again; true where any is still held. */
const freeUntil = (onset: number, busy: Busy): boolean => {
  let any = false;
  for (let voice = 1; voice < busy.length; voice += 1) {
    const own = busy[voice];
    if (own && own.end <= onset) busy[voice] = null;
    else if (own) any = true;
  }
  return any;
};

const NONE: readonly StepNote[] = [];

/** The notes of a group that are held over the next start. */
const heldIn = (group: readonly StepNote[], margin: number, longest: number): readonly StepNote[] => {
  for (const note of group) {
    if (withoutOverhang(note, margin) > longest)
      return group.filter((other) => withoutOverhang(other, margin) > longest);
  }
  return NONE;
};

/** A long note is let go late by a share of itself. */
const OVERHANG = 0.055;

/** The lines of a hand that has an inner voice under its pedal: how high each lies. */
interface Lines {
  /** The highest note below that was held. */
  readonly highest: number;
  /** The mean of the line above. */
  readonly upper: number;
}

/**
 * The lower notes of a group under the pedal while the line above goes on alone, and the pedal sounds on past its next start:
 * they may belong to an inner voice whose fingers came up early. A lone note is one by its height, once the lines are known.
 */
const heldByPedal = (
  groups: readonly StepNote[][],
  index: number,
  longest: number,
  lines: Lines | null,
): readonly StepNote[] => {
  const group = groups[index] as StepNote[];
  const next = groups[index + 1];
  if (next?.length !== 1) return NONE;
  const { pitch } = next[0] as StepNote;
  const top = group.reduce((highest, note) => (note.pitch > highest.pitch ? note : highest));
  const isLone = group.length === 1;
  if (isLone && !lines) return NONE;
  const lower = isLone ? group : group.filter((note) => note !== top);
  const below = Math.max(...lower.map((note) => note.pitch));
  const above = lines && isLone ? lines.upper : top.pitch;
  // The next note carries on the line above, not the one below.
  if (pitch <= below || Math.abs(pitch - above) > Math.abs(pitch - below)) return NONE;
  if (lines && isLone && !isInner(below, lines)) return NONE;
  return lower.every(({ soundsTo, onset }) => soundsTo !== undefined && soundsTo - onset > longest) ? lower : NONE;
};

/** Of lower notes that may be held, so many must plainly be: about half of those that are come up early. */
const INNER_SHARE = 0.3;
const ENOUGH_INNER = 3;

/** The lines of a hand that has an inner voice under its pedal, told by the notes that the fingers hold themselves. */
const linesUnderPedal = (groups: readonly StepNote[][], context: StepContext): Lines | null => {
  let [held, all, highest, upper] = [0, 0, 0, 0];
  groups.forEach((group, index) => {
    if (group.length < 2 || group.every(({ soundsTo }) => soundsTo === undefined)) return;
    const longest = longestMoving(groups, index, marginOver(groups, index, context));
    const lower = heldByPedal(groups, index, longest, null);
    if (lower.length === 0) return;
    all += 1;
    upper += Math.max(...group.map(({ pitch }) => pitch));
    if (lower.every(({ duration }) => duration <= longest)) return;
    held += 1;
    highest = Math.max(highest, ...lower.map(({ pitch }) => pitch));
  });
  if (held < ENOUGH_INNER || held < INNER_SHARE * all) return null;
  return { highest, upper: upper / all };
};

/** How long a note sounds, but for what more than `margin` its late end may be. */
const withoutOverhang = ({ duration }: StepNote, margin: number): number =>
  duration - Math.max(0, OVERHANG * duration - margin);

/** A tone that lasts so many times as long as another, and by more than the margin twice, is in no chord with it. */
const CLEARLY_LONGER = 1.65;

/**
 * Notes struck together whose lengths clearly differ, though nothing follows that would tell: two voices. Under a pedal the
 * fingers' lengths say nothing.
 */
const lengthsApart = (group: readonly StepNote[], margin: number): Cluster[] | null => {
  if (group.length < 2 || group.some(({ soundsTo }) => soundsTo !== undefined)) return null;
  const byLength = [...group].sort((a, b) => a.duration - b.duration);
  let [at, widest] = [0, CLEARLY_LONGER];
  for (let index = 1; index < byLength.length; index += 1) {
    const [shorter, longer] = [(byLength[index - 1] as StepNote).duration, (byLength[index] as StepNote).duration];
    if (longer - shorter <= 2 * margin || longer < widest * shorter) continue;
    at = index;
    widest = longer / shorter;
  }
  if (at === 0) return null;
  const clusters = [clusterOf(byLength.slice(0, at), false, 0), clusterOf(byLength.slice(at), false, 0)];
  return clusters.sort((a, b) => b.pitch - a.pitch);
};

const clusterOf = (notes: readonly StepNote[], held: boolean, end: number): Cluster => ({
  notes,
  held,
  end,
  pitch: notes.reduce((sum, note) => sum + note.pitch, 0) / notes.length,
});

/** How far past the staff's next start a note of the group must sound to be held over it. */
const marginOver = (groups: readonly StepNote[][], index: number, context: StepContext): number => {
  const { onset } = headOf(groups, index);
  const slot = (groups[index + 1]?.[0]?.onset ?? onset) - onset;
  return Math.max(HELD_SHARE * slot, HELD_MILLISECONDS * context.tempoMap.ticksPerMillisecond(onset));
};

/** The longest that a note of the group may last and not be held over the next start; infinite where none follows. */
const longestMoving = (groups: readonly StepNote[][], index: number, margin: number): number => {
  const next = groups[index + 1];
  if (!next) return Number.POSITIVE_INFINITY;
  const second = next[0] as StepNote;
  const slot = second.onset - headOf(groups, index).onset;
  if (next.length > 1 || (groups[index] as StepNote[]).length > 1) return slot + margin;
  const after = groups[index + 2]?.[0];
  const nextLength = Math.min(second.duration, after ? after.onset - second.onset : Number.POSITIVE_INFINITY);
  return slot + Math.max(margin, COVERED * nextLength);
};

/** The notes of a group that end before the staff's next start, and those held over it; upper cluster first. */
const clustersOf = (
  groups: readonly StepNote[][],
  index: number,
  held: readonly StepNote[],
  margin: number,
  lines: Lines | null,
): Cluster[] => {
  const group = groups[index] as StepNote[];
  if (held.length === 0) return [clusterOf(group, false, 0)];
  const moving = group.filter((note) => !held.includes(note));
  const next = headOf(groups, index + 1).onset;
  const byKeys = Math.min(...held.map((note) => note.onset + withoutOverhang(note, margin) - margin));
  const end = lines && byKeys < next ? heldUntil(groups, index, held, lines) - margin : byKeys;
  const clusters = [clusterOf(held, true, Math.max(end, next))];
  if (moving.length > 0) clusters.push(clusterOf(moving, false, 0));
  return clusters.sort((a, b) => b.pitch - a.pitch || Number(a.held) - Number(b.held));
};

/** Where notes of an inner voice are over whose keys came up before the next start: with the pedal, or where that voice goes on. */
const heldUntil = (groups: readonly StepNote[][], index: number, held: readonly StepNote[], lines: Lines): number => {
  const up = Math.min(...held.map(({ soundsTo, onset }) => soundsTo ?? onset));
  for (let at = index + 1; at < groups.length; at += 1) {
    const { onset } = headOf(groups, at);
    if (onset >= up) break;
    if ((groups[at] as StepNote[]).some(({ pitch }) => isInner(pitch, lines))) return onset;
  }
  return up;
};

const isInner = (pitch: number, { highest }: Lines): boolean => pitch <= highest;

/** Whether what moves while a lone held cluster sounds lies above it. */
const above = (groups: readonly StepNote[][], index: number, clusters: readonly Cluster[]): boolean => {
  const cluster = clusters[0] as Cluster;
  if (clusters.length > 1 || !cluster.held) return false;
  let sum = 0;
  let count = 0;
  for (let at = index + 1; at < groups.length; at += 1) {
    for (const note of groups[at] as StepNote[]) {
      if (note.onset >= cluster.end) return count > 0 && sum / count > cluster.pitch;
      sum += note.pitch;
      count += 1;
    }
  }
  return count > 0 && sum / count > cluster.pitch;
};

/** A voice for each cluster, from the top down; those that are held over stay out of the way. */
const placeClusters = (clusters: readonly Cluster[], busy: Readonly<Busy>, most: number): number[] => {
  const free: number[] = [];
  for (let voice = 1; voice <= most; voice += 1) if (!busy[voice]) free.push(voice);
  if (clusters.length === 1) {
    const { pitch } = clusters[0] as Cluster;
    let wanted = 1;
    busy.forEach((other, voice) => {
      if (other && other.pitch > pitch) wanted = Math.max(wanted, voice + 1);
    });
    return [free.find((voice) => voice >= wanted) ?? free[free.length - 1] ?? Math.min(most, wanted)];
  }
  if (free.length >= clusters.length) return free.slice(0, clusters.length);
  const only = free[0] ?? 1;
  return clusters.map(() => only);
};

/**
 * The voices of a hand that has no human touch: notes that begin and end together are one chord, and a note that sounds on
 * keeps others out of its voice. As few voices as that takes, up to four though fewer were asked for: nothing is cut.
 */
export const assignExactVoices = (
  hand: readonly StepNote[],
  most: number,
  _context: StepContext,
  voices: Map<number, number>,
): void => {
  if (most === 1) return;
  let busy: { readonly voice: number; readonly end: number; readonly pitch: number }[] = [];
  for (const group of byOnset(hand)) {
    const onset = (group[0] as StepNote).onset;
    busy = busy.filter(({ end }) => end > onset);
    const chords = new Map<number, StepNote[]>();
    for (const note of group) chords.set(endOf(note), [...(chords.get(endOf(note)) ?? []), note]);
    const fromTop = [...chords].sort(([, a], [, b]) => meanPitch(b) - meanPitch(a));
    const free = VOICES.filter((voice) => busy.every((other) => other.voice !== voice));
    for (const [end, notes] of fromTop) {
      const pitch = meanPitch(notes);
      // Below what sounds above it, and with room for those that follow.
      const lowest = Math.max(0, ...busy.filter((other) => other.pitch > pitch).map(({ voice }) => voice));
      const room = free.filter((voice) => voice > lowest);
      const voice = room[0] ?? free[0] ?? MOST_VOICES;
      free.splice(0, free.length, ...free.filter((other) => other !== voice));
      busy.push({ voice, end, pitch });
      for (const note of notes) voices.set(note.id, voice);
    }
  }
};

const MOST_VOICES = 4;
const VOICES = [1, 2, 3, 4] as const;
const meanPitch = (notes: readonly StepNote[]): number =>
  notes.reduce((sum, { pitch }) => sum + pitch, 0) / notes.length;
