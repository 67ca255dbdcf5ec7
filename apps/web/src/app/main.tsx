/** Starts the screens. */
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider } from 'react-router/dom';
import { Toaster } from 'sonner';
import { applyStoredNaming } from '../browser/naming.js';
import { applyStoredTheme } from '../browser/theme.js';
import { router } from './router.js';
import { store } from './store.js';
import './theme.css';

applyStoredTheme();
applyStoredNaming();
createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <Provider store={store}>
      <RouterProvider router={router} />
      <Toaster position="bottom-center" toastOptions={{ className: '!bg-ink !text-sheet !border-ink !font-sans' }} />
    </Provider>
  </StrictMode>,
);
