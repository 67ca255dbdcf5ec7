/** The one place for keys: which keys carry out which command, as react-hotkeys-hook names them. */

/** Keys by command; the first is shown in tooltips. */
export const KEYS = {
  play: ['space'],
  start: ['home'],
  loop: ['l'],
  loopSelection: ['shift+l'],
  compare: ['e'],
  metronome: ['k'],
  hearEdits: ['shift+k'],

  fitAll: ['f'],
  fitSelection: ['z'],
  zoomIn: ['equal'],
  zoomOut: ['minus'],
  taller: ['shift+equal'],
  lower: ['shift+minus'],
  nextBar: ['pagedown'],
  previousBar: ['pageup'],
  usedRows: ['y'],
  crease: ['c'],
  page: ['w'],
  pageOfFront: ['shift+w'],
  planPanel: ['1'],
  findingsPanel: ['2'],
  notePanel: ['3'],
  historyPanel: ['4'],
  chartsPanel: ['5'],
  theme: ['shift+t'],

  nextPart: ['n'],
  previousPart: ['b'],
  hidePart: ['h'],
  alone: ['o'],
  mute: ['m'],
  solo: ['q'],

  nextNote: ['period'],
  previousNote: ['comma'],
  selectAll: ['a', 'mod+a'],
  samePitch: ['p'],
  invert: ['i'],
  selectNone: ['escape'],

  nextFinding: ['j'],
  previousFinding: ['shift+j'],
  playAround: ['shift+e'],
  mendFinding: ['v'],
  mendKind: ['shift+v'],
  dismissFinding: ['t'],
  dismissKind: ['alt+t'],

  delete: ['delete', 'backspace'],
  up: ['up'],
  down: ['down'],
  octaveUp: ['shift+up'],
  octaveDown: ['shift+down'],
  later: ['right'],
  earlier: ['left'],
  longer: ['shift+right'],
  shorter: ['shift+left'],
  startLater: ['bracketright'],
  startEarlier: ['bracketleft'],
  draw: ['d'],
  snap: ['s'],
  finer: ['g'],
  coarser: ['shift+g'],
  undo: ['u', 'mod+z'],
  redo: ['r', 'mod+shift+z', 'mod+y'],

  export: ['x'],
  commands: ['slash', 'mod+k'],
  library: ['shift+b'],
} as const satisfies { readonly [id: string]: readonly [string, ...string[]] };

/** The name of a command. */
export type CommandId = keyof typeof KEYS;

const KEY_NAMES: { readonly [key: string]: string } = {
  period: '.',
  comma: ',',
  slash: '/',
  equal: '+',
  minus: '−',
  bracketleft: '[',
  bracketright: ']',
  space: 'Space',
  up: '↑',
  down: '↓',
  left: '←',
  right: '→',
  escape: 'Esc',
  pageup: 'Page up',
  pagedown: 'Page down',
  backspace: 'Backspace',
  delete: 'Delete',
  mod: 'Ctrl',
  shift: 'Shift',
  alt: 'Alt',
  home: 'Home',
};

/** A key as a person reads it. */
export const keyName = (key: string): string =>
  key
    .split('+')
    .map((piece) => KEY_NAMES[piece] ?? piece.toUpperCase())
    .join(' ');

/** The first key of a command, for tooltips. */
export const keyOf = (id: CommandId): string => keyName(KEYS[id][0]);
