/** The plan: what makes Written from Played, step by step, with how many notes each touches. */
import { GRIDS, type Grid, gridOf, type Plan, type StepId, stepById, withGrid, withStep } from '@crispfold/core';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { counted } from '../../../ui/words.js';
import { commit } from '../saving.js';
import { selectArrangement, selectFrontPart } from '../selectors.js';
import { useWritten } from '../useWritten.js';

export const PlanPanel = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const front = useAppSelector(selectFrontPart);
  const { layers, working } = useWritten();
  const { plan } = arrangement;

  const change = (label: string, after: Plan) =>
    dispatch(commit({ label, changes: [{ kind: 'arrangementFields', before: { plan }, after: { plan: after } }] }));

  const countFor = (step: StepId, partId?: number): number => {
    let sum = 0;
    for (const [id, layer] of layers) {
      if (partId !== undefined && id !== partId) continue;
      sum += layer.touched.find((item) => item.step === step)?.count ?? 0;
    }
    return sum;
  };

  return (
    <section aria-label="Plan" className="flex flex-col">
      <p className="px-3 py-2 text-sm text-soft">
        The plan makes the page from the take. Played stays as it was.{' '}
        {working ? <b className="text-fold-ink">Working…</b> : null}
      </p>
      <label className="flex items-center gap-2 border-y border-rule px-3 py-2 text-sm">
        Starts go to
        <select
          className="min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1"
          value={String(gridOf(plan))}
          onChange={(event) => {
            const grid: Grid = event.target.value === 'auto' ? 'auto' : Number(event.target.value);
            change(`Plan: grid ${GRIDS.find((item) => item.grid === grid)?.name ?? ''}`, withGrid(plan, grid));
          }}
        >
          {GRIDS.map((item) => (
            <option key={item.id} value={String(item.grid)}>
              {item.name}
            </option>
          ))}
        </select>
      </label>
      <table className="w-full text-sm">
        <thead className="text-left text-soft">
          <tr>
            <th className="px-3 py-1 font-normal">Step</th>
            <th className="max-w-20 truncate px-1 text-right font-normal">{front?.name ?? ''}</th>
            <th className="px-3 text-right font-normal">All</th>
          </tr>
        </thead>
        <tbody>
          {plan.steps.map(({ step, on }) => {
            const { name, explanation } = stepById(step);
            return (
              <tr key={step} className="border-t border-rule" title={explanation}>
                <td className="px-3 py-1">
                  <label className="flex items-center gap-2">
                    <input
                      type="checkbox"
                      checked={on}
                      className="accent-[var(--fold)]"
                      onChange={() => change(`Plan: ${name} ${on ? 'off' : 'on'}`, withStep(plan, step, { on: !on }))}
                    />
                    {name}
                  </label>
                </td>
                <td className="px-1 text-right tabular-nums">{on ? countFor(step, front?.id) : '–'}</td>
                <td className="px-3 text-right tabular-nums">{on ? countFor(step) : '–'}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <PartCounts />
    </section>
  );
};

/** How many notes each part has, as played and as written. */
const PartCounts = () => {
  const arrangement = useAppSelector(selectArrangement);
  const { layers } = useWritten();
  return (
    <table className="mt-3 w-full text-sm">
      <caption className="border-b border-strong px-3 text-left font-serif text-base">Notes</caption>
      <thead className="text-left text-soft">
        <tr>
          <th className="px-3 py-1 font-normal">Part</th>
          <th className="px-1 text-right font-normal">Played</th>
          <th className="px-3 text-right font-normal">Written</th>
        </tr>
      </thead>
      <tbody>
        {arrangement.parts.map((part) => (
          <tr key={part.id} className="border-t border-rule">
            <td className="max-w-32 truncate px-3 py-0.5">{part.name}</td>
            <td className="px-1 text-right tabular-nums">{part.notes.length}</td>
            <td
              className="px-3 text-right tabular-nums"
              aria-label={counted(layers.get(part.id)?.notes.length ?? 0, 'written note')}
            >
              {layers.get(part.id)?.notes.length ?? '…'}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
};
