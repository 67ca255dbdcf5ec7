/** Hands a stretch of a recording to the audio clock. */
import type { RecordingSlot } from '@crispfold/core';

/**
 * Starts a stretch where it belongs: music second 0 is `origin` on the context's clock. What lies in the past already is
 * left out, so that the rest is in time. Both clocks are one, so that nothing drifts however long it lasts.
 */
export const startRecording = (
  context: BaseAudioContext,
  destination: AudioNode,
  sound: AudioBuffer,
  level: number,
  { at, from, length }: RecordingSlot,
  origin: number,
): AudioBufferSourceNode => {
  const source = context.createBufferSource();
  source.buffer = sound;
  const gain = context.createGain();
  gain.gain.value = level;
  source.connect(gain);
  gain.connect(destination);
  source.onended = () => gain.disconnect();
  const late = Math.max(0, context.currentTime - (origin + at));
  source.start(origin + at + late, from + late, Math.max(0, length - late));
  return source;
};
