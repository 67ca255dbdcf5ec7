import { useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { Link, useNavigate, useParams } from 'react-router';
import { Button } from '../../ui/Button.js';
import { useMidiDrop } from '../../ui/midiDrop.js';
import { counted } from '../../ui/words.js';
import { addRecording } from '../actions/addRecording.js';
import type { CommandContext } from '../actions/commands/command.js';
import { keyOf } from '../actions/commands/ownKeys.js';
import { firstLook } from '../actions/looking.js';
import { LanesBlock } from '../lanes/LanesBlock.js';
import { PageStrip } from '../page/PageStrip.js';
import { ExportDialog } from '../panels/export/ExportDialog.js';
import { PartRail } from '../rail/PartRail.js';
import { PieceStrip } from '../roll/PieceStrip.js';
import { Roll } from '../roll/Roll.js';
import { ScoreView } from '../score/ScoreView.js';
import { rememberAsLeft, restoreAsLeft } from '../session/asLeft.js';
import { useAppDispatch } from '../session/dispatching.js';
import { useGlance } from '../session/glance.js';
import { addPartsFromFiles, hasUnsaved, linkedWindows, openArrangement } from '../session/saving.js';
import { player } from '../session/sound/player.js';
import { WrittenProvider } from '../session/useWritten.js';
import { selectView } from '../state/rollSelectors.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectFrontPart } from '../state/selectors.js';
import { spoken } from '../state/speak.js';
import { TableView } from '../table/TableView.js';
import { CommandKeys } from './CommandKeys.js';
import { CommandList } from './CommandList.js';
import { EditBar } from './EditBar.js';
import { FailedBar } from './FailedBar.js';
import { Foot } from './Foot.js';
import { KeyList } from './KeyList.js';
import { BARS_SHOWN, COMMANDS } from './registry.js';
import { ElsewhereBar, InTheBinBar, RefusedBar, SaveMark, UnsentDialog } from './SaveMark.js';
import { SidePanels } from './SidePanels.js';
import { StepMenu } from './StepMenu.js';
import { Tour } from './Tour.js';
import { TransportBar } from './TransportBar.js';

export const Desk = () => {
  const { id } = useParams();
  const dispatch = useAppDispatch();
  const failed = useAppSelector(({ desk }) => desk.status === 'failed');
  const problem = useAppSelector(({ desk }) => desk.problem);
  const opened = useAppSelector(({ desk }) => desk.arrangement !== null);

  useEffect(() => {
    if (id) void dispatch(openArrangement(id));
  }, [id, dispatch]);

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (hasUnsaved()) event.preventDefault();
    };
    addEventListener('beforeunload', warn);
    return () => removeEventListener('beforeunload', warn);
  }, []);

  if (failed) {
    return (
      <main className="grid h-full place-content-center gap-4 p-8 text-center">
        <h1 className="font-serif text-2xl">This arrangement could not be opened</h1>
        <p role="alert">{problem}</p>
        <div className="flex justify-center gap-2">
          <Button look="main" onClick={() => id && void dispatch(openArrangement(id))}>
            Try again
          </Button>
          <Link to="/" className="self-center underline">
            Back to the library
          </Link>
        </div>
      </main>
    );
  }
  if (!opened) {
    return (
      <main className="p-8">
        <h1 className="sr-only">Desk</h1>
        <p className="text-soft">Opening the arrangement…</p>
      </main>
    );
  }
  return (
    <WrittenProvider>
      <OpenDesk />
    </WrittenProvider>
  );
};

