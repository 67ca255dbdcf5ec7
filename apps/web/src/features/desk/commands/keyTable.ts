/**
 * The one place for keys: which keys carry out which command, as react-hotkeys-hook names them. What is done most has one
 * plain key; the rest has two strokes, the key of a list and a letter in it ("l c"). Nothing needs three fingers.
 */

/** The lists that a key opens, in order of work; each shows its commands with their letters. */
export const LISTS = {
  picking: { key: 'i', name: 'Select' },
  times: { key: 't', name: 'Times' },
  lengths: { key: 'l', name: 'Lengths' },
  loudness: { key: 'v', name: 'Loudness' },
  pitch: { key: 'p', name: 'Pitch' },
  copies: { key: 'b', name: 'Copies' },
  grid: { key: 'g', name: 'Grid and moves' },
  parts: { key: 'o', name: 'Parts, sharing out' },
  findings: { key: 'f', name: 'Findings' },
  playing: { key: 'k', name: 'Playing' },
  looking: { key: 'y', name: 'View' },
  sentences: { key: '6', name: 'Sentences' },
} as const;

/** The name of a list. */
export type ListId = keyof typeof LISTS;

/** Keys by command; the first is shown in tooltips. */
export const KEYS = {
  play: ['space'],
  start: ['home'],
  compare: ['e'],
  loop: ['k l'],
  loopSelection: ['k s'],
  playAround: ['k a'],
  metronome: ['k m'],
  hearEdits: ['k h'],
  hearStep: ['k w'],

  fitAll: ['0', 'y a'],
  fitSelection: ['z'],
  zoomIn: ['equal'],
  zoomOut: ['minus'],
  taller: ['shift+equal'],
  lower: ['shift+minus'],
  nextBar: ['pagedown'],
  previousBar: ['pageup'],
  viewBack: ['shift+z', 'y b'],
  fitLoop: ['y l'],
  goTo: ['shift+g', 'y g'],
  usedRows: ['y r'],
  seeing: ['y v'],
  nextHue: ['y h'],
  forward: ['y w'],
  outline: ['y u'],
  strip: ['y e'],
  followPlayhead: ['y o', 'k f'],
  crease: ['c'],
  page: ['w'],
  score: ['shift+p', 'y c'],
  pageOfFront: ['y f'],
  pageFollows: ['shift+w', 'y k'],
  pageNext: ['y n'],
  pagePrevious: ['y i'],
  partsFolded: ['y p'],
  sideFolded: ['y s'],
  planPanel: ['1'],
  findingsPanel: ['2'],
  notePanel: ['3'],
  pagePanel: ['4'],
  morePanel: ['5'],
  theme: ['y t'],

  nextPart: ['n'],
  previousPart: ['shift+n'],
  hidePart: ['h', 'o h'],
  alone: ['o a'],
  mute: ['o m'],
  solo: ['o s'],
  lock: ['o l'],
  findPart: ['shift+o', 'o b'],
  partSettings: ['o n'],
  partUp: ['o u'],
  partDown: ['o d'],
  duplicatePart: ['o c'],
  splitPart: ['o p'],
  combineParts: ['o j'],
  deletePart: ['o x'],
  percussionMap: ['o k'],
  emptyPart: ['o e'],
  sendUp: ['o r'],
  sendDown: ['o f'],
  sendTo: ['o t'],
  dealOut: ['o g'],

  reach: ['r'],
  nextNote: ['period'],
  previousNote: ['comma'],
  selectAll: ['a', 'mod+a', 'i a'],
  samePitch: ['i p'],
  samePitchClass: ['i o'],
  sameBeat: ['i b'],
  fromHere: ['i h'],
  fromSelected: ['i f'],
  overlaps: ['i v'],
  topTones: ['i t'],
  innerTones: ['i m'],
  bottomTones: ['i l'],
  invert: ['i r'],
  selectNone: ['escape'],
  onlyThese: ['i s'],
  adding: ['i k'],

  nextFinding: ['j', 'f n'],
  previousFinding: ['shift+j', 'f p'],
  mendFinding: ['f m'],
  otherMend: ['f r'],
  mendKind: ['f k'],
  dismissFinding: ['f d'],
  dismissKind: ['f x'],
  nextDoubt: ['f j'],
  previousDoubt: ['f h'],
  otherLine: ['f o'],

  again: ['x'],
  delete: ['delete', 'backspace'],
  muteNotes: ['m'],
  up: ['up'],
  down: ['down'],
  octaveUp: ['shift+up', 'p u'],
  octaveDown: ['shift+down', 'p d'],
  later: ['right'],
  earlier: ['left'],
  longer: ['shift+right'],
  shorter: ['shift+left'],
  startLater: ['bracketright'],
  startEarlier: ['bracketleft'],
  louder: ['v u', 'alt+up'],
  softer: ['v d', 'alt+down'],
  chordsUp: ['p i'],
  chordsDown: ['p o'],
  randomPitches: ['p r'],
  toPlayhead: ['t p'],
  lineUp: ['t l'],
  double: ['t d'],
  half: ['t h'],
  splitGrid: ['l g'],
  splitPlayhead: ['l p'],
  splitPointer: ['l o'],
  draw: ['d'],
  undo: ['u', 'mod+z'],
  redo: ['shift+u', 'mod+shift+z', 'mod+y'],

  copy: ['b c', 'mod+c'],
  cut: ['b x', 'mod+x'],
  paste: ['b v', 'mod+v'],
  pasteAtPointer: ['b p'],
  pasteSameBars: ['b f'],
  repeatBeat: ['b r'],
  repeatBar: ['b b'],
  repeatTimes: ['b n'],

  snap: ['s'],
  whole: ['shift+1', 'g 1'],
  halfNote: ['shift+2', 'g 2'],
  quarter: ['shift+3', 'g 3'],
  eighth: ['shift+4', 'g 4'],
  sixteenth: ['shift+5', 'g 5'],
  thirtySecond: ['shift+6', 'g 6'],
  sixtyFourth: ['shift+7', 'g 7'],
  triplet: ['shift+8', 'g t'],
  dotted: ['shift+9', 'g d'],
  finer: ['g f'],
  coarser: ['g c'],
  snapGrid: ['g l'],
  snapNotes: ['g n'],
  snapBoth: ['g o'],
  pageGrid: ['g p'],
  moveByGrid: ['g g'],
  moveByTick: ['g k'],
  moveByMilliseconds: ['g m'],
  moveByBeat: ['g b'],
  moveByBar: ['g a'],
  pickup: ['g u'],

  deDuplicate: ['l d'],
  sustainToDurations: ['l u'],
  dropSpecks: ['l x'],
  merge: ['l m'],
  gatherChords: ['t g'],
  pullInStart: ['t i'],
  quantizeStarts: ['q', 't q'],
  quantizeEnds: ['t e'],
  separateVoices: ['l v'],
  trimOverlaps: ['l t'],
  closeGaps: ['l c'],
  settleLengths: ['l r'],
  evenChordEnds: ['l e'],
  shortestDuration: ['l k'],
  matchLengths: ['l l'],
  matchVelocity: ['v m'],
  velocityRange: ['v r'],
  velocityScale: ['v s'],
  humanize: ['t m'],
  follow: ['t f'],
  transpose: ['p t'],
  splitEvenly: ['l s'],
  everyNth: ['p n'],
  stretch: ['t s'],

  writeSentence: ['6 w'],
  sentences: ['6 6'],

  export: ['shift+x'],
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

const strokeName = (stroke: string): string =>
  stroke
    .split('+')
    .map((piece) => KEY_NAMES[piece] ?? piece.toUpperCase())
    .join(' ');

/** Keys as a person reads them: "Shift ↑", or "L, C" for one after the other. */
export const keyName = (key: string): string => key.split(' ').map(strokeName).join(', ');

/** The first key of a command, for tooltips. */
export const keyOf = (id: CommandId): string => keyName(KEYS[id][0]);

/** The keys of a command that are one stroke. */
export const singleKeys = (id: CommandId): readonly string[] => KEYS[id].filter((key) => !key.includes(' '));

/** The commands of a list by their letters, in the table's order. */
export const inList = (list: ListId): readonly (readonly [letter: string, id: CommandId])[] => {
  const leader = `${LISTS[list].key} `;
  return (Object.keys(KEYS) as CommandId[]).flatMap((id) =>
    KEYS[id].filter((key) => key.startsWith(leader)).map((key) => [key.slice(leader.length), id] as const),
  );
};
