/** An open arrangement: the bars above, the rail, the main room and the panels, the bars over the foot. */
import { type ReactNode, useMemo, useState } from 'react';
import { useStore } from 'react-redux';
import { Link, useNavigate, useParams } from 'react-router';
import { Button } from '../../ui/Button.js';
import { useMidiDrop } from '../../ui/midiDrop.js';
import { addRecording } from '../actions/addRecording.js';
import type { CommandContext } from '../actions/commands/command.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { ExportDialog } from '../panels/export/ExportDialog.js';
import { PartRail } from '../rail/PartRail.js';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { useGlance } from '../session/glance.js';
import { addPartsFromFiles } from '../session/serverChanges.js';
import { useOpenLine } from '../session/useWritten.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { CommandKeys } from './CommandKeys.js';
import { CommandList } from './CommandList.js';
import { EditBar } from './EditBar.js';
import { FailedBar } from './FailedBar.js';
import { Foot } from './Foot.js';
import { MainRoom, type MainView } from './MainRoom.js';
import { BARS_SHOWN, COMMANDS } from './registry.js';
import { ElsewhereBar, InTheBinBar, RefusedBar, SaveMark, UnsentDialog } from './SaveMark.js';
import { SidePanels } from './SidePanels.js';
import { Tour } from './Tour.js';
import { TransportBar } from './TransportBar.js';
import { useAsLeft, useOtherWindows, useTitle } from './useDeskLife.js';

/** What commands work on, and where they lead. */
const useContextOf = (view: MainView, openExport: () => void, openCommands: () => void): CommandContext => {
  const desk = useDesk();
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const navigate = useNavigate();
  const id = useAppSelector(({ piece }) => piece.id);
  return useMemo(
    () => ({
      dispatch,
      getState: store.getState,
      desk,
      commands: COMMANDS,
      openExport,
      openCommands,
      leave: () => void navigate('/'),
      turnScore: () => void navigate(view === 'score' ? `/desk/${id}` : `/desk/${id}/score`),
      turnTable: () => void navigate(view === 'table' ? `/desk/${id}` : `/desk/${id}/table`),
    }),
    [dispatch, store, desk, openExport, openCommands, navigate, view, id],
  );
};

export const OpenDesk = () => {
  const { view: place } = useParams();
  const view: MainView = place === 'score' || place === 'table' ? place : 'roll';
  const dispatch = useAppDispatch();
  const partsFolded = useAppSelector(({ layout }) => layout.partsFolded);
  const [exporting, setExporting] = useState(false);
  const [listing, setListing] = useState(false);
  const [opening] = useState(() => ({ export: () => setExporting(true), commands: () => setListing(true) }));
  const context = useContextOf(view, opening.export, opening.commands);
  useOpenLine();
  useGlance();
  useTitle(context);
  useAsLeft(context);
  useOtherWindows();
  const { getRootProps, getInputProps, isDragActive, open } = useMidiDrop(
    (files) => void dispatch(addPartsFromFiles(files)),
    { noClick: true, onRecording: (file) => void dispatch(addRecording(file)) },
  );
  return (
    <div
      {...getRootProps({ role: undefined, tabIndex: undefined })}
      // Seen twice as large the Desk is looked at piece by piece, with nothing cut.
      className="flex h-full flex-col max-[900px]:min-h-[40rem] max-[900px]:min-w-[64rem]"
    >
      <CommandKeys context={context} />
      <Head context={context}>
        <input {...getInputProps({ 'aria-label': 'Add parts from MIDI files' })} />
      </Head>
      <ElsewhereBar />
      <RefusedBar />
      <InTheBinBar />
      <UnsentDialog />
      <FailedBar />
      {isDragActive && (
        <p className="border-b border-fold bg-selected px-4 py-2 font-serif text-lg">
          Let go to add these files as parts, or a recording beside the notes.
        </p>
      )}
      <div
        className={`grid min-h-0 flex-1 ${partsFolded ? 'grid-cols-[2.2rem_minmax(0,1fr)_auto]' : 'grid-cols-[12.5rem_minmax(0,1fr)_auto] max-[1150px]:grid-cols-[10.5rem_minmax(0,1fr)_auto]'}`}
      >
        <PartRail onAdd={open} />
        <MainRoom view={view} context={context} />
        {view !== 'score' && <SidePanels context={context} />}
      </div>
      {BARS_SHOWN.map((shows) => shows(context))}
      <Foot />
      <Tour />
      <ExportDialog open={exporting} onOpenChange={setExporting} />
      <CommandList open={listing} onOpenChange={setListing} context={context} />
    </div>
  );
};

const Head = ({ context, children }: { context: CommandContext; children: ReactNode }) => {
  const keyOf = useKeyOf();
  const title = useAppSelector(({ piece }) => piece.arrangement?.title ?? '');
  return (
    <header className="border-b border-strong px-3 py-1.5">
      {children}
      <div className="flex items-center gap-4">
        <Link to="/" className="text-sm underline-offset-4 hover:underline" title={`Library (${keyOf('library')})`}>
          ← Library
        </Link>
        <h1 className="min-w-0 truncate font-serif text-xl">{title}</h1>
        <SaveMark />
        <div className="ml-auto flex gap-1">
          <Button look="quiet" title="List all commands" hint={keyOf('commands')} onClick={context.openCommands}>
            Commands
          </Button>
          <Button look="main" title="Take files away" hint={keyOf('export')} onClick={context.openExport}>
            Export
          </Button>
        </div>
      </div>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-1 pt-1">
        <TransportBar />
        <EditBar />
      </div>
    </header>
  );
};
