/** One arrangement in the library: open, rename, duplicate, delete. */
import type { LibraryItem } from '@crispfold/contract';
import { Copy, Download, type LucideIcon, Pencil, Tag, Trash2 } from 'lucide-react';
import { type InputHTMLAttributes, useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { api } from '../browser/api.js';
import { Button } from '../ui/Button.js';
import { download } from '../ui/saveFile.js';
import { clock, counted, sinceWhen } from '../ui/words.js';
import { loadLibrary } from './librarySlice.js';
import { useAppDispatch } from './libraryStore.js';
import { glanceInWords, tagsTyped } from './listed.js';

/** What is done with one arrangement: the list is read anew after each. */
const useActs = (item: LibraryItem) => {
  const dispatch = useAppDispatch();
  const attempt = async (work: () => Promise<unknown>, done?: () => void) => {
    try {
      await work();
      done?.();
    } catch (error) {
      toast.error((error as Error).message);
    }
    await dispatch(loadLibrary());
  };
  return {
    rename: (typed: string) => {
      const title = typed.trim();
      if (title && title !== item.title) void attempt(() => api.rename(item.id, title));
    },
    tag: (typed: string) => {
      const tags = tagsTyped(typed);
      if (tags.join() !== item.tags.join()) void attempt(() => api.tag(item.id, tags));
    },
    duplicate: () => void attempt(() => api.duplicate(item.id)),
    remove: () =>
      void attempt(
        () => api.remove(item.id),
        () =>
          toast(`“${item.title}” deleted`, {
            duration: 10_000,
            action: { label: 'Undo', onClick: () => void attempt(() => api.restore(item.id)) },
          }),
      ),
  };
};

/** A field in the place of what is changed: Enter or leaving it takes what was typed, Escape does not. */
const FieldInPlace = ({
  onTyped,
  onLeft,
  ...field
}: {
  readonly onTyped: (text: string) => void;
  readonly onLeft: () => void;
} & Pick<
  InputHTMLAttributes<HTMLInputElement>,
  'aria-label' | 'className' | 'defaultValue' | 'maxLength' | 'placeholder' | 'onFocus'
>) => {
  const take = (text: string) => {
    onLeft();
    onTyped(text);
  };
  return (
    <input
      {...field}
      // biome-ignore lint/a11y/noAutofocus: the person has just asked to type here
      autoFocus
      onBlur={({ target }) => take(target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take(event.currentTarget.value);
        if (event.key === 'Escape') onLeft();
      }}
    />
  );
};

const Tags = ({ item, onTag }: { readonly item: LibraryItem; readonly onTag: (tag: string) => void }) =>
  item.tags.length > 0 && (
    <ul aria-label={`Tags of ${item.title}`} className="mt-1 flex flex-wrap gap-1 text-sm">
      {item.tags.map((own) => (
        <li key={own}>
          <button
            type="button"
            className="border border-rule bg-sheet px-1.5 hover:bg-selected"
            title={`List those tagged ${own}`}
            onClick={() => onTag(own)}
          >
            {own}
          </button>
        </li>
      ))}
    </ul>
  );

const Act = ({
  label,
  title,
  icon: Icon,
  onClick,
}: {
  readonly label: string;
  readonly title: string;
  readonly icon: LucideIcon;
  readonly onClick: () => void;
}) => (
  <Button look="quiet" aria-label={label} title={title} onClick={onClick}>
    <Icon size={16} aria-hidden />
  </Button>
);

export const LibraryRow = ({
  item,
  chosen,
  onChosen,
  onTag,
}: {
  readonly item: LibraryItem;
  readonly chosen: boolean;
  readonly onChosen: () => void;
  /** Lists those with a tag. */
  readonly onTag: (tag: string) => void;
}) => {
  const acts = useActs(item);
  const [typing, setTyping] = useState<'title' | 'tags' | null>(null);
  const typed = () => setTyping(null);
  const { id, title } = item;
  const notes = item.parts.reduce((sum, part) => sum + part.notes, 0);
  return (
    <li className="grid grid-cols-[auto_1fr_auto] items-center gap-4 border-b border-rule py-3 pr-1">
      <input
        type="checkbox"
        className="size-4 accent-[var(--fold)]"
        aria-label={`Choose ${title}`}
        checked={chosen}
        onChange={onChosen}
      />
      <div className="min-w-0">
        {typing === 'title' ? (
          <FieldInPlace
            aria-label="New title"
            className="w-full border border-strong bg-sheet px-2 font-serif text-xl"
            defaultValue={title}
            maxLength={200}
            onFocus={(event) => event.target.select()}
            onTyped={acts.rename}
            onLeft={typed}
          />
        ) : (
          <Link to={`/desk/${id}`} className="font-serif text-xl underline-offset-4 hover:underline">
            {title}
          </Link>
        )}
        <p className="truncate text-soft">{item.parts.map((part) => part.name).join(' · ')}</p>
        <p className="text-sm text-soft">
          {counted(item.parts.length, 'part')}, {counted(notes, 'note')}, {counted(item.bars, 'bar')},{' '}
          {clock(item.seconds)} · changed <time dateTime={item.changedAt}>{sinceWhen(item.changedAt)}</time>
        </p>
        {item.glance && <p className="text-sm text-soft">{glanceInWords(item.glance)}</p>}
        {typing === 'tags' ? (
          <FieldInPlace
            aria-label={`Tags of ${title}, between commas`}
            className="mt-1 w-full max-w-md border border-strong bg-sheet px-2 text-sm"
            placeholder="tags, between commas"
            defaultValue={item.tags.join(', ')}
            onTyped={acts.tag}
            onLeft={typed}
          />
        ) : (
          <Tags item={item} onTag={onTag} />
        )}
      </div>
      <div className="flex gap-1">
        <Act label={`Rename ${title}`} title="Rename" icon={Pencil} onClick={() => setTyping('title')} />
        <Act label={`Tags of ${title}`} title="Tags" icon={Tag} onClick={() => setTyping('tags')} />
        <Act label={`Duplicate ${title}`} title="Duplicate" icon={Copy} onClick={acts.duplicate} />
        <Act
          label={`Take ${title} away with its history`}
          title="Take away with its history, as one file"
          icon={Download}
          onClick={() => download(api.archiveAddress(id))}
        />
        <Act label={`Delete ${title}`} title="Delete; it can be undone" icon={Trash2} onClick={acts.remove} />
      </div>
    </li>
  );
};
