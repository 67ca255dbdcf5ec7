/** The library: every arrangement, and a place to bring files in. */

import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { api, newRequestId } from '../browser/api.js';
import { toggleTheme } from '../browser/theme.js';
import { usePageServices } from '../engine/pageServices.js';
import { Button } from '../ui/Button.js';
import { isArchive } from '../ui/midiDrop.js';
import { download } from '../ui/saveFile.js';
import { DropZone } from './DropZone.js';
import { loadLibrary } from './librarySlice.js';
import { useAppDispatch, useAppSelector } from './libraryStore.js';
import { Notices } from './Notices.js';
import { Shelf } from './Shelf.js';
import { SignOut } from './SignOut.js';
import { readingInWords, useReading } from './useReading.js';

/** `readyDesk` loads the Desk's code ahead of its first use. */
export const Library = ({ readyDesk }: { readyDesk: () => void }) => {
  const { engines, justOpened } = usePageServices();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { items, status, problem } = useAppSelector((state) => state.library);
  /** While files are read: what gives up on them. */
  const [reading, setReading] = useState<{ readonly left: AbortController; readonly requestId: string } | null>(null);
  const bytesDone = useReading(reading?.requestId ?? null);

  useEffect(() => {
    document.title = 'Library · Crisp Fold';
    void dispatch(loadLibrary());
    // What the Desk needs takes long to start: it does so once the library is on screen and the browser has time.
    const ahead = () => {
      engines.rehearse();
      readyDesk();
    };
    const idle = globalThis.requestIdleCallback?.(ahead, { timeout: 3000 });
    return () => {
      if (idle !== undefined) cancelIdleCallback(idle);
    };
  }, [dispatch, engines, readyDesk]);

  /** One that was taken away with its history comes back as it was. */
  const bringBack = async (file: File) => {
    try {
      const { id } = await api.bringBack(file);
      navigate(`/desk/${id}`);
    } catch (error) {
      toast.error((error as Error).message, { duration: 9000 });
    }
  };

  const bringIn = async (files: File[]) => {
    const [taken] = files.filter(isArchive);
    if (taken) {
      await bringBack(taken);
      return;
    }
    const own = new AbortController();
    const requestId = newRequestId();
    setReading({ left: own, requestId });
    // What the Desk needs loads while the server reads the files.
    engines.warm();
    readyDesk();
    try {
      const { open, warnings } = await api.create(files, own.signal, requestId);
      justOpened.offer(open);
      for (const warning of warnings.slice(0, 4)) toast.warning(warning.message, { duration: 9000 });
      navigate(`/desk/${open.id}`);
    } catch (error) {
      if (!own.signal.aborted) toast.error((error as Error).message, { duration: 9000 });
    } finally {
      setReading(null);
    }
  };

  return (
    <div className="mx-auto flex h-full max-w-5xl flex-col px-6">
      <header className="flex items-baseline gap-4 pb-5 pt-8">
        <h1 className="shrink-0 whitespace-nowrap font-serif text-4xl tracking-tight">Crisp Fold</h1>
        <p className="min-w-0 text-soft">
          Bring in recorded parts, take away a page that players can read. The take keeps its life.
        </p>
        <Button
          look="quiet"
          className="ml-auto shrink-0 self-center whitespace-nowrap text-soft"
          title="Every arrangement with its history, as one file; also while you work"
          onClick={() => download(api.backupAddress(false))}
        >
          Back up
        </Button>
        <Button
          look="quiet"
          className="shrink-0 self-center whitespace-nowrap text-soft"
          title="The same, with the recordings that lie beside the notes, as one zip"
          onClick={() => download(api.backupAddress(true))}
        >
          Back up with recordings
        </Button>
        <Button look="quiet" className="shrink-0 self-center whitespace-nowrap text-soft" onClick={toggleTheme}>
          Light or dark
        </Button>
        <SignOut />
      </header>
      <main className="flex min-h-0 flex-1 flex-col gap-6 pb-8">
        <Notices />
        <DropZone
          archives
          onFiles={(files) => void bringIn(files)}
          onCancel={reading && (() => reading.left.abort())}
          reading={readingInWords(bytesDone)}
        >
          <p className="font-serif text-xl">Drop the parts of one piece here</p>
          <p className="text-soft">
            One or several .mid files or MusicXML scores become one arrangement. One that was taken away comes back with
            its history.
          </p>
        </DropZone>
        {status === 'loading' && items.length === 0 && <p className="py-4 text-soft">Opening the library…</p>}
        {status === 'failed' && (
          <p role="alert" className="flex items-center gap-3 py-4">
            {problem}
            <Button onClick={() => void dispatch(loadLibrary())}>Try again</Button>
          </p>
        )}
        {status === 'ready' && items.length === 0 && (
          <p className="text-soft">
            Nothing here yet. Drop the MIDI files of a piece above; each track becomes a part.
          </p>
        )}
        <Shelf items={items} />
      </main>
    </div>
  );
};
