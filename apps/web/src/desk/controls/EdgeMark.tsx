/** A part's mark: its hue and the cut of its notes' left edge, as in the roll. */
import type { Edge, PartLook } from './partLook.js';

const PATHS: { readonly [edge in Edge]: string } = {
  straight: 'M1 1H23V13H1Z',
  slanted: 'M7 1H23V13H1Z',
  notched: 'M1 1H23V13H1L7 7Z',
  rounded: 'M7 1H23V13H7Q-2 7 7 1Z',
  pointed: 'M7 1H23V13H7L1 7Z',
  stepped: 'M7 1H23V13H1V7H7Z',
};

export const EdgeMark = ({ look }: { readonly look: PartLook }) => (
  <svg width="24" height="14" viewBox="0 0 24 14" aria-hidden className="shrink-0">
    <path d={PATHS[look.edge]} fill={look.hue} stroke="var(--ink)" strokeWidth="1" />
  </svg>
);
