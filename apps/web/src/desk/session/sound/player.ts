/** Plays the arrangement: what is due is handed to the audio clock a little ahead, the playhead follows that clock. */

import type { SoundFontItem } from '@crispfold/contract';
import {
  type Arrangement,
  beatsOfBar,
  type Click,
  countIn,
  createMeterMap,
  createSchedule,
  createTempoMap,
  type Due,
  heardEvents,
  median,
  type Part,
  type PartId,
  recordingSlot,
  type Schedule,
  soundingNotes,
  type Written,
} from '@crispfold/core';
import { createValueStore } from '../../../ui/valueStore.js';
import { createRest } from './rest.js';
import type { Sounds } from './sound.js';
import { type ChosenSounds, loadTone, soundsFor } from './sounds.js';
import { startRecording } from './startRecording.js';

/** What is to be heard. */
export interface PlayRequest {
  readonly arrangement: Arrangement;
  readonly written: readonly Pick<Written, 'partId' | 'notes'>[];
  readonly creaseTick: number | null;
  readonly audible: readonly PartId[];
  readonly loop: { readonly start: number; readonly end: number } | null;
  readonly metronome: boolean;
  /** The recording's sound, where it is heard along. */
  readonly sound: AudioBuffer | null;
  /** While a part is played in: so many bars count in, and it plays on after the last note. */
  readonly taking?: { readonly countIn: number };
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

/** A moment: seconds of the audio clock, and of the music from tick 0. */
export interface Moment {
  readonly clock: number;
  readonly music: number;
}

/** What is played in may go on for so long after the last note (seconds). */
const LONGEST_BEYOND = 900;
/** How often the clocks are compared before the oldest answer goes. */
const MOST_ANSWERS = 60;
const LOOK_AHEAD = 0.2;
const TURN_MILLISECONDS = 40;
/** What the browser said of its clocks is no longer true after so long (milliseconds): the audio clock rested since. */
const STALE_AFTER = 500;
/** What sounds while it plays. */
const MUSIC = 'music';
const keyOf = (part: Part, pitch: number): string => `${part.id} ${pitch}`;

/** What it needs of the Desk. */
export interface PlayerEnds {
  readonly say: (words: string) => void;
  /** The SoundFont to play with; null for the built-in sounds. */
  readonly soundFont: () => Promise<SoundFontItem | null>;
}

type Tone = Awaited<ReturnType<typeof loadTone>>;

export class Player {
  readonly state = createValueStore<PlayerState>({ playing: false, tick: 0 });
  /** Loaded once, on an audio context of the browser's own. */
  private loading: Promise<Tone> | undefined;
  private tone: Tone | undefined;
  private chosen: ChosenSounds | undefined;
  private click: { play(at: number, first: boolean): void } | undefined;
  private along: AudioBufferSourceNode | undefined;
  private schedule: Schedule | undefined;
  private playing: PlayRequest | undefined;
  private timer: ReturnType<typeof setInterval> | undefined;
  private request: PlayRequest | undefined;
  private starting = 0;
  /** How many single notes were sounded. */
  private sounded = 0;
  /** How far the audio clock was ahead of the page's, as asked last. */
  private readonly aheads: number[] = [];
  private readonly rest = createRest(() => {
    this.aheads.length = 0;
    const context = this.audio();
    if (context?.state === 'running') void context.suspend();
  });

  constructor(private readonly ends: PlayerEnds) {}

  /** Gives back what sounds, for good. */
  close(): void {
    this.stop();
    this.sounds?.dispose();
    void this.audio()?.close();
  }

  private get sounds(): Sounds | undefined {
    return this.chosen?.sounds;
  }

