/** Starts the screens. */
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { applyStoredNaming } from '../browser/naming.js';
import { applyStoredTheme } from '../browser/theme.js';
import { createPageServices } from '../engine/pageServices.js';
import { browserWorkers } from '../engine/workers.js';
import { Application } from './Application.js';
import './theme.css';

applyStoredTheme();
applyStoredNaming();
createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <Application services={createPageServices(browserWorkers)} />
  </StrictMode>,
);
