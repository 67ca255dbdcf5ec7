/** The Desk of one arrangement: made anew with each opening, and shown once the arrangement is there. */
import { useEffect, useState } from 'react';
import { Provider } from 'react-redux';
import { Link, useParams } from 'react-router';
import { usePageServices } from '../../engine/pageServices.js';
import { Button } from '../../ui/Button.js';
import { createDesk } from '../session/createDesk.js';
import { DeskContext, useAppDispatch, useDesk } from '../session/desk.js';
import { openArrangement } from '../session/opening.js';
import { hasUnsaved } from '../session/savingParts.js';
import { useAppSelector } from '../state/root.js';
import { OpenDesk } from './OpenDesk.js';

export const Desk = () => {
  const { id } = useParams();
  return id === undefined ? null : <DeskOf key={id} id={id} />;
};

const DeskOf = ({ id }: { id: string }) => {
  const page = usePageServices();
  const [made] = useState(() => createDesk(page));
  useEffect(() => {
    page.deskOpened(made);
    void made.store.dispatch(openArrangement(id));
  }, [page, made, id]);
  return (
    <Provider store={made.store}>
      <DeskContext value={made.desk}>
        <Opening id={id} />
      </DeskContext>
    </Provider>
  );
};

/** Asks before the page goes while changes are not on disk. */
const useWarning = (): void => {
  const { saving } = useDesk();
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (hasUnsaved(saving)) event.preventDefault();
    };
    addEventListener('beforeunload', warn);
    return () => removeEventListener('beforeunload', warn);
  }, [saving]);
};

const Opening = ({ id }: { id: string }) => {
  useWarning();
  const dispatch = useAppDispatch();
  const failed = useAppSelector(({ piece }) => piece.status === 'failed');
  const problem = useAppSelector(({ piece }) => piece.problem);
  const opened = useAppSelector(({ piece }) => piece.arrangement !== null);
  if (failed) {
    return (
      <main className="grid h-full place-content-center gap-4 p-8 text-center">
        <h1 className="font-serif text-2xl">This arrangement could not be opened</h1>
        <p role="alert">{problem}</p>
        <div className="flex justify-center gap-2">
          <Button look="main" onClick={() => void dispatch(openArrangement(id))}>
            Try again
          </Button>
          <Link to="/" className="self-center underline">
            Back to the library
          </Link>
        </div>
      </main>
    );
  }
  if (opened) return <OpenDesk />;
  return (
    <main className="p-8">
      <h1 className="sr-only">Desk</h1>
      <p className="text-soft">Opening the arrangement…</p>
    </main>
  );
};
