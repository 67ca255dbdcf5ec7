/** What the server did by itself since somebody last looked. */
import type { NoticeItem } from '@crispfold/contract';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../browser/api.js';
import { Button } from '../ui/Button.js';
import { sinceWhen } from '../ui/words.js';

export const Notices = () => {
  const [items, setItems] = useState<readonly NoticeItem[]>([]);
  useEffect(() => {
    api.notices().then(setItems, () => undefined);
  }, []);
  const read = (id: number) => {
    setItems((all) => all.filter((item) => item.id !== id));
    api.noticeRead(id).catch((error: Error) => toast.error(error.message));
  };
  if (items.length === 0) return null;
  return (
    <ul aria-label="Notices" className="flex flex-col gap-1">
      {items.map(({ id, text, at }) => (
        <li key={id} className="flex items-center gap-3 border-l-4 border-fold bg-selected px-3 py-1.5">
          <p className="flex-1">
            {text} <span className="text-soft">{sinceWhen(at)}</span>
          </p>
          <Button look="quiet" aria-label={`Dismiss: ${text}`} onClick={() => read(id)}>
            Dismiss
          </Button>
        </li>
      ))}
    </ul>
  );
};