  private load(): Promise<Tone> {
    this.loading ??= loadTone();
    return this.loading;
  }

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
    // From here on: the clock must not go to rest while a SoundFont is read.
    this.rest.begins(MUSIC);
    this.tone ??= await this.load();
    await this.tone.start();
    if (turn !== this.starting) return;
    const { loop } = request;
    const stretch = request.stretches?.[0];
    const arrangement = stretch?.arrangement ?? request.arrangement;
    const map = createTempoMap(arrangement.tempos, arrangement.ppq);
    if (stretch?.words) this.ends.say(stretch.words);
    let { tick } = this.state.get();
    if (loop && (tick < loop.start || tick >= loop.end)) tick = loop.start;
    if (stretch) tick = stretch.start;
    const notes = soundingNotes(arrangement, {
      partIds: request.audible,
      creaseTick: stretch ? stretch.creaseTick : request.creaseTick,
      written: request.written,
    });
    const { recording } = arrangement;
    const soundEnd = request.sound && recording ? recording.offset + recording.seconds : 0;
    const lastEnd = notes.reduce((last, note) => Math.max(last, note.end), soundEnd);
    await this.prepare(arrangement.parts);
    if (turn !== this.starting) return;
    const starts = map.secondsAt(tick);
    const counted = request.taking?.countIn ? countIn(arrangement, tick, request.taking.countIn) : null;
    const from = starts - (counted?.seconds ?? 0);
    const lasts = request.taking ? Math.max(lastEnd, starts) + LONGEST_BEYOND : lastEnd + 0.3;
    const clicks = request.metronome ? clicksOf(arrangement, request.taking ? lasts : lastEnd) : [];
    const schedule = createSchedule(
      {
        // While it counts in, nothing else is heard.
        notes: counted ? notes.filter(({ start }) => start >= starts - 1e-6) : notes,
        events: heardEvents(arrangement, request.audible),
        clicks: counted ? [...counted.clicks, ...clicks.filter(({ start }) => start >= starts - 1e-6)] : clicks,
        from,
        end: stretch ? map.secondsAt(stretch.end) : loop ? map.secondsAt(loop.end) : lasts,
        loopStart: loop ? map.secondsAt(loop.start) : null,
      },
      this.tone.now() + 0.08,
    );
    this.schedule = schedule;
    this.playing = { ...request, arrangement };
    this.state.set({ playing: true, tick });
    this.turn();
    this.timer = setInterval(() => this.turn(), TURN_MILLISECONDS);
    const follow = () => {
      if (turn !== this.starting || !this.schedule || !this.tone) return;
      const music = Math.max(from, 0, schedule.musicAt(this.heardAt(performance.now())));
      this.state.set({ playing: true, tick: map.ticksAt(music) });
      requestAnimationFrame(follow);
    };
    requestAnimationFrame(follow);
  }

  /** The playhead as another window has it; what plays here stops where it was stopped there. */
  follow(state: PlayerState): void {
    if (this.schedule && state.playing) return;
    if (this.schedule) this.stop();
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
    const { stretches, taking } = this.request ?? {};
    if (taking) await this.play({ ...request, metronome: this.request?.metronome ?? false, taking: { countIn: 0 } });
    else await this.play(stretches ? { ...request, loop: null, stretches } : request);
  }

  /**
   * Where in the music something was that the browser stamped with a time (milliseconds of the page): by what was heard
   * then, whenever it came in. Null while nothing plays.
   */
  momentOf(timeStamp: number): Moment | null {
    const { schedule } = this;
    if (!schedule || !this.tone) return null;
    const clock = this.heardAt(timeStamp);
    return { clock, music: schedule.musicAt(clock) };
  }

  private audio(): AudioContext | undefined {
    return this.tone?.getContext().rawContext as unknown as AudioContext | undefined;
  }

  /** What the audio clock said when that was heard which the loudspeaker gave at a time of the page (milliseconds). */
  private heardAt(timeStamp: number): number {
    const context = this.audio();
    const { contextTime = 0, performanceTime = 0 } = context?.getOutputTimestamp?.() ?? {};
    const now = performance.now();
    const ahead =
      performanceTime > now - STALE_AFTER && performanceTime > 0
        ? contextTime - performanceTime / 1000
        : (context?.currentTime ?? 0) - now / 1000;
    // Each answer is some milliseconds off, now before and now after: the two clocks themselves run alike.
    this.aheads.push(ahead);
    if (this.aheads.length > MOST_ANSWERS) this.aheads.shift();
    return timeStamp / 1000 + (median(this.aheads) ?? ahead);
  }

