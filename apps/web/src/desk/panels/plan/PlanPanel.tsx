/** The front part's plan: its steps in order, each with its count and parameters; ready plans, saved plans, passages. */

import {
  type Edit,
  type Part,
  type Plan,
  planEdit,
  planOf,
  planStep,
  STEP_IDS,
  type StepId,
  stepById,
  valuesOf,
  withValues,
} from '@crispfold/core';
import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { ArrowDown, ArrowUp, ChevronDown, ChevronRight, GripVertical, X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import type { ChangePlan } from '../../actions/changePlan.js';
import { ParameterList } from '../../controls/ParameterControl.js';
import { useAppDispatch } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { useLayers, useWorkState } from '../../session/useWritten.js';
import { useAppSelector } from '../../state/root.js';
import { selectFrontPart } from '../../state/selectors.js';
import { Passages } from './Passages.js';
import { PlanChoice } from './PlanChoice.js';

const moved = <Item,>(list: readonly Item[], from: number, to: number): Item[] => {
  const result = [...list];
  const [item] = result.splice(from, 1);
  if (item !== undefined) result.splice(to, 0, item);
  return result;
};

export const PlanPanel = () => {
  const front = useAppSelector(selectFrontPart);
  if (!front) return <p className="p-3 text-sm text-soft">Add a part to see its plan.</p>;
  return <PartPlan key={front.id} part={front} />;
};

const Busy = () => {
  const work = useWorkState();
  return (
    <span role="status">
      {work.kind === 'working' && <b className="text-fold-ink">working…</b>}
      {work.kind === 'failed' && <b className="text-fold-ink">failed</b>}
    </span>
  );
};

const PartPlan = ({ part }: { part: Part }) => {
  const dispatch = useAppDispatch();
  const layers = useLayers();
  const layer = layers.get(part.id);
  const plan = planOf(part);
  const [open, setOpen] = useState<number | null>(null);
  const list = useRef<HTMLOListElement>(null);
  /** The place of the step that was moved by key: it keeps the focus there. */
  const focus = useRef<number | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a changed plan is what may have moved the step
  useEffect(() => {
    if (focus.current === null) return;
    list.current?.querySelectorAll<HTMLElement>('button[aria-expanded]')[focus.current]?.focus();
    focus.current = null;
  }, [plan]);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));

  const change: ChangePlan = (what, after) => {
    const edit: Edit = planEdit(part, after, `Plan of ${part.name}: ${what}`);
    dispatch(commit(edit));
  };
  const withSteps = (what: string, steps: Plan['steps']) => change(what, { ...plan, steps });
  const move = (from: number, to: number, byKey = false) => {
    if (to < 0 || to >= plan.steps.length || from === to) return;
    if (byKey) focus.current = to;
    setOpen((now) => (now === from ? to : now === to ? from : now));
    withSteps(`move ${stepById((plan.steps[from] as Plan['steps'][number]).step).name}`, moved(plan.steps, from, to));
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) move(Number(active.id), Number(over.id));
  };

  return (
    <section aria-label="Plan" className="flex flex-col text-sm">
      <PlanChoice part={part} plan={plan} change={change} />
      <p className="flex justify-between border-b border-rule px-3 py-1 text-soft">
        <span>
          {counted(part.notes.length, 'note')} played, {layer?.notes.length ?? '…'} written
        </span>
        <Busy />
      </p>
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
        <SortableContext items={plan.steps.map((_, index) => String(index))} strategy={verticalListSortingStrategy}>
          <ol ref={list} aria-label="Steps of the plan">
            {plan.steps.map((item, index) => {
              const count = layer?.touched.find(({ place, step }) => place === index && step === item.step)?.count;
              return (
                <StepLine
                  // biome-ignore lint/suspicious/noArrayIndexKey: a step may stand in a plan twice; its place is its name
                  key={index}
                  index={index}
                  last={plan.steps.length - 1}
                  item={item}
                  count={count}
                  open={open === index}
                  onOpen={() => setOpen(open === index ? null : index)}
                  onMove={(to) => move(index, to, true)}
                  onChange={(what, next) =>
                    withSteps(
                      what,
                      next ? plan.steps.map((old, at) => (at === index ? next : old)) : plan.steps.toSpliced(index, 1),
                    )
                  }
                />
              );
            })}
          </ol>
        </SortableContext>
      </DndContext>
      <label className="flex items-center gap-2 border-b border-rule px-3 py-1.5">
        Add a step
        <select
          className="min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1"
          value=""
          onChange={(event) => {
            const step = event.target.value as StepId;
            withSteps(`add ${stepById(step).name}`, [...plan.steps, planStep(step)]);
            setOpen(plan.steps.length);
          }}
        >
          <option value="" disabled>
            choose…
          </option>
          {STEP_IDS.map((step) => (
            <option key={step} value={step}>
              {stepById(step).name}
            </option>
          ))}
        </select>
      </label>
      <Passages plan={plan} change={change} />
    </section>
  );
};

