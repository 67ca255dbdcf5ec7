/** A place to drop MIDI files and scores, or to choose them. */
import { LARGEST_UPLOAD } from '@crispfold/core';
import { FileMusic } from 'lucide-react';
import type { ReactNode } from 'react';
import { useDropzone } from 'react-dropzone';
import { toast } from 'sonner';
import { Button } from '../../ui/Button.js';

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

export interface DropZoneProps {
  readonly onFiles: (files: File[]) => void;
  /** While files are read: gives up on them. */
  readonly onCancel: (() => void) | null;
  /** What is said meanwhile. */
  readonly reading: string;
  /** True where arrangements that were taken away are taken too. */
  readonly archives?: boolean;
  readonly children: ReactNode;
}

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

export const DropZone = ({ onFiles, onCancel, reading, archives = false, children }: DropZoneProps) => {
  const working = onCancel !== null;
  const { getRootProps, getInputProps, isDragActive, open } = useMidiDrop(onFiles, {
    noClick: true,
    disabled: working,
    archives,
  });
  return (
    <div
      {...getRootProps({ role: undefined, tabIndex: undefined })}
      className={`flex items-center gap-5 border-2 border-dashed px-5 py-4 ${
        isDragActive ? 'border-fold bg-selected' : 'border-strong bg-sheet'
      }`}
    >
      <input {...getInputProps({ 'aria-label': 'MIDI files' })} />
      <FileMusic aria-hidden className="shrink-0 text-fold" size={30} />
      <div className="flex-1">
        {working ? (
          <>
            <p role="status">{reading}</p>
            <progress aria-label="Reading the files" className="h-2 w-full accent-[var(--fold)]" />
          </>
        ) : (
          children
        )}
      </div>
      {onCancel ? (
        <Button onClick={onCancel}>Cancel</Button>
      ) : (
        <Button look="main" onClick={open}>
          Choose files
        </Button>
      )}
    </div>
  );
};
