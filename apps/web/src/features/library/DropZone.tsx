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

/** True for an arrangement that was taken away with its history. */
export const isArchive = ({ name }: File): boolean => name.toLowerCase().endsWith('.zip');

export interface DropZoneProps {
  readonly onFiles: (files: File[]) => void;
  /** While files are read: gives up on them. */
  readonly onCancel: (() => void) | null;
  /** True where arrangements that were taken away are taken too. */
  readonly archives?: boolean;
  readonly children: ReactNode;
}

/** Takes files dropped or chosen; tells of those that are neither MIDI files nor scores, or too large, and takes the rest. */
export const useMidiDrop = (
  onFiles: (files: File[]) => void,
  options: { noClick?: boolean; disabled?: boolean; archives?: boolean } = {},
) =>
  useDropzone({
    accept: options.archives ? { ...ACCEPTED, 'application/zip': ['.zip'] } : ACCEPTED,
    maxSize: LARGEST_UPLOAD,
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
            : `${first.file.name} is neither a .mid file nor a MusicXML score. It was left out.`,
        );
      }
      if (accepted.length > 0) onFiles(accepted);
    },
  });

export const DropZone = ({ onFiles, onCancel, archives = false, children }: DropZoneProps) => {
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
            <p role="status">Reading the files…</p>
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
