/** Follow: takes timing from another part, from its starts one by one or from its feel. */

import type { FollowParameters } from '../model/stepParameters.js';
import type { StepContext } from '../reading/context.js';
import { feelOfKept, learnFeel, louderThanAbout } from '../reading/feel.js';
import { inMilliseconds } from '../reading/noteWords.js';
import { placed, type StepNote } from '../reading/stepNote.js';
import { lengthInTicks, noteValue } from '../time/noteLengths.js';
import { lastIndexAtOrBefore } from '../time/search.js';
import { eachNote, type Step, type StepResult, unchanged } from './step.js';

/** To the nearest start of the leader. */
const toStarts = (
  notes: readonly StepNote[],
  context: StepContext,
  { part, window, strength }: FollowParameters,
): StepResult => {
  const leader = context.strikesOf(part).map(({ onset }) => onset);
  if (leader.length === 0) return unchanged(notes);
  return eachNote(notes, (note) => {
    const at = lastIndexAtOrBefore(leader, note.onset, (onset) => onset);
    const near = [leader[at], leader[at + 1]].filter((onset) => onset !== undefined);
    const target = near.reduce((best, onset) =>
      Math.abs(onset - note.onset) < Math.abs(best - note.onset) ? onset : best,
    );
    const reach = lengthInTicks(window, context.ppq, context.tempoMap.ticksPerMillisecond(note.onset));
    const shift = Math.round(((target - note.onset) * strength) / 100);
    if (shift === 0 || Math.abs(target - note.onset) > reach) return null;
    const reason = `${inMilliseconds(shift, note.onset, context)} ${shift > 0 ? 'before' : 'after'} the part it follows`;
    return { to: placed(note, note.onset + shift, note.duration), reason };
  });
};

/** As early, as late and as loud as the leader is at the same place in the bar, also where it rests. */
const toFeel = (
  notes: readonly StepNote[],
  context: StepContext,
  { part, kept, window, strength }: FollowParameters,
): StepResult => {
  const feel = kept ? feelOfKept(kept, context) : learnFeel(context.strikesOf(part), context.bars, context.ppq);
  const whose = kept ? `“${kept.name}”` : 'the part it follows';
  if (!feel) return unchanged(notes);
  const own = [...notes].filter(({ muted }) => !muted).sort((a, b) => a.onset - b.onset);
  const louder = new Map(louderThanAbout(own.map(({ velocity }) => velocity)).map((by, index) => [own[index], by]));
  return eachNote(notes, (note) => {
    const said = feel.at(note.onset);
    const target = Math.max(0, said.place + said.late);
    const reach = lengthInTicks(window, context.ppq, context.tempoMap.ticksPerMillisecond(note.onset));
    const off = target - note.onset;
    const shift = Math.abs(off) > reach ? 0 : Math.round((off * strength) / 100);
    const by = ((said.louder - (louder.get(note) ?? 0)) * strength) / 100;
    const velocity = Math.max(1, Math.min(127, Math.round(note.velocity + by)));
    if (shift === 0 && velocity === note.velocity) return null;
    const when = shift === 0 ? '' : `${inMilliseconds(shift, note.onset, context)} ${shift > 0 ? 'later' : 'earlier'}`;
    const loud = velocity === note.velocity ? '' : `velocity ${velocity}`;
    return {
      to: placed(note, note.onset + shift, note.duration, velocity),
      reason: `${[when, loud].filter(Boolean).join(', ')}: as ${whose} is played at this place in the bar`,
    };
  });
};

/** Notes with no start of the leader near them stay. */
export const follow: Step<'follow'> = {
  id: 'follow',
  name: 'Follow',
  explanation:
    'Moves starts to those of another part, as far as it has one near; or takes its feel: how early, late and loud it is at each place in the bar. Lengths stay.',
  defaults: { part: 0, takes: 'starts', kept: null, window: noteValue(1 / 16), strength: 100 },
  fields: {
    part: { kind: 'part', label: 'Part to follow' },
    takes: {
      kind: 'choice',
      label: 'What it takes',
      choices: [
        { value: 'starts', label: 'its starts' },
        { value: 'feel', label: 'its feel, by place in the bar' },
      ],
      later: true,
    },
    kept: { kind: 'feel', label: 'Whose feel', none: 'that part’s' },
    window: { kind: 'length', label: 'Where it is within' },
    strength: { kind: 'number', label: 'Strength', min: 0, max: 100, unit: '%' },
  },
  once: true,
  sees: 'selected',
  looksAt: ({ part, takes, kept }) => (part === 0 || (takes === 'feel' && kept) ? {} : { parts: [part] }),
  run: (notes, context, parameters) => {
    const { part, takes, kept } = parameters;
    if (takes === 'feel') return part === 0 && !kept ? unchanged(notes) : toFeel(notes, context, parameters);
    return part === 0 ? unchanged(notes) : toStarts(notes, context, parameters);
  },
};
