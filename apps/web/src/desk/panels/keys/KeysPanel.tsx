/** Keys of one's own: a command is sought, its next key pressed; whoever had that key is named before it goes without. */

import { Plus, Undo2 } from 'lucide-react';
import { type KeyboardEvent, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { FileButtons } from '../../../ui/FileButtons.js';
import { counted } from '../../../ui/words.js';
import { type CommandContext, commandById } from '../../actions/commands/command.js';
import { rankOf } from '../../actions/commands/rank.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch } from '../../session/desk.js';
import { giveKeys, setRows } from '../../session/preferences.js';
import { type CommandId, keyName } from '../../state/keyTable.js';
import { layoutActions } from '../../state/layoutSlice.js';
import {
  commandOfKey,
  keyProblem,
  keysFromFile,
  keysIn,
  keysToFile,
  opensList,
  strokeOf,
  withKey,
  withReadyKeys,
} from '../../state/ownKeys.js';
import { MOST_IN_ROW, type OwnRow } from '../../state/ownList.js';
import { useAppSelector } from '../../state/root.js';
import { said } from '../../state/speechSlice.js';
import { OwnRows } from './OwnRows.js';
import { PrintedKeys } from './PrintedKeys.js';

/** Its keys, as they stand on the button. */
const keyWords = (own: Parameters<typeof keysIn>[0], id: CommandId): string =>
  keysIn(own, id).map(keyName).join(' or ') || 'none';

/** A key that is being given: the command, the stroke that opened a list, and a key that another command has. */
interface Giving {
  readonly id: CommandId;
  readonly leader: string | null;
  readonly asks: { readonly key: string; readonly of: CommandId } | null;
}

/** Without a word that is sought, those with keys of one's own are listed. */
const MOST_LISTED = 60;

/** A key that is being given: pressed, asked about where another command has it, and given. */
const useGiving = (nameOf: (id: CommandId) => string) => {
  const dispatch = useAppDispatch();
  const own = useAppSelector(({ keys }) => keys.own);
  const [giving, setGiving] = useState<Giving | null>(null);
  const give = (id: CommandId, key: string) => {
    dispatch(giveKeys(withKey(own, id, key)));
    setGiving(null);
    dispatch(said(`${nameOf(id)}: ${keyName(key)}`));
  };
  const onPress = (event: KeyboardEvent) => {
    if (!giving) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === 'Escape') {
      setGiving(null);
      return;
    }
    const stroke = strokeOf({ ...pressOf(event) });
    if (!stroke) return;
    if (giving.leader === null && opensList(stroke)) {
      setGiving({ ...giving, leader: stroke, asks: null });
      return;
    }
    const key = giving.leader === null ? stroke : `${giving.leader} ${stroke}`;
    const problem = keyProblem(key);
    if (problem) {
      toast.error(problem);
      dispatch(said(problem));
      setGiving({ ...giving, leader: null, asks: null });
      return;
    }
    const before = commandOfKey(own, key);
    if (before && before !== giving.id) {
      setGiving({ ...giving, leader: null, asks: { key, of: before } });
      dispatch(said(`${keyName(key)} is the key of ${nameOf(before)}.`));
    } else give(giving.id, key);
  };
  return { giving, setGiving, give, onPress };
};

