/** What is set for the page under the roll. */

import type { CommandContext } from '../../actions/commands/command.js';
import { keyOf } from '../../actions/commands/ownKeys.js';
import { useAppDispatch } from '../../session/dispatching.js';
import { deskActions, type Switch } from '../../state/deskSlice.js';
import { useAppSelector } from '../../state/root.js';
import { CorrectionFields } from './CorrectionFields.js';
import { CorrectionList } from './CorrectionList.js';

const SETTINGS: readonly (readonly [
  setting: Switch & ('pageShown' | 'pageOfFrontOnly'),
  words: string,
  key: string,
])[] = [
  ['pageShown', 'Page under the roll', keyOf('page')],
  ['pageOfFrontOnly', 'Page of the front part only', keyOf('pageOfFront')],
];

export const PagePanel = ({ context }: { context: CommandContext }) => {
  const dispatch = useAppDispatch();
  const desk = useAppSelector((state) => state.desk);
  return (
    <section aria-label="Page settings" className="flex flex-col gap-2 p-3 text-sm">
      {SETTINGS.map(([setting, words, key]) => (
        <label key={setting} className="flex items-center gap-2" title={`${words} (${key})`}>
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={desk[setting]}
            onChange={() => dispatch(deskActions.switched(setting))}
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
