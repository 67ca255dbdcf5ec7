/** Keys that a person gave commands instead of the ready ones; taken away and brought back as a file. */
import { ownFileText, readOwnFile } from '@crispfold/contract';
import { type CommandId, KEYS, keyName, LISTS, type ListId } from './keyTable.js';
import { type OwnRow, tidyRows } from './ownList.js';

/** For each command that has keys of its own: all of them, none where it was left without. */
export type OwnKeys = { readonly [id in CommandId]?: readonly string[] };

const FILE = {
  format: 'crisp-fold-keys',
  version: 1,
  denial: 'These are no keys of Crisp Fold',
  subject: 'These keys are',
};

const isCommand = (id: string): id is CommandId => Object.hasOwn(KEYS, id);

/** What react-hotkeys-hook calls keys that are no letters or digits. */
const NAMED: { readonly [key: string]: string } = {
  ' ': 'space',
  '.': 'period',
  ',': 'comma',
  '/': 'slash',
  '=': 'equal',
  '+': 'equal',
  '-': 'minus',
  '[': 'bracketleft',
  ']': 'bracketright',
  ArrowUp: 'up',
  ArrowDown: 'down',
  ArrowLeft: 'left',
  ArrowRight: 'right',
  Escape: 'escape',
  PageUp: 'pageup',
  PageDown: 'pagedown',
  Backspace: 'backspace',
  Delete: 'delete',
  Home: 'home',
  End: 'end',
  Enter: 'enter',
};

/** Keys that are the browser's, the system's or a screen reader's own, and what is said of them. */
const TAKEN =
  /^(tab|enter|insert|capslock|f\d+|mod\+[nrtwlpqjhdfo]|mod\+(tab|\d|equal|minus|0)|alt\+(left|right|home|\d))$/;

/** The letters that make up a press, as the table writes them; null for a modifier alone. */
export interface Pressed {
  readonly key: string;
  readonly code: string;
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
}

/** The stroke of a press, as the table writes it ("shift+x"); null for a modifier alone. */
export const strokeOf = ({ key, code, shiftKey, ctrlKey, metaKey, altKey }: Pressed): string | null => {
  if (['Shift', 'Control', 'Alt', 'Meta', 'AltGraph', 'Dead'].includes(key)) return null;
  // With Shift the letter on the key counts, not what it makes.
  const plain = /^(?:Key|Digit)(.)$/.exec(code)?.[1]?.toLowerCase();
  const name = plain ?? NAMED[key] ?? key.toLowerCase();
  return [
    ...(ctrlKey || metaKey ? ['mod'] : []),
    ...(altKey ? ['alt'] : []),
    ...(shiftKey ? ['shift'] : []),
    name,
  ].join('+');
};

/** True for a stroke that opens a list: another one follows it. */
export const opensList = (stroke: string): boolean => Object.values(LISTS).some(({ key }) => key === stroke);

/** The keys of a command as they are in force. */
export const keysIn = (own: OwnKeys, id: CommandId): readonly string[] => own[id] ?? KEYS[id];

/** Which command has a key; undefined where none has. */
export const commandOfKey = (own: OwnKeys, key: string): CommandId | undefined =>
  (Object.keys(KEYS) as CommandId[]).find((id) => keysIn(own, id).includes(key));

/** Why a key cannot be given, in words; null where it can. */
export const keyProblem = (key: string): string | null => {
  const strokes = key.split(' ');
  if (strokes.some((stroke) => TAKEN.test(stroke)))
    return 'This key belongs to the browser, to the keyboard’s way through the page, or to a screen reader.';
  if (strokes.length > 2) return 'A command has one key, or the key of a list and a letter.';
  if (strokes.length === 2 && (!opensList(strokes[0] ?? '') || !/^(shift\+)?.$/.test(strokes[1] ?? '')))
    return 'Of two keys the first opens a list, and the second is a letter, a digit or a sign in it.';
  if (strokes.length === 1 && opensList(key)) return 'This key opens a list: a letter has to follow it.';
  return null;
};

/** The keys with one given to a command, in the place of those it had; another command that had it goes without. */
export const withKey = (own: OwnKeys, id: CommandId, key: string): OwnKeys => {
  const before = commandOfKey(own, key);
  const without =
    before && before !== id ? { ...own, [before]: keysIn(own, before).filter((other) => other !== key) } : own;
  return { ...without, [id]: [key] };
};

/** The keys with the ready ones for a command again; whoever has one of them now gives it back. */
export const withReadyKeys = (own: OwnKeys, id: CommandId): OwnKeys => {
  const { [id]: _, ...others } = own;
  const ready: readonly string[] = KEYS[id];
  return Object.fromEntries(
    Object.entries(others as { readonly [id: string]: readonly string[] }).map(([other, keys]) => [
      other,
      keys.filter((key) => !ready.includes(key)),
    ]),
  );
};

/** What differs from the ready keys, as it is kept; anything that is no such thing is left out. */
export const tidyKeys = (value: unknown): OwnKeys => {
  const own: { [id: string]: string[] } = {};
  const used = new Set<string>();
  for (const [id, keys] of Object.entries((value ?? {}) as { readonly [id: string]: unknown })) {
    if (!isCommand(id) || !Array.isArray(keys)) continue;
    own[id] = keys.filter(
      (key): key is string => typeof key === 'string' && keyProblem(key) === null && !used.has(key) && !!used.add(key),
    );
  }
  return own;
};

/** The text of a file with a person's own keys and the list of one's own. */
export const keysToFile = (own: OwnKeys, rows: readonly OwnRow[]): string =>
  ownFileText(FILE, { version: FILE.version, keys: own, rows });

/** The keys in a file; a message that a person understands where it is none. */
export const keysFromFile = (
  text: string,
):
  | { readonly ok: true; readonly keys: OwnKeys; readonly rows: readonly OwnRow[] }
  | { readonly ok: false; readonly message: string } => {
  const read = readOwnFile(text, FILE);
  if (!read.ok) return read;
  const { keys, rows } = read.content;
  if (typeof keys !== 'object' || keys === null)
    return { ok: false, message: `${FILE.denial}: there are no keys in it.` };
  return { ok: true, keys: tidyKeys(keys), rows: tidyRows(rows) };
};

/** The first key of a command, for tooltips; empty where it has none. */
export const keyIn = (own: OwnKeys, id: CommandId): string => {
  const [first] = keysIn(own, id);
  return first ? keyName(first) : '';
};

/** The keys of a command that are one stroke. */
export const singleKeys = (own: OwnKeys, id: CommandId): readonly string[] =>
  keysIn(own, id).filter((key) => !key.includes(' '));

/** The commands of a list by their letters, in the table's order. */
export const inList = (own: OwnKeys, list: ListId): readonly (readonly [letter: string, id: CommandId])[] => {
  const leader = `${LISTS[list].key} `;
  return (Object.keys(KEYS) as CommandId[]).flatMap((id) =>
    keysIn(own, id)
      .filter((key) => key.startsWith(leader))
      .map((key) => [key.slice(leader.length), id] as const),
  );
};
