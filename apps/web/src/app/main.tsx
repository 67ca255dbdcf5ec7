/** Starts the screens. */
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { Toaster } from 'sonner';
import { applyStoredNaming } from '../browser/naming.js';
import { applyStoredTheme } from '../browser/theme.js';
import { createPageServices, PageServicesContext } from '../engine/pageServices.js';
import { browserWorkers } from '../engine/workers.js';
import { createLibraryStore } from '../library/libraryStore.js';
import { createRouter } from './router.js';
import './theme.css';

applyStoredTheme();
applyStoredNaming();
createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <PageServicesContext value={createPageServices(browserWorkers)}>
      <RouterProvider router={createRouter(createLibraryStore())} />
      <Toaster position="bottom-center" toastOptions={{ className: '!bg-ink !text-sheet !border-ink !font-sans' }} />
    </PageServicesContext>
  </StrictMode>,
);
