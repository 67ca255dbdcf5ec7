/** A list of parts to choose some of, each with its mark and its number. */
import type { Part, PartId } from '@crispfold/core';
import { EdgeMark } from '../../controls/EdgeMark.js';
import { usePartLooks } from '../../controls/partLook.js';

export const PartChecks = ({
  title,
  parts,
  chosen,
  onChange,
}: {
  title: string;
  parts: readonly Part[];
  chosen: readonly PartId[];
  onChange: (chosen: readonly PartId[]) => void;
}) => {
  const looks = usePartLooks();
  return (
    <fieldset>
      <legend className="pb-1">{title}</legend>
      <ul className="max-h-64 overflow-y-auto border border-rule bg-sheet">
        {parts.map((part) => {
          const look = looks.get(part.id);
          const on = chosen.includes(part.id);
          return (
            <li key={part.id}>
              <label className="flex min-h-7 items-center gap-2 px-2 hover:bg-shade">
                <input
                  type="checkbox"
                  className="accent-[var(--fold)]"
                  checked={on}
                  onChange={() =>
                    // In the order of the score, whatever was ticked first.
                    onChange(parts.filter(({ id }) => (id === part.id ? !on : chosen.includes(id))).map(({ id }) => id))
                  }
                />
                {look && <EdgeMark look={look} />}
                <span className="min-w-0 flex-1 truncate">{part.name}</span>
              </label>
            </li>
          );
        })}
      </ul>
    </fieldset>
  );
};
