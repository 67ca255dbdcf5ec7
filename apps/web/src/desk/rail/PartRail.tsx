/** The rail of parts: which is in front, which are seen and heard. */

import {
  changeInstrument,
  type Family,
  instrumentById,
  movePart,
  type Part,
  type PartId,
  partsOfOnePlayer,
} from '@crispfold/core';
import { closestCenter, DndContext, type DragEndEvent, MouseSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import {
  ChevronDown,
  ChevronRight,
  ChevronsLeft,
  ChevronsRight,
  Eye,
  EyeOff,
  Flag,
  Focus,
  Headphones,
  Lock,
  LockOpen,
  Volume2,
  VolumeX,
} from 'lucide-react';
import { Fragment, memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import { Button } from '../../ui/Button.js';
import { counted, listed } from '../../ui/words.js';
import { showAlone } from '../actions/showAlone.js';
import { EdgeMark } from '../controls/EdgeMark.js';
import { GUESSED } from '../controls/guessed.js';
import { InstrumentOptions } from '../controls/InstrumentOptions.js';
import { type PartLook, usePartLooks } from '../controls/partLook.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { commit } from '../session/saving.js';
import { checksActions } from '../state/checksSlice.js';
import { openByPart, selectFindings } from '../state/findings.js';
import { layoutActions } from '../state/layoutSlice.js';
import { partsShownActions } from '../state/partsShownSlice.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import { switched } from '../state/switched.js';

const Small = ({
  label,
  pressed,
  hint,
  quiet = false,
  onClick,
  children,
}: {
  label: string;
  pressed: boolean;
  hint?: string;
  /** Seen only while its line is pointed at or holds the keys, unless it is switched on. */
  quiet?: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) => (
  <button
    type="button"
    aria-label={label}
    aria-pressed={pressed}
    title={hint ? `${label} (${hint})` : label}
    onClick={onClick}
    className={`grid size-6 place-items-center rounded-sm text-sm font-semibold ${pressed ? 'bg-ink text-sheet' : 'hover:bg-selected'} ${quiet && !pressed ? '!hidden group-focus-within:!grid group-hover:!grid' : ''}`}
  >
    {children}
  </button>
);

interface PartLineProps {
  readonly part: Part;
  readonly look: PartLook;
  readonly number: number;
  /** How many findings are open. */
  readonly findings: number;
  /** Puts a part in another place, from 0. */
  readonly onMove: (partId: PartId, to: number) => void;
  /** Among many parts a line is low, and shows only what is switched on. */
  readonly low: boolean;
}

/** Where a name is cut, its number stays: "Clarinet in… 7". */
const PartName = ({ name, front }: { name: string; front: boolean }) => {
  const [, stem = name, ending = ''] = /^(.*\S) (\S{1,3})$/.exec(name) ?? [];
  return (
    <span className={`flex ${front ? 'font-semibold' : ''}`} title={name}>
      <span className="truncate">{stem}</span>
      {ending && <span className="shrink-0 whitespace-pre"> {ending}</span>}
    </span>
  );
};

/** How many findings a part has; goes to them. A low line keeps the room where there are none. */
const FindingsOfPart = ({ part, count, quiet }: { part: Part; count: number; quiet: boolean }) => {
  const dispatch = useAppDispatch();
  if (count === 0) return quiet && <span className="min-w-10" />;
  return (
    <button
      type="button"
      className={`ml-auto whitespace-nowrap px-1 text-right text-sm text-fold-ink underline-offset-2 hover:underline ${quiet ? 'min-w-10' : ''}`}
      aria-label={counted(count, 'finding')}
      title={`See what the checks noticed in ${part.name}`}
      onClick={() => {
        dispatch(checksActions.findingPartChosen(part.id));
        dispatch(layoutActions.panelShown('findings'));
      }}
    >
      {count}
      <Flag size={12} aria-hidden className="ml-0.5 inline" />
    </button>
  );
};

const PartLine = memo(({ part, look, number, findings, onMove, low }: PartLineProps) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const front = useAppSelector(({ partsShown }) => partsShown.frontPartId === part.id);
  const hidden = useAppSelector(({ partsShown }) => partsShown.hidden.includes(part.id));
  const muted = useAppSelector(({ partsShown }) => partsShown.muted.includes(part.id));
  const soloed = useAppSelector(({ partsShown }) => partsShown.soloed.includes(part.id));
  const locked = useAppSelector(({ partsShown }) => partsShown.locked.includes(part.id));
  const othersHidden = useAppSelector(
    ({ partsShown, piece }) =>
      partsShown.hidden.length > 0 && partsShown.hidden.length === (piece.arrangement?.parts.length ?? 0) - 1,
  );
  const alone = !hidden && othersHidden;
  const { name } = part;
  const quiet = low && !front;
  const { listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: part.id });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform && { ...transform, x: 0 }), transition }}
      className={`group border-b border-l-4 border-b-rule ${quiet ? 'flex items-center' : ''} ${front ? 'border-l-fold bg-sheet' : 'border-l-transparent'} ${isDragging ? 'relative z-10 bg-selected' : ''}`}
      aria-current={front ? 'true' : undefined}
    >
      <button
        type="button"
        {...listeners}
        onKeyDown={(event) => {
          if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
          event.preventDefault();
          event.stopPropagation();
          onMove(part.id, number - 1 + (event.key === 'ArrowUp' ? -1 : 1));
        }}
        className={`flex min-w-0 items-start gap-2 px-2 text-left ${quiet ? 'min-h-7 flex-1 items-center overflow-hidden' : 'w-full pt-2'} ${front ? '' : 'hover:bg-shade'} ${hidden ? 'opacity-70' : ''}`}
        title={`Bring ${name} to the front${number <= 9 ? ` (Alt+${number})` : ''}. Drag, or Alt and an arrow key, to move it`}
        onClick={() => dispatch(partsShownActions.partBroughtForward(part.id))}
      >
        <span className="mt-1">
          <EdgeMark look={look} />
        </span>
        <span className="min-w-0 flex-1">
          <PartName name={name} front={front} />
          {!quiet && <span className="block truncate text-sm text-soft">{counted(part.notes.length, 'note')}</span>}
        </span>
        {quiet && (
          <span className="text-sm tabular-nums text-soft group-focus-within:hidden group-hover:hidden">
            {part.notes.length}
          </span>
        )}
      </button>
      {front && <InstrumentChoice part={part} />}
      <div
        className={`flex items-center gap-0.5 ${quiet ? 'shrink-0 pr-1' : 'pb-1.5 pl-9 pr-2 pointer-coarse:flex-wrap pointer-coarse:gap-0 pointer-coarse:pl-2'}`}
        role="group"
        aria-label={name}
      >
        <Small
          quiet={quiet}
          label={hidden ? `Show ${name}` : `Hide ${name}`}
          hint={keyOf('hidePart')}
          pressed={hidden}
          onClick={() => dispatch(partsShownActions.partHiddenToggled(part.id))}
        >
          {hidden ? <EyeOff size={14} aria-hidden /> : <Eye size={14} aria-hidden />}
        </Small>
        <Small
          quiet={quiet}
          label={`Show ${name} alone`}
          hint={keyOf('alone')}
          pressed={alone}
          onClick={() => dispatch(showAlone(part.id))}
        >
          <Focus size={14} aria-hidden />
        </Small>
        <Small
          quiet={quiet}
          label={`Mute ${name}`}
          hint={keyOf('mute')}
          pressed={muted}
          onClick={() => dispatch(partsShownActions.partMuteToggled(part.id))}
        >
          {muted ? <VolumeX size={14} aria-hidden /> : <Volume2 size={14} aria-hidden />}
        </Small>
        <Small
          quiet={quiet}
          label={`Solo ${name}`}
          hint={keyOf('solo')}
          pressed={soloed}
          onClick={() => dispatch(partsShownActions.partSoloToggled(part.id))}
        >
          <Headphones size={14} aria-hidden />
        </Small>
        <Small
          quiet={quiet}
          label={locked ? `Unlock ${name}` : `Lock ${name}: seen and heard, not edited`}
          hint={keyOf('lock')}
          pressed={locked}
          onClick={() => dispatch(partsShownActions.partLockToggled(part.id))}
        >
          {locked ? <Lock size={14} aria-hidden /> : <LockOpen size={14} aria-hidden />}
        </Small>
        <FindingsOfPart part={part} count={findings} quiet={quiet} />
      </div>
    </li>
  );
});

