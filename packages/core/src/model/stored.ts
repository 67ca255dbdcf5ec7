/**
 * Brings what was stored in an earlier form up to today's. Form 1 had events without ids, changes that wrote the whole
 * list of events twice, and plans of version 2, in which Trim overlaps said "the next chord" for what is now "any note".
 */
import {
  type Arrangement,
  compareEvents,
  type Part,
  type PartEvent,
  type TrackEvent,
  withEventIds,
} from './arrangement.js';
import { type Change, eventsChange } from './edit.js';
import type { JournalEntry } from './history.js';
import { PLAN_VERSION, type Plan, type PlanStep } from './plan.js';

/** The form that {@link upgradeArrangement} and {@link upgradeEntry} lead to. */
export const STORED_FORM = 2;

interface Plan2 {
  readonly version: 2;
  readonly name: string;
  readonly steps: readonly PlanStep[];
  readonly passages: Plan['passages'];
}

/** A plan of version 2, or of today's. */
export type AnyPlan = Plan | Plan2;

type Part1 = Omit<Part, 'events' | 'plan'> & {
  readonly events: readonly (TrackEvent | PartEvent)[];
  readonly plan?: AnyPlan | undefined;
};

/** An arrangement as form 1 stored it. */
export type Arrangement1 = Omit<Arrangement, 'parts' | 'nextEventId'> & { readonly parts: readonly Part1[] };

interface Fields1 {
  readonly plan?: AnyPlan | undefined;
  readonly events?: readonly TrackEvent[];
}

type Change1 =
  | Extract<Change, { kind: 'notes' | 'arrangementFields' }>
  | { readonly kind: 'partAdded' | 'partRemoved'; readonly index: number; readonly part: Part1 }
  | { readonly kind: 'partFields'; readonly partId: number; readonly before: Fields1; readonly after: Fields1 };

/** A line of a journal as form 1 stored it. */
export type JournalEntry1 =
  | { readonly kind: 'edit'; readonly edit: { readonly label: string; readonly changes: readonly Change1[] } }
  | Extract<JournalEntry, { kind: 'goTo' }>;

const upgradeStep = (item: PlanStep): PlanStep =>
  item.step === 'trimOverlaps' && item.parameters.against === 'nextChord'
    ? { ...item, parameters: { ...item.parameters, against: 'anyPitch' } }
    : item;

/** A plan of today's version. */
export const upgradePlan = (plan: AnyPlan): Plan =>
  plan.version === PLAN_VERSION
    ? plan
    : {
        version: PLAN_VERSION,
        name: plan.name,
        steps: plan.steps.map(upgradeStep),
        passages: plan.passages.map((passage) => ({ ...passage, steps: passage.steps.map(upgradeStep) })),
      };

const upgradePart = (part: Part1, firstEvent: number): Part => {
  const { plan, events, ...rest } = part;
  return {
    ...rest,
    events: withEventIds(events, firstEvent).sort(compareEvents),
    ...(plan ? { plan: upgradePlan(plan) } : {}),
  };
};

/** An arrangement of form 1 in today's form. */
export const upgradeArrangement = (stored: Arrangement1): Arrangement => {
  let nextEventId = 1;
  const parts = stored.parts.map((part) => {
    const first = nextEventId;
    nextEventId += part.events.length;
    return upgradePart(part, first);
  });
  return { ...stored, parts, nextEventId };
};

const contentOf = (event: TrackEvent | PartEvent): string => {
  const { id: _, ...content } = event as PartEvent;
  return JSON.stringify(Object.entries(content).sort(([a], [b]) => (a < b ? -1 : 1)));
};

/** Events without ids, known again among those that have one by what they say; new ids for the others. */
const recognised = (events: readonly TrackEvent[], among: readonly PartEvent[], next: number): PartEvent[] => {
  const known = new Map<string, PartEvent[]>();
  for (const event of among) known.set(contentOf(event), [...(known.get(contentOf(event)) ?? []), event]);
  let id = next;
  return events.map((event) => known.get(contentOf(event))?.shift() ?? { ...event, id: id++ });
};

const upgradeFields = ({ events: _, plan, ...rest }: Fields1): Partial<Part> => ({
  ...rest,
  ...(plan ? { plan: upgradePlan(plan) } : {}),
});

const upgradeChange = (change: Change1, arrangement: Arrangement): readonly Change[] => {
  switch (change.kind) {
    case 'notes':
    case 'arrangementFields':
      return [change];
    case 'partAdded':
      return [{ ...change, kind: 'partAdded', part: upgradePart(change.part, arrangement.nextEventId) }];
    case 'partRemoved': {
      const own = arrangement.parts.find((part) => part.id === change.part.id);
      return own ? [{ kind: 'partRemoved', index: change.index, part: own }] : [];
    }
    case 'partFields': {
      const part = arrangement.parts.find((candidate) => candidate.id === change.partId);
      const before = upgradeFields(change.before);
      const after = upgradeFields(change.after);
      const fields: Change = { kind: 'partFields', partId: change.partId, before, after };
      const list = change.after.events;
      const events =
        list && part
          ? eventsChange(part.id, part.events, recognised(list, part.events, arrangement.nextEventId))
          : undefined;
      const none = Object.keys(before).length + Object.keys(after).length === 0;
      return [...(none && events ? [] : [fields]), ...(events ? [events] : [])];
    }
    default:
      return change satisfies never;
  }
};

/** A line of a journal of form 1 in today's form; `arrangement` is how it stood, upgraded, before the line. */
export const upgradeEntry = (entry: JournalEntry1, arrangement: Arrangement): JournalEntry => {
  if (entry.kind === 'goTo') return entry;
  const { label, changes } = entry.edit;
  return { kind: 'edit', edit: { label, changes: changes.flatMap((change) => upgradeChange(change, arrangement)) } };
};
