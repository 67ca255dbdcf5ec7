/** A canvas that is painted anew when its painter is a new one: one paint a frame, sharp on any screen. */
import { type Ref, useCallback, useEffect, useImperativeHandle, useRef } from 'react';

/** Paints on a cleared canvas, in CSS pixels. */
export type Painter = (canvas: CanvasRenderingContext2D) => void;

/** What a layer's owner may ask of it. */
export interface CanvasHandle {
  /** Paints again at the next frame, with the painter as it is. */
  readonly repaint: () => void;
}

export interface CanvasLayerProps {
  readonly width: number;
  readonly height: number;
  readonly paint: Painter;
  /** True for a painter that finds what it painted before, and clears what it paints anew; cleared for it otherwise. */
  readonly kept?: boolean;
  readonly ref?: Ref<CanvasHandle>;
}

export const CanvasLayer = ({ width, height, paint, kept = false, ref }: CanvasLayerProps) => {
  const canvas = useRef<HTMLCanvasElement>(null);
  const painter = useRef(paint);
  const frame = useRef(0);
  painter.current = paint;

  const repaint = useCallback(() => {
    if (frame.current !== 0) return;
    frame.current = requestAnimationFrame(() => {
      frame.current = 0;
      const context = canvas.current?.getContext('2d');
      if (!canvas.current || !context) return;
      const ratio = devicePixelRatio;
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      if (!kept) context.clearRect(0, 0, canvas.current.width / ratio, canvas.current.height / ratio);
      painter.current(context);
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