/** Which instrument the front part is written for: what was guessed, why, and another in its place. */
const InstrumentChoice = ({ part }: { part: Part }) => {
  const keyOf = useKeyOf();
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const { instrument, instrumentFrom, trackName } = part;
  const arrangement = useAppSelector(selectArrangement);
  const choose = (id: string) => {
    dispatch(commit(changeInstrument(arrangement, part, id)));
    const heard = part.notes[0];
    void player.sound({ ...part, instrument: id }, heard?.pitch ?? 60, heard?.velocity ?? 80);
  };
  const why = instrumentFrom ? GUESSED[instrumentFrom] : 'chosen by you';
  return (
    <div className="pb-1 pl-8 pr-2 text-sm">
      <select
        aria-label={`Instrument of ${part.name}`}
        title={`Written for this instrument, ${why}`}
        className="min-h-7 w-full border border-strong bg-sheet px-1"
        value={instrument}
        onChange={(event) => choose(event.target.value)}
      >
        <InstrumentOptions />
      </select>
      <div className="flex items-baseline gap-2">
        <p
          className="min-w-0 flex-1 truncate text-soft"
          title={trackName ? `The file calls it “${trackName}”` : undefined}
        >
          {why}
          {trackName ? `; file: “${trackName}”` : ''}
        </p>
        <button
          type="button"
          aria-label={`Settings of ${part.name}`}
          className="min-h-6 underline underline-offset-2 hover:bg-shade"
          title={`Name, instrument, channel and start of ${part.name} (${keyOf('partSettings')})`}
          onClick={() => dispatch(layoutActions.toolShown('part'))}
        >
          Settings
        </button>
      </div>
    </div>
  );
};

