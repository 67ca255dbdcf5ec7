/** The Desk's main room: the roll with what lies under it, or the score, or the table. */
import { useState } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import type { CommandContext } from '../actions/commands/command.js';
import { LanesBlock } from '../lanes/LanesBlock.js';
import { PageStrip } from '../page/PageStrip.js';
import { PieceStrip } from '../roll/PieceStrip.js';
import { Roll } from '../roll/Roll.js';
import { ScoreView } from '../score/ScoreView.js';
import { useAppSelector } from '../state/root.js';
import { TableView } from '../table/TableView.js';
import { KeyList } from './KeyList.js';
import { StepMenu } from './StepMenu.js';

/** What the main room shows, as it stands in the address. */
export type MainView = 'roll' | 'score' | 'table';

export const MainRoom = ({ view, context }: { view: MainView; context: CommandContext }) => {
  const [menuHost, setMenuHost] = useState<HTMLElement | null>(null);
  return (
    <main className="relative min-h-0 min-w-0">
      <KeyList context={context} />
      <div ref={setMenuHost} />
      {view === 'score' && <ScoreView onClose={context.turnScore} />}
      {view === 'table' && <TableView onClose={context.turnTable} />}
      {view === 'roll' && <RollAndBelow context={context} menuHost={menuHost} />}
    </main>
  );
};

const Edge = ({ label }: { label: string }) => (
  <Separator className="h-1.5 cursor-row-resize bg-shade hover:bg-selected" aria-label={label} />
);

const RollAndBelow = ({ context, menuHost }: { context: CommandContext; menuHost: HTMLElement | null }) => {
  const strip = useAppSelector(({ looking }) => looking.seeing.strip);
  const pageShown = useAppSelector(({ layout }) => layout.pageShown);
  const lanesShown = useAppSelector(({ lanes }) => lanes.lanes.length > 0);
  return (
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
          <Edge label="Room for roll and lanes" />
          <Panel id="lanes-panel" minSize="12%" defaultSize="28%">
            <LanesBlock />
          </Panel>
        </>
      )}
      {pageShown && (
        <>
          <Edge label="Room for roll and page" />
          <Panel id="page-panel" minSize="15%" defaultSize="42%">
            <PageStrip onScore={context.turnScore} />
          </Panel>
        </>
      )}
    </Group>
  );
};
