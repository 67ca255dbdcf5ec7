/** Whose feel is taken: that of a part, or one that was kept under a name. */

import { isKeptFeel, type ParameterField, type ParameterValue } from '@crispfold/core';
import { useEffect } from 'react';
import { toast } from 'sonner';
import { useAppDispatch } from '../session/desk.js';
import { loadFeels } from '../session/keptFeels.js';
import { useAppSelector } from '../state/root.js';

export const FeelControl = ({
  field,
  value,
  onChange,
}: {
  field: ParameterField & { readonly kind: 'feel' };
  value: ParameterValue;
  onChange: (value: ParameterValue) => void;
}) => {
  const dispatch = useAppDispatch();
  const known = useAppSelector(({ kept }) => kept.feels);
  const kept = known ?? [];
  useEffect(() => {
    if (known === null) dispatch(loadFeels()).catch((error: Error) => toast.error(error.message));
  }, [known, dispatch]);
  const own = isKeptFeel(value) ? value : null;
  // A plan keeps the feel that it was given, whatever became of the name.
  const all = own && !kept.some(({ name }) => name === own.name) ? [...kept, own] : kept;
  return (
    <select
      aria-label={field.label}
      className="min-h-7 min-w-0 max-w-full border border-strong bg-sheet px-1"
      value={own?.name ?? ''}
      onChange={({ target }) => onChange(all.find(({ name }) => name === target.value) ?? null)}
    >
      <option value="">{field.none}</option>
      {all.map(({ name }) => (
        <option key={name}>{name}</option>
      ))}
    </select>
  );
};
