/** All pages of the score, for the printer alone. */
import { useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import { useDesk } from '../session/desk.js';

export const Printing = ({ pages, onDone }: { pages: number; onDone: () => void }) => {
  const { score } = useDesk();
  const [pictures, setPictures] = useState<readonly string[]>([]);
  useEffect(() => {
    let over = false;
    const make = async () => {
      const made: string[] = [];
      for (let number = 1; number <= pages && !over; number += 1) made.push(await score.page(number));
      if (!over) setPictures(made);
    };
    void make().catch(onDone);
    return () => {
      over = true;
    };
  }, [pages, onDone, score]);
  useEffect(() => {
    if (pictures.length === 0) return;
    print();
    onDone();
  }, [pictures, onDone]);
  return createPortal(
    <div className="print-root">
      {pictures.map((svg, index) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: pages are known by their place
          key={index}
          className="print-page"
          // biome-ignore lint/security/noDangerouslySetInnerHtml: the picture comes from our own engraver
          dangerouslySetInnerHTML={{ __html: svg }}
        />
      ))}
    </div>,
    document.body,
  );
};
