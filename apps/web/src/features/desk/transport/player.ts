/** Plays the arrangement: notes are handed to the audio clock a little ahead, the playhead follows that clock. */
import {
  type Arrangement,
  beatsOfBar,
  createMeterMap,
  createTempoMap,
  type Part,
  type PartId,
  type SoundingNote,
  soundingNotes,
  type Written,
} from '@crispfold/core';
import { createValueStore } from '../../../ui/valueStore.js';
import { spoken } from '../speak.js';
import { loadTone, type PartSound, soundFor } from './sounds.js';

/** What is to be heard. */
export interface PlayRequest {
  readonly arrangement: Arrangement;
  readonly written: readonly Pick<Written, 'partId' | 'notes'>[];
  readonly creaseTick: number | null;
  readonly audible: readonly PartId[];
  readonly loop: { readonly start: number; readonly end: number } | null;
  readonly metronome: boolean;
  /** Stretches to play one after another, instead of all from the playhead on. */
  readonly stretches?: readonly Stretch[];
}

/** A stretch of the music, and where the crease lies in it. */
export interface Stretch {
  readonly start: number;
  readonly end: number;
  readonly creaseTick: number | null;
  /** Said when it begins. */
  readonly words?: string;
  /** Played in the place of the arrangement, for a change that is only tried. */
  readonly arrangement?: Arrangement;
}

/** Where the playhead stands and whether it moves. */
export interface PlayerState {
  readonly playing: boolean;
  readonly tick: number;
}

const LOOK_AHEAD = 0.2;
const TURN_MILLISECONDS = 40;

type Tone = Awaited<ReturnType<typeof loadTone>>;

interface Click {
  readonly start: number;
  readonly first: boolean;
}

/** One pass over the music from a place: what sounds when, on the audio clock. */
interface Pass {
  readonly notes: readonly SoundingNote[];
  readonly clicks: readonly Click[];
  /** Audio time of music second 0. */
  origin: number;
  nextNote: number;
  nextClick: number;
  readonly loopStart: number;
  /** Music seconds at which it turns back or stops. */
  readonly end: number;
  readonly loops: boolean;
}

class Player {
  readonly state = createValueStore<PlayerState>({ playing: false, tick: 0 });
  private tone: Tone | undefined;
  private readonly sounds = new Map<PartId, { instrument: string; sound: PartSound }>();
  private click: { play(at: number, first: boolean): void } | undefined;
  private pass: Pass | undefined;
  private timer: ReturnType<typeof setInterval> | undefined;
  private request: PlayRequest | undefined;
  private starting = 0;

  /** Moves the playhead; while playing, plays on from there. */
  async seek(tick: number): Promise<void> {
    this.state.set({ ...this.state.get(), tick: Math.max(0, tick) });
    if (this.state.get().playing && this.request) await this.play(this.request);
  }

  /** Plays from the playhead (inside the loop, where there is one). */
  async play(request: PlayRequest): Promise<void> {
    const turn = ++this.starting;
    this.silence();
    this.request = request;
    this.tone ??= await loadTone();
    await this.tone.start();
    if (turn !== this.starting) return;
    const { loop } = request;
    const stretch = request.stretches?.[0];
    const arrangement = stretch?.arrangement ?? request.arrangement;
    const map = createTempoMap(arrangement.tempos, arrangement.ppq);
    if (stretch?.words) spoken.set(stretch.words);
    let { tick } = this.state.get();
    if (loop && (tick < loop.start || tick >= loop.end)) tick = loop.start;
    if (stretch) tick = stretch.start;
    const notes = soundingNotes(arrangement, {
      partIds: request.audible,
      creaseTick: stretch ? stretch.creaseTick : request.creaseTick,
      written: request.written,
    });
    const lastEnd = notes.reduce((last, note) => Math.max(last, note.end), 0);
    const from = map.secondsAt(tick);
    this.pass = {
      notes,
      clicks: request.metronome ? clicksOf(arrangement, lastEnd) : [],
      origin: this.tone.now() + 0.08 - from,
      nextNote: 0,
      nextClick: 0,
      loopStart: loop ? map.secondsAt(loop.start) : 0,
      end: stretch ? map.secondsAt(stretch.end) : loop ? map.secondsAt(loop.end) : lastEnd + 0.3,
      loops: loop !== null,
    };
    this.prepare(arrangement.parts);
    this.enterAt(from, this.pass);
    this.state.set({ playing: true, tick });
    this.turn();
    this.timer = setInterval(() => this.turn(), TURN_MILLISECONDS);
    const follow = () => {
      if (turn !== this.starting || !this.pass || !this.tone) return;
      const at = Math.min(this.pass.end, Math.max(0, this.tone.now() - this.pass.origin));
      this.state.set({ playing: true, tick: map.ticksAt(at) });
      requestAnimationFrame(follow);
    };
    requestAnimationFrame(follow);
  }

