/** Commands that change what is seen. */

import { toggleTheme } from '../../../browser/theme.js';
import { turnSpeaking } from '../../session/preferences.js';
import { forwardChoices, forwardKey, forwardName } from '../../state/forward.js';
import { HUE_NAMES, HUES, type HueMode } from '../../state/hueModes.js';
import { layoutActions, type SidePanel, type Tool } from '../../state/layoutSlice.js';
import { lookingActions } from '../../state/lookingSlice.js';
import { selectBars } from '../../state/maps.js';
import { selectEndTick, selectRows, selectView } from '../../state/rollSelectors.js';
import { rollActions, viewBeforeLeap } from '../../state/rollSlice.js';
import { boxAround, fitBox, xOfTick, zoomPitch, zoomTime } from '../../state/rollView.js';
import type { RootState } from '../../state/root.js';
import { selectingActions } from '../../state/selectingSlice.js';
import { selectedOnView } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { changeView, fitAll } from '../looking.js';
import { tiePage, turnPage } from '../pageMoves.js';
import { openScoreWindow } from '../scoreWindow.js';
import { type CommandContext, inGroup } from './command.js';
import { recordingThere, somethingSelected } from './conditions.js';
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

const moveCrease = ({ dispatch, getState, desk }: CommandContext): void => {
  const state = getState();
  const view = selectView(state);
  if (state.looking.creaseTick !== null) {
    dispatch(lookingActions.creaseMoved(null));
    return;
  }
  const playhead = desk.player.state.get().tick;
  const x = xOfTick(view, playhead);
  const middle = view.left + (view.width * view.ticksPerPixel) / 2;
  dispatch(lookingActions.creaseMoved(Math.round(x > 0 && x < view.width ? playhead : middle)));
};

const zoom = (time: number, pitch: number) => (context: CommandContext) =>
  changeView(context, (view, state) =>
    zoomPitch(zoomTime(view, time, view.width / 2, selectEndTick(state)), pitch, view.height / 2),
  );

const panel =
  (which: SidePanel) =>
  ({ dispatch }: CommandContext) => {
    dispatch(layoutActions.panelShown(which));
  };

const showTool =
  (tool: Tool) =>
  ({ dispatch }: CommandContext) =>
    void dispatch(layoutActions.toolShown(tool));

const fitLoop = (context: CommandContext): void =>
  changeView(context, (view, { playback: { loop } }) =>
    loop
      ? { ...view, left: loop.start, ticksPerPixel: Math.max(0.05, (loop.end - loop.start) / Math.max(1, view.width)) }
      : view,
  );

/** All, then each voice, then each staff, and all again. */
const bringForward = ({ dispatch, getState, desk }: CommandContext): void => {
  const choices = forwardChoices(desk.link.layers.get().values());
  const now = getState().selecting.forward;
  const at = choices.findIndex((one) => forwardKey(one) === forwardKey(now));
  const next = now && at < 0 ? null : (choices[at + 1] ?? null);
  dispatch(selectingActions.broughtForward(next));
  const none = choices.length === 0 ? 'Each part has one voice on one staff.' : 'All voices and staves.';
  dispatch(said(next ? `${forwardName(next)} is brought forward.` : none));
};

const pageThere = ({ layout }: RootState): string | null => (layout.pageShown ? null : 'The page is hidden.');

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
  command('viewBack', 'Go back to the view before', ({ dispatch, getState }) => {
    const before = viewBeforeLeap(getState().roll);
    if (before) dispatch(rollActions.viewSet(before));
  }),
  command('fitLoop', 'Fit the loop', fitLoop, ({ playback }) =>
    playback.loop ? null : 'There is no loop: drag in the ruler.',
  ),
  command('goTo', 'Go to a bar or a section', showTool('goTo')),
  command('usedRows', 'Leave out rows that no part uses, or not', ({ dispatch, getState }) => {
    const rows = getState().looking.seeing.rows === 'all' ? 'used' : 'all';
    dispatch(lookingActions.seen({ rows }));
  }),
  command('seeing', 'Choose what is seen: hue, names, rows', showTool('seeing')),
  command('nextHue', 'Let hue show the next thing', ({ dispatch, getState }) => {
    const at = HUES.indexOf(getState().looking.seeing.hue);
    const hue = HUES[(at + 1) % HUES.length] as HueMode;
    dispatch(lookingActions.seen({ hue }));
    dispatch(said(`Hue shows: ${HUE_NAMES[hue]}.`));
  }),
  command('pageGrid', 'Grid: the page’s own divisions, or a value', ({ dispatch, getState }) => {
    dispatch(lookingActions.seen({ pageGrid: !getState().looking.seeing.pageGrid }));
  }),
  command('keys', 'Give commands other keys…', showTool('keys')),
  command(
    'tour',
    'Take the tour, or end it',
    ({ dispatch, getState }) => void dispatch(layoutActions.tourTurned(getState().layout.tourStep === null ? 0 : null)),
  ),
  command('speaking', 'Speak in short, or in full', ({ dispatch }) => dispatch(turnSpeaking())),
  command('followPlayhead', 'Follow the playhead, or not', ({ dispatch, getState }) => {
    const follow = !getState().looking.seeing.follow;
    dispatch(lookingActions.seen({ follow }));
    dispatch(said(follow ? 'The roll follows the playhead.' : 'The roll stays where it is.'));
  }),
  command('forward', 'Bring the next voice or staff forward, or all', bringForward),
  command('outline', 'Outline of Written under Played, or not', ({ dispatch, getState }) => {
    dispatch(lookingActions.seen({ outline: !getState().looking.seeing.outline }));
  }),
  command('strip', 'Show the whole piece as a strip, or not', ({ dispatch, getState }) => {
    dispatch(lookingActions.seen({ strip: !getState().looking.seeing.strip }));
  }),
  command(
    'recordingSeen',
    'Show the recording under the ruler, or not',
    ({ dispatch, getState }) => {
      dispatch(lookingActions.seen({ recording: !getState().looking.seeing.recording }));
    },
    recordingThere,
  ),
  command('crease', 'Bring in the crease, or send it home', moveCrease),
  command('page', 'Show or hide the page', flip('pageShown')),
  command('scoreWindow', 'Read the score in a window of its own, linked with this one', ({ getState }) =>
    openScoreWindow(getState().piece.id),
  ),
  command('table', 'Everything as a table, or go back to the roll', ({ turnTable }) => turnTable()),
  command('score', 'Read the score page by page, or go back to the roll', ({ turnScore }) => turnScore()),
  command('pageOfFront', 'Page of the front part only, or of all', flip('pageOfFrontOnly')),
  command('pageFollows', 'Page follows the roll, or stays', tiePage, pageThere),
  command('pageNext', 'Turn the page on, apart from the roll', (context) => turnPage(context, 1), pageThere),
  command('pagePrevious', 'Turn the page back, apart from the roll', (context) => turnPage(context, -1), pageThere),
  command('planPanel', 'Show the plan', panel('plan')),
  command('findingsPanel', 'Show the findings', panel('findings')),
  command('notePanel', 'Show the selection', panel('note')),
  command('pagePanel', 'Show what is set for the page', panel('page')),
  command('morePanel', 'Show the history and the charts', panel('more')),
  command('partsFolded', 'Fold the list of parts away, or out', flip('partsFolded')),
  command('sideFolded', 'Fold the panels away, or out', flip('sideFolded')),
  command('theme', 'Turn between light and dark', () => toggleTheme()),
];
