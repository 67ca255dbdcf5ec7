/** Long work tells how far it is, so that it can be shown and stopped. */

/** Told how much more was done, in bytes read or made; throws to stop the work. */
export type OnWork = (bytes: number) => void;
