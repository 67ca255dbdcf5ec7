/** What the names in a file are worth: a track's name may say what it is, or only that it is a track. */
import {
  type Instrument,
  instrumentForName,
  instrumentForProgram,
  isUnpitched,
  PERCUSSION_CHANNEL,
  UNPITCHED,
} from '../instruments/instruments.js';

/** Words for "track", "staff", "channel" and the like, in the languages that recording programs speak (from memory). */
const EMPTY_WORDS = new Set(
  `track tracks trk midi staff stave part channel chan ch instrument inst voice new untitled unnamed sequence seq audio smf
   spur kanal stimme instrumentenspur piste canal portée portee voix pista canale traccia rigo faixa trilha pauta canal
   spår spor sporet raita ścieżka sciezka stopa sáv csatorna pista dorozhka трек дорожка канал партия доріжка
   トラック チャンネル 音轨 音軌 轨道 通道 트랙 채널`
    .split(/\s+/)
    .filter(Boolean),
);

/** Words for the track that holds tempo and meter and no music, which names no piece. */
const CONDUCTOR_WORDS = new Set([
  ...`conductor tempo meter metre master control meta map signature time dirigent direttore director chef global setup
      header timing marker markers`.split(/\s+/),
]);

const wordsOf = (name: string): string[] => name.toLowerCase().match(/[\p{L}\p{M}]+/gu) ?? [];

/** True for a name that says no more than that something is a track: "Track 3", "MIDI 01", "Staff-1", "Spur 2", "7". */
export const saysNothing = (name: string): boolean => wordsOf(name).every((word) => EMPTY_WORDS.has(word));

/** True for a track name that can stand as the title of a piece. */
export const canBeTitle = (name: string): boolean =>
  wordsOf(name).some((word) => !EMPTY_WORDS.has(word) && !CONDUCTOR_WORDS.has(word));

/** An instrument for a track, and what told it. */
export interface InstrumentGuess {
  readonly instrument: Instrument;
  readonly from: 'program' | 'name' | 'channel' | 'nothing';
}

/**
 * The instrument of a track. The program weighs more than the name, which may only say more within the program's family
 * ("Bass clarinet" under a clarinet's program); program 0 is what is sent where none was chosen (General MIDI 1), so a
 * name outweighs it. On the percussion channel only unpitched instruments will do.
 */
export const guessInstrument = (name: string, channel: number, program: number | null): InstrumentGuess => {
  const named = instrumentForName(name);
  if (channel === PERCUSSION_CHANNEL) {
    return named && isUnpitched(named)
      ? { instrument: named, from: 'name' }
      : { instrument: UNPITCHED, from: 'channel' };
  }
  const meant = program === null ? undefined : instrumentForProgram(program);
  const known = meant && meant.id !== instrumentForProgram(null).id ? meant : undefined;
  if (!known)
    return named ? { instrument: named, from: 'name' } : { instrument: instrumentForProgram(null), from: 'nothing' };
  const saysMore = named && (program === 0 || named.family === known.family);
  return saysMore ? { instrument: named, from: 'name' } : { instrument: known, from: 'program' };
};