/** Parts that look like those of one player are offered as one, until that is declined. */
const OnePlayerOffer = () => {
  const dispatch = useAppDispatch();
  const { parts } = useAppSelector(selectArrangement);
  const [declined, setDeclined] = useState<readonly PartId[]>([]);
  const offer = useMemo(
    () => partsOfOnePlayer({ parts }).find(({ partIds: [first] }) => first && !declined.includes(first)),
    [parts, declined],
  );
  const first = offer?.partIds[0];
  if (!offer || first === undefined) return null;
  return (
    <div role="status" className="border-t border-strong bg-selected px-3 py-2 text-sm">
      <p>
        {listed(parts.filter(({ id }) => offer.partIds.includes(id)).map(({ name }) => name))} look like {offer.what}:{' '}
        {offer.reason}.
      </p>
      <div className="flex gap-1 pt-1">
        <Button
          onClick={() => {
            dispatch(partsShownActions.partBroughtForward(first));
            dispatch(layoutActions.toolShown('combineParts'));
          }}
        >
          Make them one
        </Button>
        <Button look="quiet" onClick={() => setDeclined([...declined, first])}>
          Leave them
        </Button>
      </div>
    </div>
  );
};

/** A press begins a drag after so many pixels. One object: another would have every line drawn again. */
const FROM_A_DISTANCE = { activationConstraint: { distance: 6 } };

/** With more parts than this their lines are low, stand in families, and can be searched. */
const MOST_WITH_ROOM = 12;

const FAMILY_NAMES: { readonly [family in Family]: string } = {
  woodwind: 'Woodwind',
  brass: 'Brass',
  mallet: 'Mallets',
  percussion: 'Percussion',
  keyboard: 'Keyboards',
  plucked: 'Plucked',
  voice: 'Voices',
  strings: 'Strings',
  other: 'Others',
};

