/** Runs a painter in the roll's own coordinates (or the ruler's). */
export const within = (
  canvas: CanvasRenderingContext2D,
  x: number,
  y: number,
  width: number,
  height: number,
  paint: (canvas: CanvasRenderingContext2D) => void,
) => {
  canvas.save();
  canvas.translate(x, y);
  canvas.beginPath();
  canvas.rect(0, 0, width, height);
  canvas.clip();
  paint(canvas);
  canvas.restore();
};
