/** The key plan as a page of Markdown, made from the tables, so that it cannot say anything else than they do. */
import { KEYS, keyName, LISTS, type ListId } from '../state/keyTable.js';
import { inList, keyIn, singleKeys } from '../state/ownKeys.js';
import { COMMANDS } from './registry.js';

const nameOf = (id: string): string => COMMANDS.find((command) => command.id === id)?.name ?? id;

/** docs/keys.md. */
export const keyGuide = (): string => {
  const single = COMMANDS.filter(({ id }) => singleKeys({}, id).length > 0).map(
    ({ id, name }) => `| ${singleKeys({}, id).map(keyName).join(' or ')} | ${name} |`,
  );
  const lists = (Object.keys(LISTS) as ListId[]).map((list) => {
    const { key, name } = LISTS[list];
    if (list === 'own')
      return `### ${key.toUpperCase()}: ${name}\n\nWhat you put on it in Keys (${keyIn({}, 'keys')}): one command or several under a letter.`;
    const lines = inList({}, list).map(
      ([letter, id]) => `| ${key.toUpperCase()}, ${letter.toUpperCase()} | ${nameOf(id)} |`,
    );
    return [`### ${key.toUpperCase()}: ${name}`, '', '| keys | what it does |', '| --- | --- |', ...lines].join('\n');
  });
  return `# Keys

Made by \`npm run keys\` from the table of commands; ${Object.keys(KEYS).length} commands.

What is done most has one plain key. The rest has two strokes: one key opens a small list, the next letter chooses from it;
both are shown on the screen. Shift and the letter of a clean-up step open its settings instead of doing it with those of
last time. Alt and a digit bring that part to the front. Nothing needs three fingers, and nothing a held key alone.

During a drag these letters mean the drag, and the foot says so: T time only, P pitch only, C a copy, V loudness, E all the
same, R repeats, G a finer grid; Esc lets go.

## One stroke

| key | what it does |
| --- | --- |
${single.join('\n')}

## Lists

${lists.join('\n\n')}
`;
};
