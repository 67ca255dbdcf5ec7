/** Commands that change what is seen. */
import { toggleTheme } from '../../../app/theme.js';
import { deskActions, type SidePanel } from '../deskSlice.js';
import { selectBars } from '../maps.js';
import { selectEndTick, selectRows, selectView } from '../roll/rollSelectors.js';
import { boxAround, fitBox, xOfTick, zoomPitch, zoomTime } from '../roll/rollView.js';
import { selectedOnView } from '../selectors.js';
import { player } from '../transport/player.js';
import { type CommandContext, inGroup } from './command.js';
import { somethingSelected } from './conditions.js';
import { changeView, fitAll } from './looking.js';
import { flip } from './playCommands.js';

const fitSelection = (context: CommandContext): void =>
  changeView(context, (view, state) => {
    const box = boxAround(selectedOnView(state));
    return box ? fitBox(view, selectRows(state), { ...box, lowest: box.lowest - 5, highest: box.highest + 5 }) : view;
  });

const goByBar = (step: 1 | -1) => (context: CommandContext) => {
  const bars = selectBars(context.getState());
  changeView(context, (view) => {
    const index = bars.findIndex((bar) => bar.end > view.left + 1);
    const within = view.left > (bars[index]?.start ?? 0) + 1 && step < 0;
    const bar = bars[Math.max(0, Math.min(bars.length - 1, within ? index : index + step))];
    return bar ? { ...view, left: bar.start } : view;
  });
};

const moveCrease = ({ dispatch, getState }: CommandContext): void => {
  const state = getState();
  const view = selectView(state);
  if (state.desk.creaseTick !== null) {
    dispatch(deskActions.creaseMoved(null));
    return;
  }
  const playhead = player.state.get().tick;
  const x = xOfTick(view, playhead);
  const middle = view.left + (view.width * view.ticksPerPixel) / 2;
  dispatch(deskActions.creaseMoved(Math.round(x > 0 && x < view.width ? playhead : middle)));
};

const zoom = (time: number, pitch: number) => (context: CommandContext) =>
  changeView(context, (view, state) =>
    zoomPitch(zoomTime(view, time, view.width / 2, selectEndTick(state)), pitch, view.height / 2),
  );

const panel =
  (which: SidePanel) =>
  ({ dispatch }: CommandContext) => {
    dispatch(deskActions.panelShown(which));
  };

const command = inGroup('View');

export const VIEW_COMMANDS = [
  command('fitAll', 'Fit everything', fitAll),
  command('fitSelection', 'Fit the selection', fitSelection, somethingSelected),
  command('zoomIn', 'Zoom in on time', zoom(1.3, 1)),
  command('zoomOut', 'Zoom out of time', zoom(1 / 1.3, 1)),
  command('taller', 'Make the rows taller', zoom(1, 1.2)),
  command('lower', 'Make the rows lower', zoom(1, 1 / 1.2)),
  command('nextBar', 'Go on by a bar', goByBar(1)),
  command('previousBar', 'Go back by a bar', goByBar(-1)),
  command('usedRows', 'Leave out rows that no part uses, or not', flip('usedRowsOnly')),
  command('crease', 'Bring in the crease, or send it home', moveCrease),
  command('page', 'Show or hide the page', flip('pageShown')),
  command('pageOfFront', 'Page of the front part only, or of all', flip('pageOfFrontOnly')),
  command('planPanel', 'Show the plan', panel('plan')),
  command('findingsPanel', 'Show the findings', panel('findings')),
  command('notePanel', 'Show the selection', panel('note')),
  command('pagePanel', 'Show what is set for the page', panel('page')),
  command('morePanel', 'Show the history and the charts', panel('more')),
  command('partsFolded', 'Fold the list of parts away, or out', flip('partsFolded')),
  command('sideFolded', 'Fold the panels away, or out', flip('sideFolded')),
  command('theme', 'Turn between light and dark', () => toggleTheme()),
];