/** Parts by family, each family where its first part stands. */
export const byFamily = (parts: readonly Part[]): readonly { readonly family: Family; readonly parts: Part[] }[] => {
  const families = new Map<Family, Part[]>();
  for (const part of parts) {
    const { family } = instrumentById(part.instrument);
    const list = families.get(family);
    if (list) list.push(part);
    else families.set(family, [part]);
  }
  return [...families].map(([family, own]) => ({ family, parts: own }));
};

/** A family's line: folds its parts away, and shows or hides them in one sweep. */
const FamilyLine = ({
  family,
  parts,
  folded,
  onFold,
}: {
  family: Family;
  parts: readonly Part[];
  folded: boolean;
  onFold: () => void;
}) => {
  const dispatch = useAppDispatch();
  const allHidden = useAppSelector(({ partsShown }) => parts.every((part) => partsShown.hidden.includes(part.id)));
  const name = FAMILY_NAMES[family];
  return (
    <li className="flex items-center gap-1 border-b border-rule bg-shade px-1 text-sm">
      <button
        type="button"
        aria-expanded={!folded}
        className="flex min-h-7 min-w-0 flex-1 items-center gap-1 text-left font-serif"
        onClick={onFold}
      >
        {folded ? <ChevronRight size={14} aria-hidden /> : <ChevronDown size={14} aria-hidden />}
        {name} <span className="text-soft">{parts.length}</span>
      </button>
      <Small
        label={allHidden ? `Show all of ${name}` : `Hide all of ${name}`}
        pressed={allHidden}
        onClick={() =>
          dispatch(partsShownActions.partsHidden({ ids: parts.map((part) => part.id), hidden: !allHidden }))
        }
      >
        {allHidden ? <EyeOff size={14} aria-hidden /> : <Eye size={14} aria-hidden />}
      </Small>
    </li>
  );
};

/** Folds the rail away to its marks, or out. */
const FoldButton = ({ folded }: { folded: boolean }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  return (
    <Small
      label={folded ? 'Fold the list of parts out' : 'Fold the list of parts away'}
      hint={keyOf('partsFolded')}
      pressed={false}
      onClick={() => dispatch(switched('partsFolded'))}
    >
      {folded ? <ChevronsRight size={16} aria-hidden /> : <ChevronsLeft size={16} aria-hidden />}
    </Small>
  );
};

/** The marks of all parts: each brings its part to the front. */
const FoldedRail = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const looks = usePartLooks();
  return (
    <nav aria-label="Parts" className="flex h-full flex-col items-center gap-1 border-r border-strong py-1">
      <FoldButton folded />
      {arrangement.parts.map((part) => (
        <button
          key={part.id}
          type="button"
          aria-label={`Bring ${part.name} to the front`}
          title={part.name}
          className="p-0.5 hover:bg-selected"
          onClick={() => dispatch(partsShownActions.partBroughtForward(part.id))}
        >
          <EdgeMark look={looks.get(part.id) as PartLook} />
        </button>
      ))}
    </nav>
  );
};

/** A part sought by its name: Enter brings the first that is found to the front. */
const PartSearch = ({
  sought,
  onSought,
  first,
}: {
  sought: string;
  onSought: (sought: string) => void;
  first: Part | undefined;
}) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const searching = useAppSelector(({ layout }) => layout.partSearch);
  const search = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (searching) search.current?.focus();
  }, [searching]);
  return (
    <input
      ref={search}
      type="search"
      aria-label="Find a part"
      placeholder={`Find a part (${keyOf('findPart')})`}
      className="mx-2 my-1 min-h-7 border border-strong bg-sheet px-1.5 text-sm"
      value={sought}
      onChange={(event) => onSought(event.target.value)}
      onBlur={() => sought === '' && dispatch(layoutActions.partSought(false))}
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          event.stopPropagation();
          onSought('');
          event.currentTarget.blur();
        }
        if (event.key !== 'Enter' || !first) return;
        dispatch(partsShownActions.partBroughtForward(first.id));
        dispatch(said(`${first.name} in front, ${counted(first.notes.length, 'note')}`));
        onSought('');
        event.currentTarget.blur();
      }}
    />
  );
};

