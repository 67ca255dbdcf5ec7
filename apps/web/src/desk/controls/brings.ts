/** What a view brings to the Desk, as one list; the shell puts the lists together. */
import type { ReactNode } from 'react';
import type { Command, CommandContext } from '../actions/commands/command.js';
import type { SidePanel, Tool } from '../state/layoutSlice.js';

/** Draws something on the Desk. */
export type Shows = (context: CommandContext) => ReactNode;

/** See the file's head. Keys belong to commands: the key table has them. */
export interface Brings {
  readonly commands?: readonly Command[];
  /** Its place among the panels beside the roll. */
  readonly panel?: { readonly id: SidePanel; readonly name: string; readonly shows: Shows };
  /** Settings that take the panels' place while they are open. */
  readonly tools?: { readonly [tool in Tool]?: Shows };
  /** Bars over the foot, which show themselves when they have something to say. */
  readonly bars?: readonly Shows[];
}