const OpenDesk = () => {
  useGlance();
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const navigate = useNavigate();
  const title = useAppSelector(({ desk }) => desk.arrangement?.title ?? '');
  const strip = useAppSelector(({ desk }) => desk.seeing.strip);
  const pageShown = useAppSelector(({ desk }) => desk.pageShown);
  const lanesShown = useAppSelector(({ desk }) => desk.lanes.length > 0);
  const partsFolded = useAppSelector(({ desk }) => desk.partsFolded);
  const id = useAppSelector(({ desk }) => desk.id);
  const { view: place } = useParams();
  const scoreShown = place === 'score';
  const tableShown = place === 'table';
  const [exporting, setExporting] = useState(false);
  const [listing, setListing] = useState(false);
  const [menuHost, setMenuHost] = useState<HTMLElement | null>(null);
  const { getRootProps, getInputProps, isDragActive, open } = useMidiDrop(
    (files) => void dispatch(addPartsFromFiles(files)),
    { noClick: true, onRecording: (file) => void dispatch(addRecording(file)) },
  );

  const context = useMemo(
    (): CommandContext => ({
      dispatch,
      getState: store.getState,
      openExport: () => setExporting(true),
      openCommands: () => setListing(true),
      leave: () => void navigate('/'),
      turnScore: () => void navigate(scoreShown ? `/desk/${id}` : `/desk/${id}/score`),
      commands: COMMANDS,
      turnTable: () => void navigate(tableShown ? `/desk/${id}` : `/desk/${id}/table`),
    }),
    [dispatch, store, navigate, scoreShown, tableShown, id],
  );
  useEffect(() => {
    document.title = `${title} · Crisp Fold`;
  }, [title]);
  // Who cannot see hears what was opened.
  useEffect(() => {
    const state = store.getState();
    const { desk } = state;
    if (desk.id !== id || !desk.arrangement) return;
    const front = selectFrontPart(state);
    const parts = counted(desk.arrangement.parts.length, 'part');
    spoken.set(`${desk.arrangement.title}, ${parts}${front ? `, ${front.name} in front` : ''}.`);
  }, [id, store]);

  // Later the view is the person's own. The first look waits until the roll has its size.
  const fitted = useRef('');
  const width = useAppSelector((state) => state.roll.width);
  useEffect(() => {
    if (!id || fitted.current === id || width <= 100) return undefined;
    const timer = setTimeout(() => {
      fitted.current = id;
      if (!restoreAsLeft(id, dispatch, selectView(store.getState()))) firstLook(context);
    }, 60);
    return () => clearTimeout(timer);
  }, [id, width, context, dispatch, store]);
  useEffect(() => {
    const unsubscribe = store.subscribe(() => linkedWindows()?.looked());
    const leave = player.state.subscribe(() => linkedWindows()?.played(player.state.get()));
    return () => {
      unsubscribe();
      leave();
    };
  }, [store]);
  // How it is left is found again: some moments after each change, and when the page goes away.
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const remember = () => {
      const state = store.getState();
      if (fitted.current === state.desk.id && !linkedWindows()?.follows) rememberAsLeft(state);
    };
    const unsubscribe = store.subscribe(() => {
      clearTimeout(timer);
      timer = setTimeout(remember, 500);
    });
    addEventListener('pagehide', remember);
    return () => {
      unsubscribe();
      clearTimeout(timer);
      removeEventListener('pagehide', remember);
      remember();
    };
  }, [store]);

  return (
    <div
      {...getRootProps({ role: undefined, tabIndex: undefined })}
      // Seen twice as large the Desk is looked at piece by piece, with nothing cut.
      className="flex h-full flex-col max-[900px]:min-h-[40rem] max-[900px]:min-w-[64rem]"
    >
      <CommandKeys context={context} />
      <header className="border-b border-strong px-3 py-1.5">
        <input {...getInputProps({ 'aria-label': 'Add parts from MIDI files' })} />
        <div className="flex items-center gap-4">
          <Link to="/" className="text-sm underline-offset-4 hover:underline" title={`Library (${keyOf('library')})`}>
            ← Library
          </Link>
          <h1 className="min-w-0 truncate font-serif text-xl">{title}</h1>
          <SaveMark />
          <div className="ml-auto flex gap-1">
            <Button look="quiet" title="List all commands" hint={keyOf('commands')} onClick={() => setListing(true)}>
              Commands
            </Button>
            <Button look="main" title="Take files away" hint={keyOf('export')} onClick={() => setExporting(true)}>
              Export
            </Button>
          </div>
        </div>
        <div className="flex flex-wrap items-center gap-x-6 gap-y-1 pt-1">
          <TransportBar />
          <EditBar />
        </div>
      </header>
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
        <main className="relative min-h-0 min-w-0">
          <KeyList context={context} />
          <div ref={setMenuHost} />
          {scoreShown ? (
            <ScoreView onClose={context.turnScore} />
          ) : tableShown ? (
            <TableView onClose={context.turnTable} />
          ) : (
            <Group orientation="vertical">
              <Panel id="roll-panel" minSize="30%" defaultSize="58%">
                <StepMenu context={context} host={menuHost}>
                  <div className="flex h-full flex-col">
                    {strip && <PieceStrip />}
                    <div className="min-h-0 flex-1">
                      <Roll />
                    </div>
                  </div>
                </StepMenu>
              </Panel>
              {lanesShown && (
                <>
                  <Separator
                    className="h-1.5 cursor-row-resize bg-shade hover:bg-selected"
                    aria-label="Room for roll and lanes"
                  />
                  <Panel id="lanes-panel" minSize="12%" defaultSize="28%">
                    <LanesBlock />
                  </Panel>
                </>
              )}
              {pageShown && (
                <>
                  <Separator
                    className="h-1.5 cursor-row-resize bg-shade hover:bg-selected"
                    aria-label="Room for roll and page"
                  />
                  <Panel id="page-panel" minSize="15%" defaultSize="42%">
                    <PageStrip onScore={context.turnScore} />
                  </Panel>
                </>
              )}
            </Group>
          )}
        </main>
        {!scoreShown && <SidePanels context={context} />}
      </div>
      {BARS_SHOWN.map((shows) => shows(context))}
      <Foot />
      <Tour />
      <ExportDialog open={exporting} onOpenChange={setExporting} />
      <CommandList open={listing} onOpenChange={setListing} context={context} />
    </div>
  );
};
