/** What is set for the page under the roll. */

import type { CommandContext } from '../../actions/commands/command.js';
import { useKeyOf } from '../../controls/useKeyOf.js';
import { useAppDispatch } from '../../session/desk.js';
import type { CommandId } from '../../state/keyTable.js';
import { useAppSelector } from '../../state/root.js';
import { type Switch, switched } from '../../state/switched.js';
import { CorrectionFields } from './CorrectionFields.js';
import { CorrectionList } from './CorrectionList.js';

const SETTINGS: readonly (readonly [
  setting: Switch & ('pageShown' | 'pageOfFrontOnly'),
  words: string,
  command: CommandId,
])[] = [
  ['pageShown', 'Page under the roll', 'page'],
  ['pageOfFrontOnly', 'Page of the front part only', 'pageOfFront'],
];

export const PagePanel = ({ context }: { context: CommandContext }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const layout = useAppSelector((state) => state.layout);
  return (
    <section aria-label="Page settings" className="flex flex-col gap-2 p-3 text-sm">
      {SETTINGS.map(([setting, words, command]) => (
        <label key={setting} className="flex items-center gap-2" title={`${words} (${keyOf(command)})`}>
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={layout[setting]}
            onChange={() => dispatch(switched(setting))}
          />
          {words}
        </label>
      ))}
      <p className="text-soft">
        The page shows the bars that the roll shows, as the plan writes them. A click on a notehead selects its note.
      </p>
      <CorrectionFields context={context} />
      <CorrectionList context={context} />
    </section>
  );
};
