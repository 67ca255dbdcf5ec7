/** Addresses: the library and the Desk. The Desk's code loads when it is first opened. */
import { Provider } from 'react-redux';
import { createBrowserRouter, Link } from 'react-router';
import { Library } from '../library/Library.js';
import type { createLibraryStore } from '../library/libraryStore.js';

const Lost = () => (
  <main className="grid h-full place-content-center gap-3 text-center">
    <h1 className="font-serif text-3xl">There is no page here</h1>
    <p>
      <Link className="underline" to="/">
        Back to the library
      </Link>
    </p>
  </main>
);

const Opening = () => <p className="p-8 text-soft">Opening…</p>;

const loadDesk = () => import('../desk/shell/Desk.js');

export const createRouter = (libraryStore: ReturnType<typeof createLibraryStore>) =>
  createBrowserRouter([
    {
      path: '/',
      element: (
        <Provider store={libraryStore}>
          <Library readyDesk={() => void loadDesk()} />
        </Provider>
      ),
      errorElement: <Lost />,
      HydrateFallback: Opening,
    },
    {
      path: '/desk/:id/:view?',
      lazy: async () => ({ Component: (await loadDesk()).Desk }),
      errorElement: <Lost />,
      HydrateFallback: Opening,
    },
  ]);
