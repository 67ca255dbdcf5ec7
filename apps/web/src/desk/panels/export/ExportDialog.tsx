/** Takes files away: which kind, which parts, which bars; and what their reader will find. */

import { EXPORT_KINDS, type ExportAbout, type ExportKind } from '@crispfold/core';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { ExportAsked } from '../../../engine/protocol.js';
import { Button } from '../../../ui/Button.js';
import { Dialog } from '../../../ui/Dialog.js';
import { fileName, saveFile } from '../../../ui/saveFile.js';
import { counted } from '../../../ui/words.js';
import { usePageWishes } from '../../controls/pageWishes.js';
import { useDesk } from '../../session/desk.js';
import { useRevision } from '../../session/useWritten.js';
import { selectMeterMap } from '../../state/maps.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectFrontPart } from '../../state/selectors.js';
import { PagesSection } from './PagesSection.js';

const EXPLANATIONS: { readonly [kind in ExportKind]: string } = {
  musicxml: 'The written page, for notation programs.',
  mxl: 'The same, in one small compressed file.',
  'midi-played': 'The whole piece, as recorded and edited.',
  'midi-written': 'The whole piece, as written, on the grid.',
  report: 'What each step of the plan did, as JSON.',
};

/** What a reader will find; null until it is known. */
const useAbout = (asked: ExportAsked): ExportAbout | null => {
  const { engine } = useDesk();
  const revision = useRevision();
  const [about, setAbout] = useState<ExportAbout | null>(null);
  const key = JSON.stringify([asked, revision]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for what is asked
  useEffect(() => {
    let over = false;
    engine.ask('exportAbout', asked).then(
      (answer) => !over && setAbout(answer.about),
      () => !over && setAbout(null),
    );
    return () => {
      over = true;
    };
  }, [key]);
  return about;
};

/** So many warnings are shown at first. */
const SHOWN = 4;

const About = ({ asked }: { asked: ExportAsked }) => {
  const about = useAbout(asked);
  const [all, setAll] = useState(false);
  if (!about) return <p className="mb-3 text-soft">Counting…</p>;
  const { bars, parts, notes, warnings } = about;
  return (
    <section aria-label="What a reader will find" className="mb-3 border-l-2 border-fold pl-3 text-sm">
      <p>
        A reader finds {counted(bars, 'bar')}, {counted(parts, 'part')}, {counted(notes, 'note')}
        {warnings.length === 0 ? ', and nothing to stumble over.' : '. They may stumble over:'}
      </p>
      {warnings.length > 0 && (
        <ul className="list-disc pl-5">
          {warnings.slice(0, all ? warnings.length : SHOWN).map((warning) => (
            <li key={warning}>{warning}</li>
          ))}
        </ul>
      )}
      {warnings.length > SHOWN && !all && (
        <Button look="quiet" className="!px-1" onClick={() => setAll(true)}>
          {warnings.length - SHOWN} more
        </Button>
      )}
    </section>
  );
};

const Exports = () => {
  const { engine } = useDesk();
  const arrangement = useAppSelector(selectArrangement);
  const front = useAppSelector(selectFrontPart);
  const id = useAppSelector(({ piece }) => piece.id);
  const loop = useAppSelector(({ playback }) => playback.loop);
  const meterMap = useAppSelector(selectMeterMap);
  const [wishes, change] = usePageWishes(id);
  const [frontOnly, setFrontOnly] = useState(false);
  const [loopOnly, setLoopOnly] = useState(false);
  const [working, setWorking] = useState(false);
  const [first, last] = loop ? [meterMap.barAt(loop.start), meterMap.barAt(Math.max(loop.start, loop.end - 1))] : [];

  const asked: ExportAsked = {
    partIds: frontOnly && front ? [front.id] : null,
    bars: loopOnly && first && last ? { first: first.index + 1, last: last.index + 1 } : null,
    concertPitch: wishes.concertPitch,
    order: wishes.order,
  };

  const take = async (kind: ExportKind) => {
    setWorking(true);
    try {
      const { ending, mediaType } = EXPORT_KINDS[kind];
      const { bytes } = await engine.ask('exportFile', { kind, ...asked });
      const stem = fileName(frontOnly && front ? `${arrangement.title}, ${front.name}` : arrangement.title);
      saveFile(stem + ending, bytes, mediaType);
      toast.success(`${stem + ending} is in your downloads`);
    } catch (error) {
      toast.error(`The file could not be made: ${(error as Error).message}`);
    } finally {
      setWorking(false);
    }
  };

  const choices = [
    ['parts', !frontOnly, 'All parts', () => setFrontOnly(false), true],
    ['parts', frontOnly, `The front part only: ${front?.name ?? ''}`, () => setFrontOnly(true), front !== undefined],
    ['bars', !loopOnly, 'The whole piece', () => setLoopOnly(false), true],
    [
      'bars',
      loopOnly,
      first && last
        ? `The loop: ${first.number === last.number ? `bar ${first.number}` : `bars ${first.number} to ${last.number}`}`
        : 'The bars of the loop (none is set)',
      () => setLoopOnly(true),
      first !== undefined,
    ],
  ] as const;

  return (
    <>
      <fieldset className="mb-3 grid grid-cols-1 gap-x-6 gap-y-1 sm:grid-flow-col sm:grid-cols-2 sm:grid-rows-2">
        <legend className="sr-only">What is in it</legend>
        {choices.map(([name, checked, words, choose, possible]) => (
          <label key={words} className={`flex gap-2 ${possible ? '' : 'text-soft'}`}>
            <input type="radio" name={name} checked={checked} disabled={!possible} onChange={choose} />
            {words}
          </label>
        ))}
      </fieldset>
      <About asked={asked} />
      <ul className="flex flex-col gap-2">
        {(Object.keys(EXPORT_KINDS) as ExportKind[]).map((kind) => (
          <li key={kind} className="flex items-center gap-3">
            <Button className="w-44 shrink-0 !justify-start" disabled={working} onClick={() => void take(kind)}>
              {EXPORT_KINDS[kind].name}
            </Button>
            <span className="text-sm text-soft">{EXPLANATIONS[kind]}</span>
          </li>
        ))}
      </ul>
      <PagesSection partIds={asked.partIds?.slice() ?? null} bars={asked.bars} wishes={wishes} change={change} />
    </>
  );
};

export const ExportDialog = ({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) => (
  <Dialog open={open} onOpenChange={onOpenChange} title="Export" description="Nothing here changes the arrangement.">
    <Exports />
  </Dialog>
);
