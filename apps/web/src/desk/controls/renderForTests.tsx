/** A part of the Desk drawn as a browser would, for tests: on a Desk of its own. */
import type { Arrangement } from '@crispfold/core';
import { render } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import type { Command, CommandContext } from '../actions/commands/command.js';
import type { DeskWithStore } from '../session/createDesk.js';
import { DeskContext } from '../session/desk.js';
import { deskForTests, type PageForTests } from '../session/deskForTests.js';
import type { RootState } from '../state/root.js';

/** What commands work on, on the Desk of a test; `commands` are those that the shell would hand down. */
export const contextOf = ({ desk, store }: DeskWithStore, commands: readonly Command[] = []): CommandContext => {
  const nowhere = () => undefined;
  return {
    desk,
    commands,
    dispatch: store.dispatch,
    getState: store.getState,
    openExport: nowhere,
    openCommands: nowhere,
    leave: nowhere,
    turnScore: nowhere,
    turnTable: nowhere,
  };
};

/** Draws something on a Desk with an arrangement, and answers the hand that works there. */
export const renderOnDesk = (
  shows: (context: CommandContext) => ReactNode,
  arrangement: Arrangement,
  page: PageForTests = {},
) => {
  const made = deskForTests(arrangement, page);
  const context = contextOf(made);
  render(
    <Provider store={made.store}>
      <DeskContext value={made.desk}>{shows(context)}</DeskContext>
    </Provider>,
  );
  return { ...made, context, user: userEvent.setup(), state: (): RootState => made.store.getState() };
};
