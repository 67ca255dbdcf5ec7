/** Above the score: which page, how large, of which parts, and the ways to paper. */
import { AppWindow, ArrowLeft, ChevronLeft, ChevronRight, FileSliders, Minus, Plus, Printer } from 'lucide-react';
import { Button } from '../../ui/Button.js';
import { openScoreWindow } from '../actions/scoreWindow.js';
import { useKeyOf } from '../controls/useKeyOf.js';
import { useAppDispatch } from '../session/desk.js';
import { useAppSelector } from '../state/root.js';
import { switched } from '../state/switched.js';
import type { Zoom } from './scoreModel.js';

interface Turns {
  /** Which page of how many, in words. */
  readonly place: string;
  readonly onTurn: (by: 1 | -1) => void;
}

interface Sized {
  readonly zoom: Zoom;
  readonly onZoom: (way: 1 | -1) => void;
  readonly onFit: (zoom: Zoom) => void;
}

export const ScoreHead = ({
  title,
  place,
  onTurn,
  zoom,
  onZoom,
  onFit,
  onSetUp,
  onPrint,
  onClose,
}: Turns &
  Sized & {
    title: string;
    onSetUp: () => void;
    /** Null while there is nothing whole to print, or it is being printed. */
    onPrint: (() => void) | null;
    onClose: () => void;
  }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const arrangementId = useAppSelector(({ piece }) => piece.id);
  const frontOnly = useAppSelector(({ layout }) => layout.pageOfFrontOnly);
  return (
    <header className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-strong bg-desk px-3 py-1 text-sm">
      <Button title="Back to the roll" hint="Esc" onClick={onClose}>
        <ArrowLeft size={16} aria-hidden /> Desk
      </Button>
      <h2 className="font-serif text-base">{title}</h2>
      <Turning place={place} onTurn={onTurn} />
      <Sizes zoom={zoom} onZoom={onZoom} onFit={onFit} />
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="accent-[var(--fold)]"
          checked={frontOnly}
          onChange={() => dispatch(switched('pageOfFrontOnly'))}
        />
        Front part only
      </label>
      <Button className="ml-auto" title="Paper, staves, order, pitch and names" onClick={onSetUp}>
        <FileSliders size={16} aria-hidden /> Page set-up
      </Button>
      <Button
        title="In a window of its own, linked with this one"
        hint={keyOf('scoreWindow')}
        onClick={() => openScoreWindow(arrangementId)}
      >
        <AppWindow size={16} aria-hidden /> Own window
      </Button>
      <Button title="Print these pages" disabled={!onPrint} onClick={() => onPrint?.()}>
        <Printer size={16} aria-hidden /> Print
      </Button>
      <span className="text-soft">PDF files: {keyOf('export')}</span>
    </header>
  );
};

const Turning = ({ place, onTurn }: Turns) => (
  <span className="flex items-center gap-1">
    <Button
      look="quiet"
      className="!px-1"
      aria-label="Page before"
      title="Page before"
      hint="Page up"
      onClick={() => onTurn(-1)}
    >
      <ChevronLeft size={16} aria-hidden />
    </Button>
    <span className="whitespace-nowrap text-soft" role="group" aria-label="Place in the score">
      {place}
    </span>
    <Button
      look="quiet"
      className="!px-1"
      aria-label="Next page"
      title="Next page"
      hint="Page down"
      onClick={() => onTurn(1)}
    >
      <ChevronRight size={16} aria-hidden />
    </Button>
  </span>
);

const Sizes = ({ zoom, onZoom, onFit }: Sized) => (
  <span className="flex items-center gap-1">
    <Button look="quiet" className="!px-1" aria-label="Smaller" title="Smaller" hint="-" onClick={() => onZoom(-1)}>
      <Minus size={16} aria-hidden />
    </Button>
    <select
      aria-label="Size of pages"
      className="min-h-8 border border-strong bg-sheet px-1"
      value={typeof zoom === 'number' ? 'own' : zoom}
      onChange={(event) => onFit(event.target.value === 'page' ? 'page' : 'width')}
    >
      <option value="width">Fit the width</option>
      <option value="page">Fit the page</option>
      {typeof zoom === 'number' && <option value="own">{Math.round(zoom * 100)} %</option>}
    </select>
    <Button look="quiet" className="!px-1" aria-label="Larger" title="Larger" hint="+" onClick={() => onZoom(1)}>
      <Plus size={16} aria-hidden />
    </Button>
  </span>
);
