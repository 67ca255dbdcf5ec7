/** The panels beside the roll, and the settings that take their place. */

import { ChevronsLeft, ChevronsRight } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { Button } from '../../ui/Button.js';
import type { CommandContext } from '../actions/commands/command.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { StepPanel } from '../panels/steps/StepPanel.js';
import { useAppDispatch } from '../session/desk.js';
import { layoutActions, type SidePanel } from '../state/layoutSlice.js';
import { useAppSelector } from '../state/root.js';
import { switched } from '../state/switched.js';
import { PANELS, TOOLS } from './registry.js';

const CONTENT = 'min-h-0 flex-1 overflow-y-auto';

export const SidePanels = ({ context }: { context: CommandContext }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const panel = useAppSelector(({ layout }) => layout.panel);
  const step = useAppSelector(({ layout }) => layout.stepShown);
  const tool = useAppSelector(({ layout }) => layout.toolShown);
  const folded = useAppSelector(({ layout }) => layout.sideFolded) && !step && !tool;
  const fold = (
    <Button
      look="quiet"
      className="!px-1"
      aria-label={folded ? 'Fold the panels out' : 'Fold the panels away'}
      title={folded ? 'Fold the panels out' : 'Fold the panels away'}
      hint={keyOf('sideFolded')}
      onClick={() => dispatch(switched('sideFolded'))}
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
        TOOLS[tool]?.(context)
      ) : (
        <Tabs.Root
          value={panel}
          onValueChange={(value) => dispatch(layoutActions.panelShown(value as SidePanel))}
          className="flex min-h-0 flex-1 flex-col"
        >
          <div className="flex items-center border-b border-strong">
            <Tabs.List aria-label="Panels" className="flex min-w-0 flex-1 pointer-coarse:flex-wrap">
              {PANELS.map(({ id: value, name }) => (
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
          {PANELS.map(({ id, shows }) => (
            <Tabs.Content key={id} value={id} className={CONTENT}>
              {shows(context)}
            </Tabs.Content>
          ))}
        </Tabs.Root>
      )}
    </aside>
  );
};
