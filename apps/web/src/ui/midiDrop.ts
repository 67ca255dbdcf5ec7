/** Takes files that are dropped or chosen. */
import { LARGEST_UPLOAD } from '@crispfold/core';
import { useDropzone } from 'react-dropzone';
import { toast } from 'sonner';

const ACCEPTED = {
  'audio/midi': ['.mid', '.midi', '.kar'],
  'audio/x-midi': [],
  'audio/mid': [],
  'application/vnd.recordare.musicxml+xml': ['.musicxml', '.xml'],
  'application/vnd.recordare.musicxml': ['.mxl'],
};

const SOUND_FILES = {
  'audio/wav': ['.wav'],
  'audio/flac': ['.flac'],
  'audio/mpeg': ['.mp3'],
  'audio/ogg': ['.ogg', '.oga'],
};

/** True for a file that says that it is sound. */
const isSoundFile = ({ name, type }: Pick<File, 'name' | 'type'>): boolean =>
  /\.(wav|flac|mp3|ogg|oga)$/i.test(name) || /^audio\/(wav|x-wav|wave|flac|x-flac|mpeg|ogg)$/.test(type);

/** True for an arrangement that was taken away with its history. */
export const isArchive = ({ name }: File): boolean => name.toLowerCase().endsWith('.zip');

/** Takes files dropped or chosen; tells of those that are neither MIDI files nor scores, or too large, and takes the rest. */
export const useMidiDrop = (
  onFiles: (files: File[]) => void,
  options: {
    noClick?: boolean;
    disabled?: boolean;
    archives?: boolean;
    /** Takes a recording, where one may lie beside the notes. */
    onRecording?: (file: File) => void;
  } = {},
) =>
  useDropzone({
    accept: {
      ...ACCEPTED,
      ...(options.archives ? { 'application/zip': ['.zip'] } : {}),
      ...(options.onRecording ? SOUND_FILES : {}),
    },
    validator: (file) =>
      file.size > LARGEST_UPLOAD && !isSoundFile(file) ? { code: 'file-too-large', message: 'too large' } : null,
    noClick: options.noClick ?? false,
    noKeyboard: options.noClick ?? false,
    disabled: options.disabled ?? false,
    onDrop: (accepted, rejected) => {
      const first = rejected[0];
      if (first) {
        const large = first.errors.some((error) => error.code === 'file-too-large');
        toast.error(
          large
            ? `${first.file.name} is larger than 20 MB, more than a MIDI file or a score ever needs. It was left out.`
            : isSoundFile(first.file)
              ? `${first.file.name} is a recording: open an arrangement and drop it there, beside its notes.`
              : `${first.file.name} is neither a .mid file nor a MusicXML score${options.onRecording ? ', nor a recording' : ''}. It was left out.`,
        );
      }
      const [sound] = options.onRecording ? accepted.filter(isSoundFile) : [];
      if (sound) options.onRecording?.(sound);
      const music = accepted.filter((file) => !options.onRecording || !isSoundFile(file));
      if (music.length > 0) onFiles(music);
    },
  });