  /** The playhead as another window has it; what plays here stops where it was stopped there. */
  follow(state: PlayerState): void {
    if (this.pass && state.playing) return;
    if (this.pass) this.stop();
    this.state.set(state);
  }

  /** Stops; the playhead stays where it is. */
  stop(): void {
    this.starting += 1;
    this.silence();
    this.state.set({ ...this.state.get(), playing: false });
  }

  /** Takes changed settings or music while playing, from where the playhead is. */
  async refresh(request: PlayRequest): Promise<void> {
    if (!this.state.get().playing) return;
    const { stretches } = this.request ?? {};
    await this.play(stretches ? { ...request, loop: null, stretches } : request);
  }

  /** Sounds one note, as an edit does. */
  async sound(part: Part, pitch: number, velocity: number): Promise<void> {
    this.tone ??= await loadTone();
    await this.tone.start();
    this.prepare([part]);
    this.sounds.get(part.id)?.sound.play(pitch, this.tone.now() + 0.01, 0.25, velocity / 127);
  }

  private prepare(parts: readonly Part[]): void {
    if (!this.tone) return;
    for (const part of parts) {
      const known = this.sounds.get(part.id);
      if (known?.instrument === part.instrument) continue;
      known?.sound.dispose();
      this.sounds.set(part.id, { instrument: part.instrument, sound: soundFor(this.tone, part) });
    }
    if (!this.click) {
      const synth = new this.tone.Synth({
        oscillator: { type: 'square' },
        envelope: { attack: 0.001, decay: 0.03, sustain: 0, release: 0.02 },
        volume: -18,
      }).toDestination();
      this.click = { play: (at, first) => synth.triggerAttackRelease(first ? 1760 : 1174, 0.02, at) };
    }
  }

  /** Begins at music second `from`: what still sounds there sounds for its rest. */
  private enterAt(from: number, pass: Pass): void {
    pass.nextNote = pass.notes.findIndex((note) => note.start >= from);
    if (pass.nextNote < 0) pass.nextNote = pass.notes.length;
    for (const note of pass.notes.slice(0, pass.nextNote)) if (note.end > from + 0.01) this.playNote(pass, note, from);
    pass.nextClick = pass.clicks.findIndex((click) => click.start >= from - 0.001);
    if (pass.nextClick < 0) pass.nextClick = pass.clicks.length;
  }

  private playNote(pass: Pass, note: SoundingNote, from = note.start): void {
    const end = Math.min(note.end, pass.end);
    this.sounds.get(note.partId)?.sound.play(note.pitch, pass.origin + from, end - from, note.velocity / 127);
  }

  private turn(): void {
    const { pass, tone } = this;
    if (!pass || !tone) return;
    const until = tone.now() + LOOK_AHEAD - pass.origin;
    const limit = Math.min(until, pass.end);
    for (let note = pass.notes[pass.nextNote]; note && note.start < limit; note = pass.notes[++pass.nextNote])
      this.playNote(pass, note);
    for (let click = pass.clicks[pass.nextClick]; click && click.start < limit; click = pass.clicks[++pass.nextClick]) {
      this.click?.play(pass.origin + click.start, click.first);
    }
    if (until < pass.end) return;
    if (pass.loops) {
      pass.origin += pass.end - pass.loopStart;
      this.enterAt(pass.loopStart, pass);
    } else if (tone.now() - pass.origin >= pass.end) this.finished();
  }

  /** At the end: on with the next stretch, back to where the stretches began, or back to the start. */
  private finished(): void {
    const { request } = this;
    const [done, ...left] = request?.stretches ?? [];
    if (request && left.length > 0) {
      void this.play({ ...request, stretches: left });
      return;
    }
    this.stop();
    this.state.set({ playing: false, tick: done?.start ?? 0 });
  }

  private silence(): void {
    clearInterval(this.timer);
    this.pass = undefined;
    for (const { sound } of this.sounds.values()) sound.stopAll();
  }
}

const clicksOf = (arrangement: Arrangement, until: number): Click[] => {
  const map = createTempoMap(arrangement.tempos, arrangement.ppq);
  const bars = createMeterMap(arrangement.meters, arrangement.ppq).barsTo(map.ticksAt(until));
  return bars.flatMap((bar) =>
    beatsOfBar(bar, arrangement.ppq).map((beat, index) => ({ start: map.secondsAt(beat.start), first: index === 0 })),
  );
};

/** The one player. */
export const player = new Player();
