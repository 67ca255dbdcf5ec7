/** How large things may get: the one list that changes by hand, imports and screens keep to. */

/** No piece lasts longer than this, in hours… */
export const LONGEST_HOURS = 24;
/** …nor has more bars than this. */
export const MOST_BARS = 100_000;

/** The history of an arrangement is kept whole up to this size on disk, in bytes; beyond it its oldest entries are folded. */
export const MOST_HISTORY_BYTES = 200 * 1024 * 1024;

/** The most notes one file, or one arrangement, may hold; beyond it the roll and the plan would no longer answer at once. */
export const MOST_NOTES = 300_000;

/** The most messages of all kinds that one file may hold. */
export const MOST_EVENTS = 2_000_000;

/** The most tracks of one file. */
export const MOST_TRACKS = 1000;

/** The most bytes of system-exclusive and unknown messages that are kept of one file. */
export const MOST_KEPT_BYTES = 4_000_000;

/** Most parts of an arrangement. */
export const MOST_PARTS = 1000;

/** The last tick that anything stands at. */
export const LAST_TICK = 2 ** 40;

/** The longest text of a track (lyrics, copyright), in characters. */
export const LONGEST_TEXT = 20_000;
/** The largest system-exclusive or unknown meta message, in bytes. */
export const LONGEST_EVENT_BYTES = 1_000_000;

/** The longest name of a part, in characters. */
export const LONGEST_PART_NAME = 200;

/** The longest name of a percussion sound, in characters. */
export const LONGEST_SOUND_NAME = 60;

/** The longest text of a marker, in characters. */
export const LONGEST_MARKER = 2000;

/** The largest file that may be brought in, in bytes: more than a MIDI file ever needs. */
export const LARGEST_UPLOAD = 20 * 1024 * 1024;

/** The largest request of several files, in bytes. */
export const LARGEST_REQUEST = 100 * 1024 * 1024;

/** The most files in one go. */
export const MOST_FILES = 64;

/** The largest change that is saved in one piece, in bytes of JSON: every note of the largest arrangement, and room. */
export const LARGEST_CHANGE = 128 * 1024 * 1024;

/** The most bytes that a compressed score unpacks to, all that is in it together. */
export const LARGEST_UNPACKED_SCORE = 80 * 1024 * 1024;
/** The most bytes that an arrangement that was taken away unpacks to, its history with it. */
export const LARGEST_UNPACKED_ARCHIVE = 160 * 1024 * 1024;
/** The history that is taken away with an arrangement has at most so many characters of JSON: its newest entries. */
export const LARGEST_HISTORY_TAKEN = 96 * 1024 * 1024;
/** The most elements of a score: every note of the largest arrangement, and room. */
export const MOST_ELEMENTS = 3_500_000;
/** The longest that one bar of a score may be, in whole notes: about as long as the longest meter of quarters that a MIDI file can say. */
export const LONGEST_BAR = 64;

/**
 * How much memory reading the files of one request may take, in megabytes: objects, and as much again of plain bytes. How
 * long it may take is bound by what is read, not by the clock.
 */
export const READING_MEGABYTES = 1600;
/** …and looking at a recording or a SoundFont. */
export const LOOKING_MEGABYTES = 400;
/** Work of a thread that gives no sign of life for so many seconds is given up: something is wrong with it. */
export const STUCK_SECONDS = 300;

/** Files that no arrangement names any more are kept for so many days. */
export const KEPT_DAYS = 30;
/** An access token has at least so many characters where others can reach the server. */
export const SHORTEST_TOKEN = 16;
/** Changes that were not saved are kept in the browser up to about this size for each arrangement, in bytes. */
export const LARGEST_OUTBOX = 64 * 1024 * 1024;

/** Making pages takes no longer than this, in seconds… */
export const PRESSING_SECONDS = 180;
/** …and no more memory, in megabytes. */
export const PRESSING_MEGABYTES = 2048;

/** The largest recording that may lie beside the notes, in bytes… */
export const LARGEST_RECORDING = 200 * 1024 * 1024;
/** …and the longest, in seconds: decoded it takes a third of a megabyte a second. */
export const LONGEST_RECORDING = 30 * 60;
/** The longest name of a recording, in characters. */
export const LONGEST_RECORDING_NAME = 200;
/** Recordings that the server keeps for one arrangement, those that were put aside among them. */
export const MOST_RECORDINGS = 20;
/** A recording begins no further than this from tick 0, before or after, in seconds. */
export const FURTHEST_OFFSET = LONGEST_HOURS * 3600;

/** The largest SoundFont that the server keeps, in bytes. */
export const LARGEST_SOUNDFONT = 500 * 1024 * 1024;

/** The longest tag of an arrangement in the library, in characters, and the most that one has. */
export const LONGEST_TAG = 40;
export const MOST_TAGS = 20;
