/** Takes files away: which kind, which parts. */
import { EXPORT_KINDS, type ExportKind } from '@crispfold/core';
import { useState } from 'react';
import { toast } from 'sonner';
import { useAppSelector } from '../../../app/store.js';
import { askWorker } from '../../../engine/engine.js';
import { Button } from '../../../ui/Button.js';
import { Dialog } from '../../../ui/Dialog.js';
import { fileName, saveFile } from '../../../ui/saveFile.js';
import { selectArrangement, selectFrontPart } from '../selectors.js';
import { PagesSection } from './PagesSection.js';

const EXPLANATIONS: { readonly [kind in ExportKind]: string } = {
  musicxml: 'The written page, for notation programs.',
  mxl: 'The same, in one small compressed file.',
  'midi-played': 'Every note and controller as recorded and edited.',
  'midi-written': 'The written page as MIDI, on the grid.',
  report: 'What each step of the plan did, as JSON.',
};

export const ExportDialog = ({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) => {
  const arrangement = useAppSelector(selectArrangement);
  const front = useAppSelector(selectFrontPart);
  const [frontOnly, setFrontOnly] = useState(false);
  const [concertPitch, setConcertPitch] = useState(false);
  const [working, setWorking] = useState(false);

  const take = async (kind: ExportKind) => {
    setWorking(true);
    try {
      const { ending, mediaType } = EXPORT_KINDS[kind];
      const partIds = frontOnly && front ? [front.id] : null;
      const { bytes } = await askWorker('exportFile', { kind, partIds, concertPitch });
      const stem = fileName(frontOnly && front ? `${arrangement.title}, ${front.name}` : arrangement.title);
      saveFile(stem + ending, bytes, mediaType);
      toast.success(`${stem + ending} is in your downloads`);
    } catch (error) {
      toast.error(`The file could not be made: ${(error as Error).message}`);
    } finally {
      setWorking(false);
    }
  };

  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Export" description="Nothing here changes the arrangement.">
      <fieldset className="mb-4 flex flex-col gap-1">
        <label className="flex gap-2">
          <input type="radio" name="parts" checked={!frontOnly} onChange={() => setFrontOnly(false)} />
          All parts
        </label>
        <label className="flex gap-2">
          <input type="radio" name="parts" checked={frontOnly} onChange={() => setFrontOnly(true)} />
          The front part only: {front?.name}
        </label>
        <label className="mt-2 flex gap-2">
          <input type="checkbox" checked={concertPitch} onChange={(event) => setConcertPitch(event.target.checked)} />
          Write all parts in concert pitch
        </label>
      </fieldset>
      <ul className="flex flex-col gap-2">
        {(Object.keys(EXPORT_KINDS) as ExportKind[]).map((kind) => (
          <li key={kind} className="flex items-center gap-3">
            <Button className="w-44 !justify-start" disabled={working} onClick={() => void take(kind)}>
              {EXPORT_KINDS[kind].name}
            </Button>
            <span className="text-sm text-soft">{EXPLANATIONS[kind]}</span>
          </li>
        ))}
      </ul>
      <PagesSection partIds={frontOnly && front ? [front.id] : null} concertPitch={concertPitch} />
    </Dialog>
  );
};