  /** A key of the part goes down: it sounds until it is let go. */
  async strike(part: Part, pitch: number, velocity: number): Promise<void> {
    this.rest.begins(keyOf(part, pitch));
    await this.ready(part);
    if (this.tone) this.sounds?.of(part.id)?.strike(pitch, this.tone.immediate(), velocity);
  }

  /** The key is let go. */
  letGo(part: Part, pitch: number): void {
    this.rest.ends(keyOf(part, pitch));
    if (!this.tone) return;
    const at = this.tone.immediate();
    this.sounds?.of(part.id)?.letGo(pitch, at);
    this.sounds?.turn(at + 0.01);
  }

  private async ready(part: Part): Promise<void> {
    this.tone ??= await this.load();
    await this.tone.start();
    // While it plays all parts are ready, and what their controllers have come to must stay.
    if (!this.schedule && !this.sounds?.of(part.id)) await this.prepare([part]);
  }

  /** Sounds one note, as an edit does. */
  async sound(part: Part, pitch: number, velocity: number): Promise<void> {
    this.sounded += 1;
    const own = `sound ${this.sounded}`;
    this.rest.begins(own);
    this.tone ??= await this.load();
    await this.tone.start();
    // While it plays all parts are ready, and what their controllers have come to must stay.
    if (!this.schedule) await this.prepare([part]);
    const at = this.tone.now() + 0.01;
    this.sounds?.of(part.id)?.play(pitch, at, at + 0.25, velocity);
    this.sounds?.turn(at + 1);
    this.rest.ends(own);
  }

  /** Everything that sounds is silenced at once, whatever made it: for a sound that hangs. */
  panic(): void {
    this.stop();
    this.sounds?.panic();
  }

  private async prepare(parts: readonly Part[]): Promise<void> {
    if (!this.tone) return;
    this.chosen = await soundsFor(this.tone, this.chosen, await this.ends.soundFont());
    this.chosen.sounds.prepare(parts);
    if (!this.click) {
      const synth = new this.tone.Synth({
        oscillator: { type: 'square' },
        envelope: { attack: 0.001, decay: 0.03, sustain: 0, release: 0.02 },
        volume: -18,
      }).toDestination();
      this.click = { play: (at, first) => synth.triggerAttackRelease(first ? 1760 : 1174, 0.02, at) };
    }
  }

  private handOn(due: Due): void {
    if (due.kind === 'note') {
      const { partId, pitch, velocity } = due.note;
      this.sounds?.of(partId)?.play(pitch, due.at, due.until, velocity);
    } else if (due.kind === 'event') this.sounds?.of(due.heard.partId)?.change(due.heard.event, due.at);
    else if (due.kind === 'click') this.click?.play(due.at, due.first);
    else this.playAlong(due);
  }

  /** The recording from where a pass begins to where it turns or stops. */
  private playAlong({ from, at, until }: Extract<Due, { kind: 'pass' }>): void {
    const { sound, arrangement } = this.playing ?? {};
    const slot = arrangement?.recording && recordingSlot(arrangement.recording, from, from + until - at);
    if (!sound || !slot || !arrangement?.recording) return;
    const context = this.audio();
    if (!context) return;
    this.along = startRecording(context, context.destination, sound, arrangement.recording.level, slot, at - from);
  }

  private turn(): void {
    const { schedule, tone } = this;
    if (!schedule || !tone) return;
    const until = tone.now() + LOOK_AHEAD;
    for (const due of schedule.due(until)) this.handOn(due);
    this.sounds?.turn(until);
    if (tone.now() >= schedule.endsAt) this.finished();
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
    this.schedule = undefined;
    this.rest.ends(MUSIC);
    this.along?.stop();
    this.along = undefined;
    this.sounds?.stopAll();
  }
}

const clicksOf = (arrangement: Arrangement, until: number): Click[] => {
  const map = createTempoMap(arrangement.tempos, arrangement.ppq);
  const bars = createMeterMap(arrangement.meters, arrangement.ppq).barsTo(map.ticksAt(until));
  return bars.flatMap((bar) =>
    beatsOfBar(bar, arrangement.ppq).map((beat, index) => ({ start: map.secondsAt(beat.start), first: index === 0 })),
  );
};
