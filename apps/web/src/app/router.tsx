/** Addresses: the library and the Desk. The Desk's code loads when it is first opened. */
import { createBrowserRouter, Link } from 'react-router';
import { Library } from '../library/Library.js';

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

export const router = createBrowserRouter([
  { path: '/', element: <Library />, errorElement: <Lost />, HydrateFallback: Opening },
  {
    path: '/desk/:id/:view?',
    lazy: async () => ({ Component: (await import('../desk/shell/Desk.js')).Desk }),
    errorElement: <Lost />,
    HydrateFallback: Opening,
  },
]);