export const PartRail = ({ onAdd }: { onAdd: () => void }) => {
  const dispatch = useAppDispatch();
  const folded = useAppSelector(({ layout }) => layout.partsFolded);
  const arrangement = useAppSelector(selectArrangement);
  const looks = usePartLooks();
  const all = useAppSelector(selectFindings);
  const open = useMemo(() => openByPart(all, arrangement.parts), [all, arrangement.parts]);
  const store = useStore<RootState>();
  const onMove = useCallback(
    (partId: PartId, to: number) => {
      const edit = movePart(selectArrangement(store.getState()), partId, to);
      dispatch(commit(edit));
      if (edit) dispatch(said(edit.label));
    },
    [dispatch, store],
  );
  const many = arrangement.parts.length > MOST_WITH_ROOM;
  const orderKey = arrangement.parts.map((part) => part.id).join();
  // The same list for the same order: every line is drawn again with another one.
  const order = useMemo(() => orderKey.split(',').map(Number), [orderKey]);
  const searching = useAppSelector(({ layout }) => layout.partSearch);
  const [sought, setSought] = useState('');
  const [foldedFamilies, setFoldedFamilies] = useState<readonly Family[]>([]);
  const found = useMemo(
    () => arrangement.parts.filter((part) => part.name.toLowerCase().includes(sought.trim().toLowerCase())),
    [arrangement.parts, sought],
  );
  const families = useMemo(
    () => (many ? byFamily(found) : [{ family: 'other' as Family, parts: found }]),
    [many, found],
  );
  const sensors = useSensors(useSensor(MouseSensor, FROM_A_DISTANCE));
  const dropped = ({ active, over }: DragEndEvent) => {
    const to = arrangement.parts.findIndex((part) => part.id === over?.id);
    if (to >= 0) onMove(active.id as PartId, to);
  };
  if (folded) return <FoldedRail />;
  return (
    <nav aria-label="Parts" className="flex h-full flex-col overflow-hidden border-r border-strong">
      <header className="flex items-center gap-1 border-b border-strong px-3 py-1">
        <h2 className="flex-1 font-serif text-lg">Parts</h2>
        <Button
          look="quiet"
          className="!gap-0 whitespace-pre !px-1.5 text-sm"
          title="Add parts from .mid files or MusicXML scores"
          onClick={onAdd}
        >
          Add<span className="max-[1150px]:sr-only"> parts</span>
        </Button>
        <FoldButton folded={false} />
      </header>
      {(many || searching) && <PartSearch sought={sought} onSought={setSought} first={found[0]} />}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
        <SortableContext items={order} strategy={verticalListSortingStrategy}>
          <ul className="min-h-0 flex-1 overflow-y-auto overflow-x-hidden">
            {found.length === 0 && sought !== '' && (
              <li className="px-3 py-2 text-sm text-soft">No part is called that.</li>
            )}
            {families.map(({ family, parts }) => (
              <Fragment key={family}>
                {many && (
                  <FamilyLine
                    family={family}
                    parts={parts}
                    folded={foldedFamilies.includes(family)}
                    onFold={() =>
                      setFoldedFamilies((now) =>
                        now.includes(family) ? now.filter((one) => one !== family) : [...now, family],
                      )
                    }
                  />
                )}
                {(many && sought === '' && foldedFamilies.includes(family) ? [] : parts).map((part) => (
                  <PartLine
                    key={part.id}
                    part={part}
                    look={looks.get(part.id) as PartLook}
                    number={arrangement.parts.indexOf(part) + 1}
                    findings={open.get(part.id) ?? 0}
                    onMove={onMove}
                    low={many}
                  />
                ))}
              </Fragment>
            ))}
          </ul>
        </SortableContext>
      </DndContext>
      <OnePlayerOffer />
      <p className="border-t border-rule px-3 py-2 text-sm text-soft">
        New notes go to the front part. Drop more .mid files or scores here to add parts.
      </p>
    </nav>
  );
};
