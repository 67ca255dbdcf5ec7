/**
 * A small list that one key opens: its commands, each with the letter that carries it out. Shift and the letter of a step
 * open its settings.
 */
import { lineInWords, type Sentence, stepById } from '@crispfold/core';
import { useEffect, useLayoutEffect, useMemo, useRef } from 'react';

import { createValueStore, useValue } from '../../ui/valueStore.js';
import { type CommandContext, carryOut } from '../actions/commands/command.js';
import { type CommandId, LISTS, type ListId } from '../actions/commands/keyTable.js';
import { inList, keyOf } from '../actions/commands/ownKeys.js';
import { type OwnRow, ownList } from '../actions/commands/ownList.js';
import { doSentence } from '../actions/doSentence.js';
import { useStepCounts } from '../controls/useStepCounts.js';
import { loadSentences, savedSentences } from '../session/savedSentences.js';
import { deskActions } from '../state/deskSlice.js';
import { hint, spoken } from '../state/speak.js';
import { COMMANDS } from './registry.js';

/** The list that is open; null for none. */
export const openList = createValueStore<ListId | null>(null);

const close = () => openList.set(null);

/** The kept sentence that a person gave a key. */
const sentenceOfKey = (letter: string): Sentence | undefined =>
  (savedSentences.get() ?? []).find(({ key }) => key === letter);

/** Does all that a row of one's own stands for; what does not apply just then says so, and the rest is done. */
const doRow = (row: OwnRow, context: CommandContext): void => {
  for (const id of row.commands) {
    const command = COMMANDS.find((candidate) => candidate.id === id);
    if (command) carryOut(command, context);
  }
};

/** Carries out what a letter of a list stands for; false where it stands for nothing there. */
const choose = (list: ListId, letter: string, settings: boolean, context: CommandContext): boolean => {
  const id = inList(list).find(([own]) => own === letter)?.[1];
  const command = COMMANDS.find((candidate) => candidate.id === id);
  const sentence = command || list !== 'sentences' ? undefined : sentenceOfKey(letter);
  if (sentence) {
    close();
    void context.dispatch(doSentence(sentence));
    return true;
  }
  const row = list === 'own' && !command ? ownList.get().find((own) => own.letter === letter) : undefined;
  if (row) {
    close();
    spoken.set(row.name);
    doRow(row, context);
    return true;
  }
  if (!command) return false;
  close();
  spoken.set('');
  if (settings && command.step) context.dispatch(deskActions.stepSettingsShown(command.step));
  else carryOut(command, context);
  return true;
};

export const KeyList = ({ context }: { context: CommandContext }) => {
  const list = useValue(openList);
  return list && <OpenList key={list} list={list} context={context} />;
};

