/** How the roll is seen: what hue shows, names, rows, the strip of the whole piece. */
import { useAppDispatch, useAppSelector } from '../../../app/store.js';
import { deskActions, type RowsShown, type Seeing } from '../deskSlice.js';
import { SettingsPanel } from '../steps/SettingsPanel.js';
import { HUE_NAMES, HUES, type HueMode } from './hues.js';

const BOX = 'min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1';

const NAMES: readonly (readonly [Seeing['names'], string])[] = [
  ['room', 'where there is room'],
  ['always', 'always'],
  ['never', 'never'],
];
const ROWS: readonly (readonly [RowsShown, string])[] = [
  ['all', 'all'],
  ['used', 'those in use'],
  ['key', 'those of the key, and in use'],
];

export const SeeingPanel = () => {
  const dispatch = useAppDispatch();
  const seeing = useAppSelector(({ desk }) => desk.seeing);
  const set = (next: Partial<Seeing>) => dispatch(deskActions.seen(next));
  return (
    <SettingsPanel
      title="What is seen"
      explanation="How the roll shows notes. Nothing of the music changes; it is so again when you come back."
      onClose={() => dispatch(deskActions.toolShown(null))}
    >
      <div className="flex flex-col gap-3 text-sm">
        <label className="flex items-center gap-2">
          <span className="w-14">Hue</span>
          <select className={BOX} value={seeing.hue} onChange={(event) => set({ hue: event.target.value as HueMode })}>
            {HUES.map((hue) => (
              <option key={hue} value={hue}>
                {HUE_NAMES[hue]}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          <span className="w-14">Names</span>
          <select
            className={BOX}
            value={seeing.names}
            onChange={(event) => set({ names: event.target.value as Seeing['names'] })}
          >
            {NAMES.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          <span className="w-14">Rows</span>
          <select
            className={BOX}
            value={seeing.rows}
            onChange={(event) => set({ rows: event.target.value as RowsShown })}
          >
            {ROWS.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={seeing.keyMarked}
            onChange={() => set({ keyMarked: !seeing.keyMarked })}
          />
          Mark the rows of the key
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-[var(--fold)]"
            checked={seeing.strip}
            onChange={() => set({ strip: !seeing.strip })}
          />
          The whole piece as a strip above the roll
        </label>
        <p className="text-soft">The cut of a note’s left edge shows its part, whatever hue shows.</p>
      </div>
    </SettingsPanel>
  );
};
