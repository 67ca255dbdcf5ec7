/** The Desk: all parts in one roll, the page under it, the rail of parts and the panels beside it. */

import { selectionSize } from '@crispfold/core';
import { ChevronsLeft, ChevronsRight } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'react-redux';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { Link, useNavigate, useParams } from 'react-router';
import { type RootState, useAppDispatch, useAppSelector } from '../../app/store.js';
import { Button } from '../../ui/Button.js';
import { useValue } from '../../ui/valueStore.js';
import { counted } from '../../ui/words.js';
import { useMidiDrop } from '../library/DropZone.js';
import { rememberAsLeft, restoreAsLeft } from './asLeft.js';
import { CommandKeys } from './commands/CommandKeys.js';
import { CommandList } from './commands/CommandList.js';
import type { CommandContext } from './commands/command.js';
import { KeyList } from './commands/KeyList.js';
import { KeysPanel } from './commands/KeysPanel.js';
import { firstLook } from './commands/looking.js';
import { keyOf } from './commands/ownKeys.js';
import { deskActions, type SidePanel, type Tool } from './deskSlice.js';
import { EditBar } from './EditBar.js';
import { EntryBar } from './entry/EntryBar.js';
import { ExportDialog } from './export/ExportDialog.js';
import { FindingsPanel } from './findings/FindingsPanel.js';
import { useGlance } from './glance.js';
import { LanesBlock } from './lanes/LanesBlock.js';
import { SlowDownPanel } from './lanes/SlowDownPanel.js';
import { MorePanel } from './more/MorePanel.js';
import { GivingBar } from './page/GivingBar.js';
import { PagePanel } from './page/PagePanel.js';
import { PageStrip } from './page/PageStrip.js';
import { WayPanel } from './page/WayPanel.js';
import { CombinePartsPanel } from './parts/CombinePartsPanel.js';
import { DealOutPanel } from './parts/DealOutPanel.js';
import { EmptyPartPanel } from './parts/EmptyPartPanel.js';
import { PartPanel } from './parts/PartPanel.js';
import { PercussionMapPanel } from './parts/PercussionMapPanel.js';
import { SendToPanel } from './parts/SendToPanel.js';
import { SplitPartPanel } from './parts/SplitPartPanel.js';
import { PlacesPanel } from './places/PlacesPanel.js';
import { PlanPanel } from './plan/PlanPanel.js';
import { PlayInBar } from './playIn/PlayInBar.js';
import { PartRail } from './rail/PartRail.js';
import { addRecording } from './recording/addRecording.js';
import { RecordingPanel } from './recording/RecordingPanel.js';
import { ForwardBar } from './roll/ForwardBar.js';
import { GoToPanel } from './roll/GoToPanel.js';
import { OnlyTheseBar } from './roll/OnlyTheseBar.js';
import { PieceStrip } from './roll/PieceStrip.js';
import { Roll } from './roll/Roll.js';
import { selectView } from './roll/rollSelectors.js';
import { SeeingPanel } from './roll/SeeingPanel.js';
import { ElsewhereBar, InTheBinBar, RefusedBar, SaveMark, UnsentDialog } from './SaveMark.js';
import { addPartsFromFiles, hasUnsaved, linkedWindows, openArrangement } from './saving.js';
import { ScoreView } from './score/ScoreView.js';
import { SelectionPanel } from './selection/SelectionPanel.js';
import { selectEditable, selectFrontPart } from './selectors.js';
import { SentencesPanel } from './sentences/SentencesPanel.js';
import { hint, spoken } from './speak.js';
import { DoubtBar } from './steps/DoubtBar.js';
import { LineUpPanel } from './steps/LineUpPanel.js';
import { OfferBar } from './steps/Offers.js';
import { RandomPitchesPanel } from './steps/RandomPitchesPanel.js';
import { RepeatPanel } from './steps/RepeatPanel.js';
import { StepMenu } from './steps/StepMenu.js';
import { StepPanel } from './steps/StepPanel.js';
import { TableView } from './table/TableView.js';
import { BeatsPanel } from './tempo/BeatsPanel.js';
import { Tour } from './tour/Tour.js';
import { player } from './transport/player.js';
import { SoundsPanel } from './transport/SoundsPanel.js';
import { TransportBar } from './transport/TransportBar.js';
import { useWorkState, WrittenProvider } from './useWritten.js';

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
      <EntryBar />
      <PlayInBar />
      <GivingBar />
      <OnlyTheseBar />
      <ForwardBar />
      <OfferBar />
      <DoubtBar context={context} />
      <Foot />
      <Tour />
      <ExportDialog open={exporting} onOpenChange={setExporting} />
      <CommandList open={listing} onOpenChange={setListing} context={context} />
    </div>
  );
};

/** A bar across the Desk where the plan, the checks or the page could not be worked out. */
const FailedBar = () => {
  const work = useWorkState();
  if (work.kind !== 'failed') return null;
  return (
    <div role="alert" className="flex items-center gap-3 border-b border-fold bg-selected px-4 py-2">
      <p className="flex-1">
        <b>The page could not be worked out.</b> Your notes are safe, and you can go on editing. ({work.message})
      </p>
      <Button look="main" onClick={work.again}>
        Try again
      </Button>
    </div>
  );
};

