/** The keys in force, for tooltips. */
import { useCallback } from 'react';
import type { CommandId } from '../state/keyTable.js';
import { keyIn } from '../state/ownKeys.js';
import { useAppSelector } from '../state/root.js';

/** The first key of a command; empty where it has none. */
export const useKeyOf = (): ((id: CommandId) => string) => {
  const own = useAppSelector(({ keys }) => keys.own);
  return useCallback((id) => keyIn(own, id), [own]);
};
