/** Imports go one way: core imports nothing of ours; contract imports core; server and web import both and meet over HTTP alone. */

/** The rooms of the computation, each above those it may use. */
const ROOMS = [
  'time',
  'model',
  'instruments',
  'pitch',
  'meter',
  'reading',
  'steps',
  'plan',
  'notation',
  'musicxml',
  'findings',
  'edits',
  'parts',
  'sentences',
  'lanes',
  'recording',
  'table',
  'midi',
  'playback',
  'demo',
];

const roomRules = ROOMS.map((room, index) => ({
  name: `${room}-uses-rooms-below`,
  comment: 'Rooms of the computation stand one above the other. Tests build their music with any.',
  severity: 'error',
  from: { path: `^packages/core/src/${room}/`, pathNot: '\\.test\\.ts$' },
  to: { path: `^packages/core/src/(${ROOMS.slice(index + 1).join('|') || 'none'})/` },
}));

/** The floors of the screens, the lowest first; rooms of one floor do not know each other. */
const FLOORS = [
  ['ui'],
  ['browser'],
  ['engine'],
  ['desk/state'],
  ['desk/session'],
  ['desk/actions'],
  ['desk/controls'],
  ['desk/bars', 'desk/lanes', 'desk/page', 'desk/panels/[^/]+', 'desk/rail', 'desk/roll', 'desk/score', 'desk/table'],
  ['desk/shell'],
  ['library'],
  ['app'],
];

const onFloor = (rooms) => `^apps/web/src/(${rooms.join('|')})/`;

const floorRules = FLOORS.flatMap((rooms, index) => [
  {
    name: `${rooms[0].replace('/', '-')}-uses-floors-below`,
    comment: 'Screens stand on floors; what a lower one needs of a higher one is handed down.',
    severity: 'error',
    from: { path: onFloor(rooms) },
    to: { path: onFloor([...FLOORS.slice(index + 1).flat(), 'none']) },
  },
  {
    name: `${rooms[0].replace('/', '-')}-and-its-neighbours-apart`,
    severity: 'error',
    from: { path: onFloor(rooms) },
    to: { path: onFloor(rooms), pathNot: '^apps/web/src/$1/' },
  },
]);

/** Each file of the screens stands on a floor. */
const noLooseFiles = {
  name: 'no-file-beside-the-floors',
  severity: 'error',
  from: {},
  to: { path: '^apps/web/src/', pathNot: onFloor(FLOORS.flat()) },
};

module.exports = {
  forbidden: [
    {
      name: 'core-stands-alone',
      severity: 'error',
      from: { path: '^packages/core/src' },
      to: { path: '^(packages/contract|packages/press|apps|bin)/' },
    },
    {
      name: 'core-is-pure',
      comment: 'No Node modules and no screen libraries in the computation.',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-has-no-screen',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { path: 'node_modules/(react|react-dom|konva|tone|verovio|express|drizzle-orm)/' },
    },
    {
      name: 'contract-imports-core-only',
      severity: 'error',
      from: { path: '^packages/contract/' },
      to: { path: '^apps/' },
    },
    { name: 'server-and-web-apart', severity: 'error', from: { path: '^apps/server/' }, to: { path: '^apps/web/' } },
    { name: 'web-and-server-apart', severity: 'error', from: { path: '^apps/web/' }, to: { path: '^apps/server/' } },
    { name: 'no-circles', comment: 'Types among them.', severity: 'error', from: {}, to: { circular: true } },
    ...roomRules,
    ...floorRules,
    noLooseFiles,
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|migrations)/' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
      extensions: ['.ts', '.tsx', '.mjs', '.js'],
    },
  },
};
