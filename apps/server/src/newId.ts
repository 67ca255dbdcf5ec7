/** Ids of what the server keeps. */
import { randomInt } from 'node:crypto';

/** Twelve small letters and digits. */
export const newId = (): string => Array.from({ length: 12 }, () => randomInt(36).toString(36)).join('');
