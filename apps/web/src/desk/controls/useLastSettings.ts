/** Settings of a panel, which it has again when it is opened the next time. */
import { useAppDispatch } from '../session/desk.js';
import { settingsUsed } from '../state/lastSettingsSlice.js';
import { useAppSelector } from '../state/root.js';

/** The settings of the panel of this name, and how some of them are changed; `first` is what it begins with. */
export const useLastSettings = <Settings extends object>(
  panel: string,
  first: Settings,
): readonly [settings: Settings, change: (next: Partial<Settings>) => void] => {
  const dispatch = useAppDispatch();
  const used = useAppSelector(({ lastSettings }) => lastSettings[panel]) as Settings | undefined;
  const settings = used ?? first;
  return [settings, (next) => dispatch(settingsUsed({ panel, settings: { ...settings, ...next } }))];
};
