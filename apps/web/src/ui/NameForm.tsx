/** Asks for the name under which something is kept. */
import { yupResolver } from '@hookform/resolvers/yup';
import { useForm } from 'react-hook-form';
import * as yup from 'yup';
import { Button } from './Button.js';

export const NameForm = ({
  label,
  schema,
  name,
  onSave,
  onCancel,
}: {
  label: string;
  /** What the name must be. */
  schema: yup.StringSchema<string>;
  name: string;
  onSave: (name: string) => void;
  onCancel: () => void;
}) => {
  const { register, handleSubmit, formState } = useForm({
    defaultValues: { name },
    resolver: yupResolver(yup.object({ name: schema.required() })),
  });
  const problem = formState.errors.name?.message;
  return (
    <form className="flex flex-wrap gap-1" onSubmit={handleSubmit((typed) => onSave(typed.name.trim()))}>
      <input
        aria-label={label}
        aria-invalid={problem ? true : undefined}
        className="min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1"
        maxLength={120}
        // biome-ignore lint/a11y/noAutofocus: the field appears because the person asked to give a name
        autoFocus
        onKeyDown={(event) => event.key === 'Escape' && onCancel()}
        {...register('name')}
      />
      <Button look="main" type="submit">
        Save
      </Button>
      {problem && (
        <p role="alert" className="w-full text-sm">
          {problem}
        </p>
      )}
    </form>
  );
};