const StepLine = ({
  index,
  last,
  item,
  count,
  open,
  onOpen,
  onMove,
  onChange,
}: {
  index: number;
  last: number;
  item: Plan['steps'][number];
  count: number | undefined;
  open: boolean;
  onOpen: () => void;
  onMove: (to: number) => void;
  onChange: (what: string, next: Plan['steps'][number] | null) => void;
}) => {
  const { name, explanation } = stepById(item.step);
  const { listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: String(index) });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      className={`border-b border-rule ${isDragging ? 'relative z-10 bg-selected' : ''}`}
      title={explanation}
    >
      <div className="flex min-h-7 items-center gap-1 pl-1 pr-3">
        <span {...listeners} className="cursor-grab touch-none text-soft" title="Drag to another place" aria-hidden>
          <GripVertical size={14} />
        </span>
        <input
          type="checkbox"
          aria-label={name}
          className="accent-[var(--fold)]"
          checked={item.on}
          onChange={() => onChange(`${name} ${item.on ? 'off' : 'on'}`, { ...item, on: !item.on })}
        />
        <button
          type="button"
          aria-expanded={open}
          className={`flex min-w-0 flex-1 items-center gap-0.5 truncate text-left ${item.on ? '' : 'text-soft'}`}
          title={`${explanation} Alt and an arrow key move it.`}
          onClick={onOpen}
          onKeyDown={(event) => {
            if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
            event.preventDefault();
            event.stopPropagation();
            onMove(index + (event.key === 'ArrowUp' ? -1 : 1));
          }}
        >
          {open ? <ChevronDown size={14} aria-hidden /> : <ChevronRight size={14} aria-hidden />}
          {name}
        </button>
        <span className="tabular-nums">{item.on ? (count ?? '…') : '–'}</span>
      </div>
      {open && (
        <div className="flex flex-col gap-2 bg-sheet px-3 py-2">
          <p className="text-soft">{explanation}</p>
          <ParameterList
            step={item.step}
            values={valuesOf(item)}
            onChange={(key, value) => onChange(name, withValues(item, { [key]: value }))}
          />
          <div className="flex gap-1">
            <Button
              look="quiet"
              aria-label={`Move ${name} up`}
              title="Earlier"
              disabled={index === 0}
              onClick={() => onMove(index - 1)}
            >
              <ArrowUp size={14} aria-hidden />
            </Button>
            <Button
              look="quiet"
              aria-label={`Move ${name} down`}
              title="Later"
              disabled={index === last}
              onClick={() => onMove(index + 1)}
            >
              <ArrowDown size={14} aria-hidden />
            </Button>
            <Button
              look="quiet"
              className="ml-auto"
              title="Take this step out of the plan"
              onClick={() => onChange(`take out ${name}`, null)}
            >
              <X size={14} aria-hidden /> Take out
            </Button>
          </div>
        </div>
      )}
    </li>
  );
};
