/** All commands with the keys in force, for the printer alone. */

import { useEffect } from 'react';
import { createPortal } from 'react-dom';
import type { Command } from '../../actions/commands/command.js';
import { keyName } from '../../state/keyTable.js';
import { keysIn } from '../../state/ownKeys.js';
import { useAppSelector } from '../../state/root.js';

export const PrintedKeys = ({ commands, onPrinted }: { commands: readonly Command[]; onPrinted: () => void }) => {
  const own = useAppSelector(({ keys }) => keys.own);
  useEffect(() => {
    print();
    onPrinted();
  }, [onPrinted]);
  const groups = [...new Set(commands.map(({ group }) => group))];
  return createPortal(
    <div className="print-root columns-2 gap-8 p-10 text-[9pt] leading-tight">
      <h1 className="pb-2 font-serif text-xl">Crisp Fold: keys</h1>
      {groups.map((group) => (
        <section key={group} className="pb-3">
          <h2 className="break-after-avoid font-serif text-base">{group}</h2>
          <table className="w-full">
            <tbody>
              {commands
                .filter((command) => command.group === group)
                .map(({ id, name }) => (
                  <tr key={id} className="break-inside-avoid border-b border-rule align-top">
                    <td className="w-28 py-0.5 pr-2 font-semibold">{keysIn(own, id).map(keyName).join(' or ')}</td>
                    <td className="py-0.5">{name}</td>
                  </tr>
                ))}
            </tbody>
          </table>
        </section>
      ))}
    </div>,
    document.body,
  );
};