const PANELS: readonly (readonly [SidePanel, string])[] = [
  ['plan', 'Plan'],
  ['findings', 'Findings'],
  ['note', 'Selection'],
  ['page', 'Page'],
  ['more', 'More'],
];

const CONTENT = 'min-h-0 flex-1 overflow-y-auto';

/** What has settings and is no clean-up step. */
const TOOLS: { readonly [tool in Tool]: (context: CommandContext) => ReactNode } = {
  lineUp: () => <LineUpPanel />,
  randomPitches: () => <RandomPitchesPanel />,
  repeat: () => <RepeatPanel />,
  part: (context) => <PartPanel context={context} />,
  percussionMap: () => <PercussionMapPanel />,
  emptyPart: () => <EmptyPartPanel />,
  splitPart: () => <SplitPartPanel />,
  combineParts: () => <CombinePartsPanel />,
  sendTo: () => <SendToPanel />,
  dealOut: () => <DealOutPanel />,
  seeing: () => <SeeingPanel />,
  slowDown: () => <SlowDownPanel />,
  beats: () => <BeatsPanel />,
  recording: () => <RecordingPanel />,
  sounds: () => <SoundsPanel />,
  way: () => <WayPanel />,
  keys: () => <KeysPanel />,
  places: (context) => <PlacesPanel context={context} />,
  goTo: (context) => <GoToPanel context={context} />,
  sentences: () => <SentencesPanel key="list" writing={false} />,
  writeSentence: () => <SentencesPanel key="write" writing />,
};

/** The five places beside the roll; the settings of a step stand in their place while they are open. */
const SidePanels = ({ context }: { context: CommandContext }) => {
  const dispatch = useAppDispatch();
  const panel = useAppSelector(({ desk }) => desk.panel);
  const step = useAppSelector(({ desk }) => desk.stepShown);
  const tool = useAppSelector(({ desk }) => desk.toolShown);
  const folded = useAppSelector(({ desk }) => desk.sideFolded) && !step && !tool;
  const fold = (
    <Button
      look="quiet"
      className="!px-1"
      aria-label={folded ? 'Fold the panels out' : 'Fold the panels away'}
      title={folded ? 'Fold the panels out' : 'Fold the panels away'}
      hint={keyOf('sideFolded')}
      onClick={() => dispatch(deskActions.switched('sideFolded'))}
    >
      {folded ? <ChevronsLeft size={16} aria-hidden /> : <ChevronsRight size={16} aria-hidden />}
    </Button>
  );
  if (folded) {
    return (
      <aside aria-label="Panels" className="w-9 border-l border-strong p-1">
        {fold}
      </aside>
    );
  }
  return (
    <aside
      aria-label="Panels"
      className="flex min-h-0 w-[18rem] flex-col border-l border-strong max-[1150px]:w-[14.5rem]"
    >
      {step ? (
        <StepPanel step={step} />
      ) : tool ? (
        TOOLS[tool](context)
      ) : (
        <Tabs.Root
          value={panel}
          onValueChange={(value) => dispatch(deskActions.panelShown(value as SidePanel))}
          className="flex min-h-0 flex-1 flex-col"
        >
          <div className="flex items-center border-b border-strong">
            <Tabs.List aria-label="Panels" className="flex min-w-0 flex-1 pointer-coarse:flex-wrap">
              {PANELS.map(([value, name]) => (
                <Tabs.Trigger
                  key={value}
                  value={value}
                  title={`${name} (${keyOf(`${value}Panel`)})`}
                  className="flex-auto border-b-2 border-transparent px-1 py-1.5 font-serif text-[0.875rem] text-soft max-[1150px]:px-0 max-[1150px]:text-[0.78rem] hover:bg-shade data-[state=active]:border-fold data-[state=active]:text-ink"
                >
                  {name}
                </Tabs.Trigger>
              ))}
            </Tabs.List>
            {fold}
          </div>
          <Tabs.Content value="plan" className={CONTENT}>
            <PlanPanel />
          </Tabs.Content>
          <Tabs.Content value="findings" className={CONTENT}>
            <FindingsPanel context={context} />
          </Tabs.Content>
          <Tabs.Content value="note" className={CONTENT}>
            <SelectionPanel />
          </Tabs.Content>
          <Tabs.Content value="page" className={CONTENT}>
            <PagePanel context={context} />
          </Tabs.Content>
          <Tabs.Content value="more" className={CONTENT}>
            <MorePanel context={context} />
          </Tabs.Content>
        </Tabs.Root>
      )}
    </aside>
  );
};

/** The line of words at the foot, and what screen readers hear. */
const Foot = () => {
  const words = useValue(hint);
  const said = useValue(spoken);
  const front = useAppSelector(selectFrontPart);
  const selected = useAppSelector((state) => selectionSize(selectEditable(state)));
  const count = selected > 0 ? `${counted(selected, 'note')} selected` : '';
  return (
    <footer className="flex h-7 items-center gap-4 border-t border-strong px-3 text-sm">
      <span className="whitespace-nowrap font-semibold">{front?.name ?? ''}</span>
      <span className="whitespace-nowrap">{count}</span>
      <span className="min-w-0 flex-1 truncate text-soft">
        {words ||
          (said.startsWith(count) ? said.slice(count.length) : said) ||
          `Press ${keyOf('commands')} for all commands.`}
      </span>
      <span aria-live="polite" className="sr-only" data-testid="spoken">
        {said}
      </span>
    </footer>
  );
};
