/** Which sounds are heard: those of the SoundFont that the server keeps, where one is there and wanted; else the built-in ones. */
import type { SoundFontItem } from '@crispfold/contract';
import { toast } from 'sonner';
import type * as ToneModule from 'tone';
import { api } from '../../../browser/api.js';
import { builtInSounds } from './builtInSounds.js';
import { type FontSynth, fontSounds } from './fontSounds.js';
import type { Sounds } from './sound.js';

type Tone = typeof ToneModule;

/** Sounds, and which SoundFont they were asked of: its id, or null for the built-in ones. */
export interface ChosenSounds {
  readonly sounds: Sounds;
  readonly font: string | null;
}

/** Tone.js, on an audio context of the browser's own: a SoundFont plays on the same clock. */
export const loadTone = async (): Promise<Tone> => {
  const tone = await import('tone');
  // The one that it came with would run for nothing from here on.
  tone.setContext(new AudioContext({ latencyHint: 'interactive' }), true);
  return tone;
};

const fontSynth = async (tone: Tone, id: string): Promise<FontSynth> => {
  const [{ WorkletSynthesizer }, processor] = await Promise.all([
    import('spessasynth_lib'),
    import('spessasynth_lib/dist/spessasynth_processor.min.js?url'),
  ]);
  const bytes = await (await api.soundFontFile(id)).arrayBuffer();
  const context = tone.getContext().rawContext as unknown as AudioContext;
  await context.audioWorklet.addModule(processor.default);
  const synth = new WorkletSynthesizer(context);
  synth.connect(context.destination);
  await synth.soundBankManager.addSoundBank(bytes, id);
  await synth.isReady;
  return synth as unknown as FontSynth;
};

/** The sounds to play with now, of the SoundFont or built in; the very same where nothing else was chosen. */
export const soundsFor = async (
  tone: Tone,
  now: ChosenSounds | undefined,
  font: SoundFontItem | null,
): Promise<ChosenSounds> => {
  if (now && now.font === (font?.id ?? null)) return now;
  now?.sounds.dispose();
  if (!font) return { sounds: builtInSounds(tone), font: null };
  try {
    return { sounds: fontSounds(await fontSynth(tone, font.id)), font: font.id };
  } catch {
    toast.error(`The SoundFont ${font.name} could not be read. The built-in sounds play instead.`, { duration: 9000 });
    return { sounds: builtInSounds(tone), font: font.id };
  }
};
