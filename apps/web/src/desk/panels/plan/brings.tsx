/** What the plan brings to the Desk. */
import type { Brings } from '../../controls/brings.js';
import { PlanPanel } from './PlanPanel.js';

export const PLAN: Brings = { panel: { id: 'plan', name: 'Plan', shows: () => <PlanPanel /> } };
