/** One arrangement in the library: open, rename, duplicate, delete. */
import type { LibraryItem } from '@crispfold/contract';
import { Copy, Download, Pencil, Tag, Trash2 } from 'lucide-react';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { api } from '../browser/api.js';
import { Button } from '../ui/Button.js';
import { download } from '../ui/saveFile.js';
import { clock, counted, sinceWhen } from '../ui/words.js';
import { loadLibrary } from './librarySlice.js';
import { useAppDispatch } from './libraryStore.js';
import { glanceInWords, tagsTyped } from './listed.js';

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
  const dispatch = useAppDispatch();
  const [renaming, setRenaming] = useState(false);
  const [tagging, setTagging] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const notes = item.parts.reduce((sum, part) => sum + part.notes, 0);

  const attempt = async (work: () => Promise<unknown>, done?: () => void) => {
    try {
      await work();
      done?.();
    } catch (error) {
      toast.error((error as Error).message);
    }
    await dispatch(loadLibrary());
  };

  const rename = () => {
    const title = field.current?.value.trim() ?? '';
    setRenaming(false);
    if (title && title !== item.title) void attempt(() => api.rename(item.id, title));
  };

  const tag = (text: string) => {
    setTagging(false);
    const tags = tagsTyped(text);
    if (tags.join() !== item.tags.join()) void attempt(() => api.tag(item.id, tags));
  };

  const remove = () =>
    attempt(
      () => api.remove(item.id),
      () =>
        toast(`“${item.title}” deleted`, {
          duration: 10_000,
          action: { label: 'Undo', onClick: () => void attempt(() => api.restore(item.id)) },
        }),
    );

  return (
    <li className="grid grid-cols-[auto_1fr_auto] items-center gap-4 border-b border-rule py-3 pr-1">
      <input
        type="checkbox"
        className="size-4 accent-[var(--fold)]"
        aria-label={`Choose ${item.title}`}
        checked={chosen}
        onChange={onChosen}
      />
      <div className="min-w-0">
        {renaming ? (
          <input
            ref={field}
            aria-label="New title"
            className="w-full border border-strong bg-sheet px-2 font-serif text-xl"
            defaultValue={item.title}
            maxLength={200}
            // biome-ignore lint/a11y/noAutofocus: the person has just asked to type here
            autoFocus
            onFocus={(event) => event.target.select()}
            onBlur={rename}
            onKeyDown={(event) => {
              if (event.key === 'Enter') rename();
              if (event.key === 'Escape') setRenaming(false);
            }}
          />
        ) : (
          <Link to={`/desk/${item.id}`} className="font-serif text-xl underline-offset-4 hover:underline">
            {item.title}
          </Link>
        )}
        <p className="truncate text-soft">{item.parts.map((part) => part.name).join(' · ')}</p>
        <p className="text-sm text-soft">
          {counted(item.parts.length, 'part')}, {counted(notes, 'note')}, {counted(item.bars, 'bar')},{' '}
          {clock(item.seconds)} · changed <time dateTime={item.changedAt}>{sinceWhen(item.changedAt)}</time>
        </p>
        {item.glance && <p className="text-sm text-soft">{glanceInWords(item.glance)}</p>}
        {tagging ? (
          <input
            aria-label={`Tags of ${item.title}, between commas`}
            className="mt-1 w-full max-w-md border border-strong bg-sheet px-2 text-sm"
            placeholder="tags, between commas"
            defaultValue={item.tags.join(', ')}
            // biome-ignore lint/a11y/noAutofocus: the person has just asked to type here
            autoFocus
            onBlur={({ target }) => tag(target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') tag(event.currentTarget.value);
              if (event.key === 'Escape') setTagging(false);
            }}
          />
        ) : (
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
          )
        )}
      </div>
      <div className="flex gap-1">
        <Button look="quiet" aria-label={`Rename ${item.title}`} title="Rename" onClick={() => setRenaming(true)}>
          <Pencil size={16} aria-hidden />
        </Button>
        <Button look="quiet" aria-label={`Tags of ${item.title}`} title="Tags" onClick={() => setTagging(true)}>
          <Tag size={16} aria-hidden />
        </Button>
        <Button
          look="quiet"
          aria-label={`Duplicate ${item.title}`}
          title="Duplicate"
          onClick={() => void attempt(() => api.duplicate(item.id))}
        >
          <Copy size={16} aria-hidden />
        </Button>
        <Button
          look="quiet"
          aria-label={`Take ${item.title} away with its history`}
          title="Take away with its history, as one file"
          onClick={() => download(api.archiveAddress(item.id))}
        >
          <Download size={16} aria-hidden />
        </Button>
        <Button
          look="quiet"
          aria-label={`Delete ${item.title}`}
          title="Delete; it can be undone"
          onClick={() => void remove()}
        >
          <Trash2 size={16} aria-hidden />
        </Button>
      </div>
    </li>
  );
};
