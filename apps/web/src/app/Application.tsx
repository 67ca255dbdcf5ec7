/** The application on a page that lives. */
import { useState } from 'react';
import { RouterProvider } from 'react-router';
import { Toaster } from 'sonner';
import { type PageServices, PageServicesContext } from '../engine/pageServices.js';
import { createLibraryStore } from '../library/libraryStore.js';
import { createRouter } from './router.js';

export const Application = ({ services }: { readonly services: PageServices }) => {
  const [router] = useState(() => createRouter(createLibraryStore()));
  return (
    <PageServicesContext value={services}>
      <RouterProvider router={router} />
      <Toaster position="bottom-center" toastOptions={{ className: '!bg-ink !text-sheet !border-ink !font-sans' }} />
    </PageServicesContext>
  );
};
