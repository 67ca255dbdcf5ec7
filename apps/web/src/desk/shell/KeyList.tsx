/**
 * A small list that one key opens: its commands, each with the letter that carries it out. Shift and the letter of a step
 * open its settings.
 */
import { stepById } from '@crispfold/core';
import { type RefObject, useEffect, useLayoutEffect, useMemo, useRef } from 'react';
import type { Command, CommandContext } from '../actions/commands/command.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useStepCounts } from '../controls/useStepCounts.js';
import { loadSentences } from '../session/savedSentences.js';
import { keysActions } from '../state/keysSlice.js';
import { LISTS, type ListId } from '../state/keyTable.js';
import { useAppSelector } from '../state/root.js';
import { hinted, said } from '../state/speechSlice.js';
import { choose, commandsOf, type OtherLine, othersOf } from './keyListModel.js';

const LINE = 'flex min-w-0 items-baseline gap-2 px-2 py-0.5 text-left hover:bg-selected focus:bg-selected';

const Letter = ({ letter }: { letter: string }) => (
  <kbd className="w-5 shrink-0 border border-strong bg-shade text-center font-sans text-sm font-semibold">
    {letter.toUpperCase()}
  </kbd>
);

export const KeyList = ({ context }: { context: CommandContext }) => {
  const list = useAppSelector(({ keys }) => keys.list);
  return list && <OpenList key={list} list={list} context={context} />;
};

/**
 * The keys, before the Desk's own: while the list is open a letter means what the list says. Bound before it is painted, so
 * that a letter that follows at once is not lost; and one that comes when it was closed is none of its own.
 */
const useListKeys = (menu: RefObject<HTMLDivElement | null>, list: ListId, context: CommandContext): void => {
  useLayoutEffect(() => {
    const { dispatch, getState } = context;
    const close = () => dispatch(keysActions.listOpened(null));
    const walk = (step: 1 | -1) => {
      const buttons = [...(menu.current?.querySelectorAll('button') ?? [])];
      const at = buttons.indexOf(document.activeElement as HTMLButtonElement);
      buttons[(at + step + buttons.length) % buttons.length]?.focus();
    };
    const onPress = (key: string, shift: boolean) => {
      if (key === 'Escape') {
        dispatch(said(''));
        close();
      } else if (key === 'ArrowDown') walk(1);
      else if (key === 'ArrowUp') walk(-1);
      else if (!choose(list, key.toLowerCase(), shift, context))
        dispatch(hinted(`${key.toUpperCase()} is not on the list ${LISTS[list].name}. Esc closes it.`));
    };
    const onKey = (event: KeyboardEvent) => {
      if (getState().keys.list !== list) return;
      if (event.ctrlKey || event.metaKey || event.altKey || event.key === 'Shift') return;
      event.stopImmediatePropagation();
      // A button of the list takes its own Enter and Space.
      if (event.key === 'Tab') close();
      else if (event.key !== 'Enter' && event.key !== ' ') {
        event.preventDefault();
        onPress(event.key, event.shiftKey);
      }
    };
    addEventListener('keydown', onKey, { capture: true });
    return () => removeEventListener('keydown', onKey, { capture: true });
  }, [menu, list, context]);
};

/** Takes the focus while it is open, says what it is, and gives the focus back. */
const useFocus = (menu: RefObject<HTMLDivElement | null>, words: string, { dispatch }: CommandContext): void => {
  useEffect(() => {
    const before = document.activeElement;
    menu.current?.focus({ preventScroll: true });
    dispatch(said(words));
    return () => {
      if (before instanceof HTMLElement) before.focus({ preventScroll: true });
    };
  }, [menu, words, dispatch]);
};

const OpenList = ({ list, context }: { list: ListId; context: CommandContext }) => {
  const keyOf = useKeyOf();
  const menu = useRef<HTMLDivElement>(null);
  const { name } = LISTS[list];
  const keys = useAppSelector((state) => state.keys);
  const kept = useAppSelector((state) => state.kept);
  const items = useMemo(() => commandsOf({ keys }, list, context), [keys, list, context]);
  const others = useMemo(() => othersOf({ keys, kept }, list), [keys, kept, list]);
  const counts = useStepCounts(useMemo(() => items.flatMap(({ command }) => command.step ?? []), [items]));
  const unread = list === 'sentences' && kept.sentences === null;
  useEffect(() => {
    if (unread) context.dispatch(loadSentences()).catch(() => undefined);
  }, [unread, context]);
  useFocus(menu, `${name}: ${items.length + (list === 'own' ? others.length : 0)} commands.`, context);
  useListKeys(menu, list, context);
  return (
    <div
      ref={menu}
      role="menu"
      aria-label={name}
      tabIndex={-1}
      className="absolute bottom-0 left-0 z-30 max-w-full border border-strong bg-sheet p-2 text-sm shadow-xl outline-none"
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) context.dispatch(keysActions.listOpened(null));
      }}
    >
      <p className="flex gap-6 px-2 pb-1" role="presentation">
        <b className="font-serif text-base">{name}</b>
        <span className="text-soft">
          press a letter{items.some(({ command }) => command.step) ? ', with Shift for settings' : ''}; Esc closes
        </span>
      </p>
      <div role="none" className={`grid gap-x-3 ${items.length > 6 ? 'grid-cols-2' : ''}`}>
        {items.map(({ letter, command }) => (
          <CommandLine
            key={command.id}
            letter={letter}
            command={command}
            count={command.step ? counts.get(command.step) : undefined}
            list={list}
            context={context}
          />
        ))}
        {others.map((other) => (
          <OtherButton key={other.words} other={other} onChoose={() => choose(list, other.letter, false, context)} />
        ))}
        {list === 'own' && others.length === 0 && (
          <p className="max-w-80 px-2 py-1 text-soft">
            Nothing is on it yet. {keyOf('keys')} opens Keys, where you put commands on it.
          </p>
        )}
      </div>
    </div>
  );
};

const CommandLine = ({
  letter,
  command,
  count,
  list,
  context,
}: {
  letter: string;
  command: Command;
  /** How many notes it would touch, where that is known. */
  count: number | undefined;
  list: ListId;
  context: CommandContext;
}) => {
  const why = command.when(context.getState(), context.desk);
  return (
    <div role="none" className="flex min-w-0 items-stretch">
      <button
        type="button"
        role="menuitem"
        tabIndex={-1}
        aria-keyshortcuts={letter}
        aria-disabled={why !== null}
        title={why ?? (command.step ? stepById(command.step).explanation : undefined)}
        className={`flex-1 ${LINE} ${why ? 'text-soft' : ''}`}
        onClick={() => choose(list, letter, false, context)}
      >
        <Letter letter={letter} />
        <span className="min-w-0 flex-1 truncate">{command.name}</span>
        {count !== undefined && <span className="tabular-nums text-soft">{count}</span>}
      </button>
    </div>
  );
};

const OtherButton = ({ other: { letter, words, title }, onChoose }: { other: OtherLine; onChoose: () => void }) => (
  <button
    type="button"
    role="menuitem"
    tabIndex={-1}
    aria-keyshortcuts={letter}
    title={title}
    className={LINE}
    onClick={onChoose}
  >
    <Letter letter={letter} />
    <span className="min-w-0 flex-1 truncate">{words}</span>
  </button>
);
