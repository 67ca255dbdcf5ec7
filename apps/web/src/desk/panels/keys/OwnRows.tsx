/** The list of one's own: its rows, and one that is being made from the commands listed above it. */

import { Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import type { Command } from '../../actions/commands/command.js';
import { useAppDispatch } from '../../session/desk.js';
import { setRows } from '../../session/preferences.js';
import { LISTS } from '../../state/keyTable.js';
import { type OwnRow, rowProblem, withRow } from '../../state/ownList.js';
import { useAppSelector } from '../../state/root.js';
import { said } from '../../state/speechSlice.js';

const namesOf = (row: OwnRow, commands: readonly Command[]): string =>
  row.commands.map((id) => commands.find((command) => command.id === id)?.name ?? id).join(', then ');

const FIELD = 'min-h-7 min-w-0 border border-strong bg-sheet px-1';

export const OwnRows = ({
  commands,
  making,
  onMaking,
}: {
  commands: readonly Command[];
  making: OwnRow | null;
  onMaking: (row: OwnRow | null) => void;
}) => {
  const dispatch = useAppDispatch();
  const rows = useAppSelector(({ keys }) => keys.rows);
  const key = LISTS.own.key.toUpperCase();
  const keep = () => {
    if (!making) return;
    const problem = rowProblem(making);
    if (problem) {
      toast.error(problem);
      dispatch(said(problem));
      return;
    }
    dispatch(setRows(withRow(rows, making)));
    dispatch(said(`${making.name}: ${key}, ${making.letter.toUpperCase()}`));
    onMaking(null);
  };
  return (
    <section aria-label="A list of your own" className="flex flex-col gap-2 border-t border-rule pt-2">
      <h3 className="font-serif text-base">A list of your own ({key})</h3>
      {rows.length === 0 && !making && (
        <p className="text-soft">What you do often, one command or several under one letter.</p>
      )}
      <ul className="flex flex-col">
        {rows.map((row) => (
          <li key={row.letter} className="flex items-center gap-2 border-b border-rule py-1">
            <kbd className="w-5 shrink-0 border border-strong bg-shade text-center font-sans">
              {row.letter.toUpperCase()}
            </kbd>
            <button
              type="button"
              className="min-w-0 flex-1 text-left hover:underline"
              title="Change this row"
              onClick={() => onMaking(row)}
            >
              {row.name} <span className="text-soft">{namesOf(row, commands)}</span>
            </button>
            <Button
              look="quiet"
              className="!px-1"
              aria-label={`Remove ${row.name} from your list`}
              onClick={() => dispatch(setRows(rows.filter((own) => own !== row)))}
            >
              <Trash2 size={14} aria-hidden />
            </Button>
          </li>
        ))}
      </ul>
      {making ? (
        <div className="flex flex-col gap-2">
          <span className="flex gap-2">
            <input
              aria-label="Letter of the row"
              className={`${FIELD} w-10 text-center`}
              maxLength={1}
              value={making.letter}
              onChange={({ target }) => onMaking({ ...making, letter: target.value.toLowerCase() })}
            />
            <input
              aria-label="Name of the row"
              className={`${FIELD} flex-1`}
              value={making.name}
              onChange={({ target }) => onMaking({ ...making, name: target.value })}
            />
          </span>
          <p>
            {making.commands.length === 0 ? (
              <span className="text-soft">Seek commands above and add them, in the order in which they are done.</span>
            ) : (
              namesOf(making, commands)
            )}
          </p>
          <span className="flex gap-1">
            <Button look="main" onClick={keep}>
              Keep the row
            </Button>
            <Button
              disabled={making.commands.length === 0}
              onClick={() => onMaking({ ...making, commands: making.commands.slice(0, -1) })}
            >
              Without the last
            </Button>
            <Button onClick={() => onMaking(null)}>Leave it</Button>
          </span>
        </div>
      ) : (
        <Button className="self-start" onClick={() => onMaking({ letter: '', name: '', commands: [] })}>
          Make a row
        </Button>
      )}
    </section>
  );
};