const OpenList = ({ list, context }: { list: ListId; context: CommandContext }) => {
  const menu = useRef<HTMLDivElement>(null);
  const { name } = LISTS[list];
  const items = useMemo(() => inList(list), [list]);
  const saved = useValue(savedSentences);
  const keyed = list === 'sentences' ? (saved ?? []).filter(({ key }) => key !== undefined) : [];
  const own = useValue(ownList);
  const rows = list === 'own' ? own : [];
  useEffect(() => {
    if (list === 'sentences' && savedSentences.get() === null) loadSentences().catch(() => undefined);
  }, [list]);
  const counts = useStepCounts(
    useMemo(() => items.flatMap(([, id]) => COMMANDS.find((command) => command.id === id)?.step ?? []), [items]),
  );

  useEffect(() => {
    const before = document.activeElement;
    menu.current?.focus({ preventScroll: true });
    const count = items.length + rows.length;
    spoken.set(`${name}: ${count} commands.`);
    return () => {
      if (before instanceof HTMLElement) before.focus({ preventScroll: true });
    };
  }, [name, items.length, rows.length]);

  // Before the Desk's own keys: while the list is open a letter means what the list says. Before it is painted, so that a
  // letter that follows at once is not lost; and one that comes when it was closed is none of its own.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (openList.get() !== list) return;
      if (event.ctrlKey || event.metaKey || event.altKey || event.key === 'Shift') return;
      const buttons = [...(menu.current?.querySelectorAll('button') ?? [])];
      const at = buttons.indexOf(document.activeElement as HTMLButtonElement);
      if (event.key === 'Tab' || event.key === 'Enter' || event.key === ' ') {
        event.stopImmediatePropagation();
        if (event.key === 'Tab') close();
        return;
      }
      event.preventDefault();
      event.stopImmediatePropagation();
      if (event.key === 'Escape') {
        spoken.set('');
        close();
      } else if (event.key === 'ArrowDown') buttons[(at + 1) % buttons.length]?.focus();
      else if (event.key === 'ArrowUp') buttons[(at - 1 + buttons.length) % buttons.length]?.focus();
      else if (!choose(list, event.key.toLowerCase(), event.shiftKey, context)) {
        hint.set(`${event.key.toUpperCase()} is not on the list ${name}. Esc closes it.`);
      }
    };
    addEventListener('keydown', onKey, { capture: true });
    return () => removeEventListener('keydown', onKey, { capture: true });
  }, [list, name, context]);

  const line = (letter: string, id: CommandId) => {
    const command = COMMANDS.find((candidate) => candidate.id === id);
    if (!command) return null;
    const why = command.when(context.getState());
    const count = command.step ? counts.get(command.step) : undefined;
    return (
      <div key={id} role="none" className="flex min-w-0 items-stretch">
        <button
          type="button"
          role="menuitem"
          tabIndex={-1}
          aria-keyshortcuts={letter}
          aria-disabled={why !== null}
          title={why ?? (command.step ? stepById(command.step).explanation : undefined)}
          className={`flex min-w-0 flex-1 items-baseline gap-2 px-2 py-0.5 text-left hover:bg-selected focus:bg-selected ${why ? 'text-soft' : ''}`}
          onClick={() => choose(list, letter, false, context)}
        >
          <kbd className="w-5 shrink-0 border border-strong bg-shade text-center font-sans text-sm font-semibold">
            {letter.toUpperCase()}
          </kbd>
          <span className="min-w-0 flex-1 truncate">{command.name}</span>
          {count !== undefined && <span className="tabular-nums text-soft">{count}</span>}
        </button>
      </div>
    );
  };
  return (
    <div
      ref={menu}
      role="menu"
      aria-label={name}
      tabIndex={-1}
      className="absolute bottom-0 left-0 z-30 max-w-full border border-strong bg-sheet p-2 text-sm shadow-xl outline-none"
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) close();
      }}
    >
      <p className="flex gap-6 px-2 pb-1" role="presentation">
        <b className="font-serif text-base">{name}</b>
        <span className="text-soft">
          press a letter
          {items.some(([, id]) => COMMANDS.find((c) => c.id === id)?.step) ? ', with Shift for settings' : ''}; Esc
          closes
        </span>
      </p>
      <div role="none" className={`grid gap-x-3 ${items.length > 6 ? 'grid-cols-2' : ''}`}>
        {items.map(([letter, id]) => line(letter, id))}
        {[
          ...keyed.map((sentence) => ({
            letter: sentence.key ?? '',
            title: sentence.lines.map(lineInWords).join(' '),
            words: sentence.name,
          })),
          ...rows.map((row) => ({ letter: row.letter, title: undefined, words: row.name })),
        ].map(({ letter, title, words }) => (
          <button
            key={words}
            type="button"
            role="menuitem"
            tabIndex={-1}
            aria-keyshortcuts={letter}
            title={title}
            className="flex min-w-0 items-baseline gap-2 px-2 py-0.5 text-left hover:bg-selected focus:bg-selected"
            onClick={() => choose(list, letter, false, context)}
          >
            <kbd className="w-5 shrink-0 border border-strong bg-shade text-center font-sans text-sm font-semibold">
              {letter.toUpperCase()}
            </kbd>
            <span className="min-w-0 flex-1 truncate">{words}</span>
          </button>
        ))}
        {list === 'own' && rows.length === 0 && (
          <p className="max-w-80 px-2 py-1 text-soft">
            Nothing is on it yet. {keyOf('keys')} opens Keys, where you put commands on it.
          </p>
        )}
      </div>
    </div>
  );
};
