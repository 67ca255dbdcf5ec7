/** A canvas that is painted anew when its painter is a new one: one paint a frame, sharp on any screen. */
import { type Ref, useCallback, useEffect, useImperativeHandle, useRef } from 'react';

/** Paints, in CSS pixels; `stays` where the canvas holds what was painted last, which is of a kept layer alone. */
export type Painter = (canvas: CanvasRenderingContext2D, stays: boolean) => void;

/** What a layer's owner may ask of it. */
export interface CanvasHandle {
  /** Paints again at the next frame, with the painter as it is. */
  readonly repaint: () => void;
}

export interface CanvasLayerProps {
  readonly width: number;
  readonly height: number;
  readonly paint: Painter;
  /** True for a painter that clears what it paints anew; else the canvas is cleared for it. */
  readonly kept?: boolean;
  readonly ref?: Ref<CanvasHandle>;
}

export const CanvasLayer = ({ width, height, paint, kept = false, ref }: CanvasLayerProps) => {
  const canvas = useRef<HTMLCanvasElement>(null);
  const painter = useRef(paint);
  const frame = useRef(0);
  /** The size at which it was painted; empty where nothing of it is left. */
  const painted = useRef('');
  painter.current = paint;

  const repaint = useCallback(() => {
    if (frame.current !== 0) return;
    frame.current = requestAnimationFrame(() => {
      frame.current = 0;
      const context = canvas.current?.getContext('2d');
      if (!canvas.current || !context) return;
      const ratio = devicePixelRatio;
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      const { width, height } = canvas.current;
      const size = `${width} ${height} ${ratio}`;
      const stays = kept && painted.current === size;
      painted.current = size;
      if (!stays) context.clearRect(0, 0, width / ratio, height / ratio);
      painter.current(context, stays);
    });
  }, [kept]);
  useImperativeHandle(ref, () => ({ repaint }), [repaint]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new size clears the canvas, a new painter changes it
  useEffect(repaint, [repaint, paint, width, height]);
  useEffect(
    () => () => {
      cancelAnimationFrame(frame.current);
      frame.current = 0;
    },
    [],
  );

  // A canvas that the browser had to let go of comes back empty.
  useEffect(() => {
    const element = canvas.current;
    const anew = () => {
      painted.current = '';
      repaint();
    };
    element?.addEventListener('contextrestored', anew);
    return () => element?.removeEventListener('contextrestored', anew);
  }, [repaint]);

  const ratio = typeof devicePixelRatio === 'number' ? devicePixelRatio : 1;
  return (
    <canvas
      ref={canvas}
      aria-hidden
      width={Math.round(width * ratio)}
      height={Math.round(height * ratio)}
      style={{ width, height }}
      className="pointer-events-none absolute inset-0"
    />
  );
};
