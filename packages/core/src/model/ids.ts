/** Numbers by which records are known within their arrangement; each stays for life. */

/** A note's number. */
export type NoteId = number;
/** A part's number. */
export type PartId = number;
/** The number of one event of a part. */
export type EventId = number;
