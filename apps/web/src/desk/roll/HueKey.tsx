/** The key of what hue shows, in the roll's corner. */
import type { Scale } from './hues.js';

export const HueKey = ({ title, scale }: { title: string; scale: Scale }) => (
  <figure
    aria-label={`Hue shows: ${title}`}
    className="pointer-events-none absolute bottom-1 right-1 max-w-[70%] border border-rule bg-sheet/90 px-2 py-1 text-sm"
  >
    <figcaption className="sr-only">{title}</figcaption>
    <ul className="flex flex-wrap gap-x-2">
      {scale.shades.map(({ colour, words }) => (
        <li key={words} className="flex items-center gap-1 whitespace-nowrap">
          <span aria-hidden className="inline-block size-3 border border-ink" style={{ background: colour }} />
          {words}
        </li>
      ))}
    </ul>
  </figure>
);
