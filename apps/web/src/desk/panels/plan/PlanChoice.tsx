/** Which plan a part goes by: the one its content asks for, a ready one, a saved one, or one from a file. */

import { planFromFile, planNameSchema, planToFile } from '@crispfold/contract';
import { type Part, type Plan, planEdit, READY_PLANS, samePlan, suggestedPlan } from '@crispfold/core';
import { Save } from 'lucide-react';
import { useCallback, useEffect, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../../browser/api.js';
import { Button } from '../../../ui/Button.js';
import { FileButtons } from '../../../ui/FileButtons.js';
import { NameForm } from '../../../ui/NameForm.js';
import type { ChangePlan } from '../../actions/changePlan.js';
import { useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { useLayers } from '../../session/useWritten.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';
import { ComparePlans } from './ComparePlans.js';

/** Plans that a person named, from the server. */
const useSavedPlans = () => {
  const [plans, setPlans] = useState<readonly Plan[]>([]);
  const load = useCallback(
    () =>
      api
        .plans()
        .then(setPlans)
        .catch((error: Error) => toast.error(error.message)),
    [],
  );
  useEffect(() => void load(), [load]);
  return { plans, load };
};

/** The plans that a part can have, which one it has, and what is done with it. */
const usePlanChoice = (part: Part, plan: Plan, change: ChangePlan) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const { plans, load } = useSavedPlans();
  const suggested = suggestedPlan(part);
  const named: readonly (readonly [string, Plan])[] = [
    ...Object.entries(READY_PLANS).map(([kind, ready]) => [`ready ${kind}`, ready] as const),
    ...plans.map((saved) => [`saved ${saved.name}`, saved] as const),
  ];
  const current = part.plan ? (named.find(([, known]) => samePlan(known, plan))?.[0] ?? 'own') : 'suggested';
  const choices: readonly (readonly [id: string, name: string, plan: Plan])[] = [
    ['suggested', `As it asks: ${suggested.plan.name}`, suggested.plan],
    ...(current === 'own' ? [['own', 'Its own', plan] as const] : []),
    ...named.map(([id, known]) => [id, known.name, known] as const),
  ];
  return {
    choices,
    current,
    reason: suggested.reason,
    choose: (value: string) => {
      if (value === 'suggested') change('as its content asks', undefined);
      const chosen = named.find(([id]) => id === value)?.[1];
      if (chosen) change(chosen.name, chosen);
    },
    save: async (name: string) => {
      try {
        await api.savePlan({ ...plan, name: name.trim() });
        await load();
        toast.success(`Saved the plan “${name.trim()}”`);
      } catch (error) {
        toast.error((error as Error).message);
      }
    },
    bring: (text: string, name: string) => {
      const read = planFromFile(text);
      if (read.ok) change(read.plan.name || name, read.plan);
      else toast.error(read.message, { duration: 9000 });
    },
    toAll: () =>
      dispatch(
        commit({
          label: `Plan “${plan.name}” for all parts`,
          changes: arrangement.parts.flatMap((other) => planEdit(other, plan, '').changes),
        }),
      ),
  };
};

export const PlanChoice = ({ part, plan, change }: { part: Part; plan: Plan; change: ChangePlan }) => {
  const layers = useLayers();
  const [comparing, setComparing] = useState(false);
  const [naming, setNaming] = useState<string | null>(null);
  const { choices, current, reason, choose, save, bring, toAll } = usePlanChoice(part, plan, change);
  return (
    <div className="flex flex-col gap-1 border-b border-rule px-3 py-2">
      <label className="flex items-center gap-2">
        <span className="max-w-24 truncate font-semibold">{part.name}</span>
        <select
          aria-label="Plan of the part"
          className="min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1"
          value={current}
          onChange={(event) => choose(event.target.value)}
        >
          {choices.map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <p className="text-soft">
        {part.plan ? 'Chosen by you.' : `Because ${layers.get(part.id)?.suggestion || reason}.`} Played stays as it was.
      </p>
      {naming === null ? (
        <div className="flex flex-wrap gap-x-1">
          <Button
            look="quiet"
            className="!px-1.5"
            title="Keep this plan under a name"
            onClick={() => setNaming(plan.name)}
          >
            <Save size={14} aria-hidden /> Save
          </Button>
          <FileButtons
            label="Plan file"
            opens="Bring a plan from a file"
            takes="Take this plan away as a file"
            onOpened={bring}
            file={() => ({ name: `${plan.name || 'plan'}.json`, text: planToFile(plan) })}
          />
          <Button look="quiet" className="whitespace-nowrap !px-1.5" title="Give every part this plan" onClick={toAll}>
            To all
          </Button>
          <Button
            look="quiet"
            className="whitespace-nowrap !px-1.5"
            title="See the page under two plans side by side"
            onClick={() => setComparing(true)}
          >
            Compare
          </Button>
          <ComparePlans
            open={comparing}
            onOpenChange={setComparing}
            part={part}
            plans={choices.map(([, name, known]) => [name, known] as const)}
            now={choices.findIndex(([id]) => id === current)}
            onTake={(index) => {
              choose(choices[index]?.[0] ?? '');
              setComparing(false);
            }}
          />
        </div>
      ) : (
        <NameForm
          label="Name of the plan"
          schema={planNameSchema}
          name={naming}
          onSave={(name) => {
            setNaming(null);
            void save(name);
          }}
          onCancel={() => setNaming(null)}
        />
      )}
    </div>
  );
};
