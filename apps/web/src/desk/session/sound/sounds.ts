/** Which sounds are heard: those of the SoundFont that the server keeps, where one is there and wanted; else the built-in ones. */
import { toast } from 'sonner';
import type * as ToneModule from 'tone';
import { builtInSounds } from './builtInSounds.js';
import { type FontSynth, fontSounds } from './fontSounds.js';
import type { Sounds } from './sound.js';
import { soundFont } from './soundFont.js';

type Tone = typeof ToneModule;

let loaded: Promise<Tone> | undefined;

/** Tone.js, loaded once, on an audio context of the browser's own: a SoundFont plays on the same clock. */
export const loadTone = (): Promise<Tone> => {
  loaded ??= import('tone').then((tone) => {
    // The one that it came with would run for nothing from here on.
    tone.setContext(new AudioContext({ latencyHint: 'interactive' }), true);
    return tone;
  });
  return loaded;
};

/** Which of them these are: the id of the SoundFont, or null. */
const madeFor = new WeakMap<Sounds, string | null>();

const remembered = (sounds: Sounds, font: string | null): Sounds => {
  madeFor.set(sounds, font);
  return sounds;
};

const fontSynth = async (tone: Tone, id: string): Promise<FontSynth> => {
  const [{ WorkletSynthesizer }, processor] = await Promise.all([
    import('spessasynth_lib'),
    import('spessasynth_lib/dist/spessasynth_processor.min.js?url'),
  ]);
  const bytes = await soundFont.bytes(id);
  const context = tone.getContext().rawContext as unknown as AudioContext;
  await context.audioWorklet.addModule(processor.default);
  const synth = new WorkletSynthesizer(context);
  synth.connect(context.destination);
  await synth.soundBankManager.addSoundBank(bytes, id);
  await synth.isReady;
  return synth as unknown as FontSynth;
};

/** The sounds to play with now; the very same where nothing else was chosen. */
export const soundsFor = async (tone: Tone, now: Sounds | undefined): Promise<Sounds> => {
  const font = await soundFont.chosen();
  if (now && madeFor.get(now) === (font?.id ?? null)) return now;
  now?.dispose();
  if (!font) return remembered(builtInSounds(tone), null);
  try {
    return remembered(fontSounds(await fontSynth(tone, font.id)), font.id);
  } catch {
    toast.error(`The SoundFont ${font.name} could not be read. The built-in sounds play instead.`, { duration: 9000 });
    return remembered(builtInSounds(tone), font.id);
  }
};

export type { Sounds } from './sound.js';
