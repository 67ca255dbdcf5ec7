/** The rail of parts: which is in front, which are seen and heard. */
import { INSTRUMENTS, instrumentById, type Part } from '@crispfold/core';
import {
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
import { memo, useMemo } from 'react';
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { Button } from '../../../ui/Button.js';
import { useValue } from '../../../ui/valueStore.js';
import { counted } from '../../../ui/words.js';
import { keyOf } from '../commands/keyTable.js';
import { deskActions } from '../deskSlice.js';
import { allFindings, openByPart } from '../findings/findingList.js';
import { type PartLook, usePartLooks } from '../partLook.js';
import { commit } from '../saving.js';
import { selectArrangement } from '../selectors.js';
import { EdgeMark } from './EdgeMark.js';

const Small = ({
  label,
  pressed,
  hint,
  onClick,
  children,
}: {
  label: string;
  pressed: boolean;
  hint?: string;
  onClick: () => void;
  children: React.ReactNode;
}) => (
  <button
    type="button"
    aria-label={label}
    aria-pressed={pressed}
    title={hint ? `${label} (${hint})` : label}
    onClick={onClick}
    className={`grid size-6 place-items-center rounded-sm text-sm font-semibold ${pressed ? 'bg-ink text-sheet' : 'hover:bg-selected'}`}
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
}

const PartLine = memo(({ part, look, number, findings }: PartLineProps) => {
  const dispatch = useAppDispatch();
  const front = useAppSelector(({ desk }) => desk.frontPartId === part.id);
  const hidden = useAppSelector(({ desk }) => desk.hidden.includes(part.id));
  const muted = useAppSelector(({ desk }) => desk.muted.includes(part.id));
  const soloed = useAppSelector(({ desk }) => desk.soloed.includes(part.id));
  const locked = useAppSelector(({ desk }) => desk.locked.includes(part.id));
  const othersHidden = useAppSelector(
    ({ desk }) => desk.hidden.length > 0 && desk.hidden.length === (desk.arrangement?.parts.length ?? 0) - 1,
  );
  const alone = !hidden && othersHidden;
  const { name } = part;
  return (
    <li
      className={`border-b border-l-4 border-b-rule ${front ? 'border-l-fold bg-sheet' : 'border-l-transparent'}`}
      aria-current={front ? 'true' : undefined}
    >
      <button
        type="button"
        className={`flex w-full items-start gap-2 px-2 pt-2 text-left ${front ? '' : 'hover:bg-shade'} ${hidden ? 'opacity-70' : ''}`}
        title={`Bring ${name} to the front${number <= 9 ? ` (Alt+${number})` : ''}`}
        onClick={() => dispatch(deskActions.partBroughtForward(part.id))}
      >
        <span className="mt-1">
          <EdgeMark look={look} />
        </span>
        <span className="min-w-0 flex-1">
          <span className={`block truncate ${front ? 'font-semibold' : ''}`}>{name}</span>
          <span className="block truncate text-sm text-soft">{counted(part.notes.length, 'note')}</span>
        </span>
      </button>
      {front && <InstrumentChoice part={part} />}
      <div className="flex items-center gap-0.5 pb-1.5 pl-9 pr-2" role="group" aria-label={name}>
        <Small
          label={hidden ? `Show ${name}` : `Hide ${name}`}
          hint={keyOf('hidePart')}
          pressed={hidden}
          onClick={() => dispatch(deskActions.partHiddenToggled(part.id))}
        >
          {hidden ? <EyeOff size={14} aria-hidden /> : <Eye size={14} aria-hidden />}
        </Small>
        <Small
          label={`Show ${name} alone`}
          hint={keyOf('alone')}
          pressed={alone}
          onClick={() => dispatch(deskActions.partAloneToggled(part.id))}
        >
          <Focus size={14} aria-hidden />
        </Small>
        <Small
          label={`Mute ${name}`}
          hint={keyOf('mute')}
          pressed={muted}
          onClick={() => dispatch(deskActions.partMuteToggled(part.id))}
        >
          {muted ? <VolumeX size={14} aria-hidden /> : <Volume2 size={14} aria-hidden />}
        </Small>
        <Small
          label={`Solo ${name}`}
          hint={keyOf('solo')}
          pressed={soloed}
          onClick={() => dispatch(deskActions.partSoloToggled(part.id))}
        >
          <Headphones size={14} aria-hidden />
        </Small>
        <Small
          label={locked ? `Unlock ${name}` : `Lock ${name}: seen and heard, not edited`}
          hint={keyOf('lock')}
          pressed={locked}
          onClick={() => dispatch(deskActions.partLockToggled(part.id))}
        >
          {locked ? <Lock size={14} aria-hidden /> : <LockOpen size={14} aria-hidden />}
        </Small>
        {findings > 0 && (
          <button
            type="button"
            className="ml-auto whitespace-nowrap px-1 text-sm text-fold-ink underline-offset-2 hover:underline"
            aria-label={counted(findings, 'finding')}
            title={`See what the checks noticed in ${name}`}
            onClick={() => {
              dispatch(deskActions.findingPartChosen(part.id));
              dispatch(deskActions.panelShown('findings'));
            }}
          >
            {findings}
            <Flag size={12} aria-hidden className="ml-0.5 inline" />
          </button>
        )}
      </div>
    </li>
  );
});

const GUESSED: { readonly [From in NonNullable<Part['instrumentFrom']>]: string } = {
  program: 'as its program says',
  name: 'as its name says',
  channel: 'as its channel says',
  nothing: 'nothing says which',
};

/** Which instrument the front part is written for: what was guessed, why, and another in its place. */
const InstrumentChoice = ({ part }: { part: Part }) => {
  const dispatch = useAppDispatch();
  const { instrument, instrumentFrom, trackName } = part;
  const choose = (id: string) => {
    const fields = { instrument, instrumentFrom };
    const change = { kind: 'partFields' as const, partId: part.id, before: fields, after: { instrument: id } };
    dispatch(commit({ label: `${part.name}: written for ${instrumentById(id).name}`, changes: [change] }));
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
        {INSTRUMENTS.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
      <p className="truncate text-soft" title={trackName ? `The file calls it “${trackName}”` : undefined}>
        {why}
        {trackName ? `; file: “${trackName}”` : ''}
      </p>
    </div>
  );
};

export const PartRail = ({ onAdd }: { onAdd: () => void }) => {
  const dispatch = useAppDispatch();
  const folded = useAppSelector(({ desk }) => desk.partsFolded);
  const arrangement = useAppSelector(selectArrangement);
  const looks = usePartLooks();
  const all = useValue(allFindings);
  const open = useMemo(() => openByPart(all, arrangement.parts), [all, arrangement.parts]);
  const fold = (
    <Small
      label={folded ? 'Fold the list of parts out' : 'Fold the list of parts away'}
      hint={keyOf('partsFolded')}
      pressed={false}
      onClick={() => dispatch(deskActions.switched('partsFolded'))}
    >
      {folded ? <ChevronsRight size={16} aria-hidden /> : <ChevronsLeft size={16} aria-hidden />}
    </Small>
  );
  if (folded) {
    return (
      <nav aria-label="Parts" className="flex h-full flex-col items-center gap-1 border-r border-strong py-1">
        {fold}
        {arrangement.parts.map((part) => (
          <button
            key={part.id}
            type="button"
            aria-label={`Bring ${part.name} to the front`}
            title={part.name}
            className="p-0.5 hover:bg-selected"
            onClick={() => dispatch(deskActions.partBroughtForward(part.id))}
          >
            <EdgeMark look={looks.get(part.id) as PartLook} />
          </button>
        ))}
      </nav>
    );
  }
  return (
    <nav aria-label="Parts" className="flex h-full flex-col overflow-hidden border-r border-strong">
      <header className="flex items-center gap-1 border-b border-strong px-3 py-1">
        <h2 className="flex-1 font-serif text-lg">Parts</h2>
        <Button
          look="quiet"
          className="!gap-0 whitespace-pre !px-1.5 text-sm"
          title="Add parts from .mid files"
          onClick={onAdd}
        >
          Add<span className="max-[1150px]:sr-only"> parts</span>
        </Button>
        {fold}
      </header>
      <ul className="min-h-0 flex-1 overflow-y-auto">
        {arrangement.parts.map((part, index) => (
          <PartLine
            key={part.id}
            part={part}
            look={looks.get(part.id) as PartLook}
            number={index + 1}
            findings={open.get(part.id) ?? 0}
          />
        ))}
      </ul>
      <p className="border-t border-rule px-3 py-2 text-sm text-soft">
        New notes go to the front part. Drop more .mid files here to add parts.
      </p>
    </nav>
  );
};
