/** What all views bring to the Desk, put together. The order here is that of the command list, the panels and the bars. */
import { ARRANGEMENT_COMMANDS } from '../actions/commands/arrangementCommands.js';
import type { Command } from '../actions/commands/command.js';
import { BARS } from '../bars/brings.js';
import type { Brings, Shows } from '../controls/brings.js';
import { LANES } from '../lanes/brings.js';
import { FINDINGS } from '../panels/findings/brings.js';
import { KEYS_OF_ONES_OWN } from '../panels/keys/brings.js';
import { MORE } from '../panels/more/brings.js';
import { PAGE } from '../panels/page/brings.js';
import { PARTS } from '../panels/parts/brings.js';
import { PLACES } from '../panels/places/brings.js';
import { PLAN } from '../panels/plan/brings.js';
import { RECORDING } from '../panels/recording/brings.js';
import { SELECTION } from '../panels/selection/brings.js';
import { SENTENCES } from '../panels/sentences/brings.js';
import { SOUNDS } from '../panels/sounds/brings.js';
import { STEPS } from '../panels/steps/brings.js';
import { TEMPO } from '../panels/tempo/brings.js';
import { VIEW } from '../panels/view/brings.js';
import { CHOOSING } from '../rail/brings.js';
import { ROLL } from '../roll/brings.js';
import type { Tool } from '../state/layoutSlice.js';

const VIEWS: readonly Brings[] = [
  SOUNDS,
  VIEW,
  PARTS,
  CHOOSING,
  PLAN,
  FINDINGS,
  ROLL,
  STEPS,
  SELECTION,
  PAGE,
  LANES,
  PLACES,
  TEMPO,
  SENTENCES,
  RECORDING,
  KEYS_OF_ONES_OWN,
  MORE,
  BARS,
  { commands: ARRANGEMENT_COMMANDS },
];

/** Every command of the Desk, in the list's order: the list, the menu and the keys read it. */
export const COMMANDS: readonly Command[] = VIEWS.flatMap(({ commands = [] }) => commands);

/** The panels beside the roll, from the first tab to the last. */
export const PANELS = VIEWS.flatMap(({ panel }) => panel ?? []);

/** What has settings and is no clean-up step. */
export const TOOLS: { readonly [tool in Tool]?: Shows } = Object.assign({}, ...VIEWS.map(({ tools }) => tools));

/** Bars over the foot. */
export const BARS_SHOWN: readonly Shows[] = VIEWS.flatMap(({ bars = [] }) => bars);