export const KeysPanel = ({ context }: { context: CommandContext }) => {
  const { commands } = context;
  const nameOf = (id: CommandId): string => commandById(context, id)?.name ?? id;
  const dispatch = useAppDispatch();
  const own = useAppSelector(({ keys }) => keys.own);
  const rows = useAppSelector(({ keys }) => keys.rows);
  const [typed, setTyped] = useState('');
  const [making, setMaking] = useState<OwnRow | null>(null);
  const [printing, setPrinting] = useState(false);
  const listed = commands
    .filter(({ id, name }) => {
      if (typed.trim() !== '') return rankOf(name, typed) > 0 || keysIn(own, id).map(keyName).includes(typed.trim());
      return own[id] !== undefined;
    })
    .slice(0, MOST_LISTED);

  const { giving, setGiving, give, onPress } = useGiving(nameOf);

  const changed = Object.keys(own).length;
  return (
    <SettingsPanel
      title="Keys"
      explanation="Give a command another key: one, or the key of a list and a letter. They are kept in this browser."
      onClose={() => dispatch(layoutActions.toolShown(null))}
    >
      <div className="flex flex-col gap-3 text-sm">
        <input
          type="search"
          aria-label="Search commands"
          placeholder="a command, or a key such as L, C"
          className="min-h-8 border border-strong bg-sheet px-2"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <p role="status" className="text-soft">
          {typed.trim() === ''
            ? `${counted(changed, 'command')} with keys of your own.`
            : counted(listed.length, 'command')}
        </p>
        <ul className="flex flex-col">
          {listed.map(({ id, name }) => (
            <li key={id} className="flex flex-wrap items-center gap-2 border-b border-rule py-1">
              <span className="min-w-0 flex-1">{name}</span>
              {making && making.commands.length < MOST_IN_ROW && (
                <Button
                  className="!min-h-7 !px-1.5"
                  aria-label={`Add ${name} to the row`}
                  title="Add it to the row that is being made"
                  onClick={() => setMaking({ ...making, commands: [...making.commands, id] })}
                >
                  <Plus size={14} aria-hidden />
                </Button>
              )}
              {giving?.id === id ? (
                <Asking
                  taken={giving.asks ? nameOf(giving.asks.of) : ''}
                  giving={giving}
                  onPress={onPress}
                  onTake={(key) => give(id, key)}
                  onLeave={() => setGiving(null)}
                />
              ) : (
                <>
                  <Button
                    className="!min-h-7"
                    aria-label={`${keyWords(own, id)}: another key for ${name}`}
                    title="Press another key for it"
                    onClick={() => setGiving({ id, leader: null, asks: null })}
                  >
                    {keyWords(own, id)}
                  </Button>
                  {own[id] && (
                    <Button
                      look="quiet"
                      className="!px-1"
                      aria-label={`The ready key of ${name} again`}
                      title="Its ready key again"
                      onClick={() => dispatch(giveKeys(withReadyKeys(own, id)))}
                    >
                      <Undo2 size={14} aria-hidden />
                    </Button>
                  )}
                </>
              )}
            </li>
          ))}
        </ul>
        <OwnRows commands={commands} making={making} onMaking={setMaking} />
        {printing && <PrintedKeys commands={commands} onPrinted={() => setPrinting(false)} />}
        <div className="flex flex-wrap gap-1">
          <FileButtons
            label="Keys file"
            opens="Bring keys from a file"
            takes="Take your keys away as a file"
            onOpened={(text) => {
              const read = keysFromFile(text);
              if (read.ok) {
                dispatch(giveKeys(read.keys));
                dispatch(setRows(read.rows));
              } else toast.error(read.message);
            }}
            file={() => ({ name: 'crisp-fold-keys.json', text: keysToFile(own, rows) })}
          />
          <Button look="quiet" disabled={changed === 0} onClick={() => dispatch(giveKeys({}))}>
            All ready keys again
          </Button>
          <Button look="quiet" onClick={() => setPrinting(true)}>
            Print all keys
          </Button>
        </div>
      </div>
    </SettingsPanel>
  );
};

const pressOf = ({ key, code, shiftKey, ctrlKey, metaKey, altKey }: KeyboardEvent) => ({
  key,
  code,
  shiftKey,
  ctrlKey,
  metaKey,
  altKey,
});

/** Waits for a key; where another command has it, asks. */
const Asking = ({
  giving: { leader, asks },
  taken,
  onPress,
  onTake,
  onLeave,
}: {
  giving: Giving;
  /** The command that has the key which is asked for. */
  taken: string;
  onPress: (event: KeyboardEvent) => void;
  onTake: (key: string) => void;
  onLeave: () => void;
}) =>
  asks ? (
    <span role="alert" className="flex w-full flex-wrap items-center gap-2">
      {keyName(asks.key)} is the key of “{taken}”.
      <Button look="main" className="!min-h-7" onClick={() => onTake(asks.key)}>
        Take it
      </Button>
      <Button className="!min-h-7" onClick={onLeave}>
        Leave it
      </Button>
    </span>
  ) : (
    <button
      type="button"
      className="min-h-7 border border-fold bg-selected px-2"
      // biome-ignore lint/a11y/noAutofocus: the person has just asked to press a key here
      autoFocus
      onKeyDown={onPress}
      onBlur={onLeave}
    >
      {leader ? `${keyName(leader)}, then a letter…` : 'Press a key…'}
    </button>
  );
