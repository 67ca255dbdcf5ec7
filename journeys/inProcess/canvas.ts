/** A canvas that paints nowhere, and remembers in words what it was asked to paint: jsdom has none. */

const rounded = (value: unknown): string => {
  if (typeof value === 'number') return String(Math.round(value * 10) / 10);
  if (value instanceof RememberedPath) return `path(${value.steps.join(' ')})`;
  return typeof value === 'string' ? value : value === null || typeof value !== 'object' ? String(value) : 'object';
};

/** What is asked of a path. */
class RememberedPath {
  readonly steps: string[] = [];
  constructor(from?: RememberedPath | string) {
    if (from instanceof RememberedPath) this.steps.push(...from.steps);
    else if (from !== undefined) this.steps.push(from);
  }
}
const PATH_STEPS = [
  'moveTo',
  'lineTo',
  'rect',
  'roundRect',
  'arc',
  'arcTo',
  'ellipse',
  'closePath',
  'addPath',
] as const;
const CURVES = ['bezierCurveTo', 'quadraticCurveTo'] as const;
for (const step of [...PATH_STEPS, ...CURVES])
  Object.defineProperty(RememberedPath.prototype, step, {
    value(this: RememberedPath, ...asked: unknown[]) {
      this.steps.push([step, ...asked.map(rounded)].join(' '));
    },
  });

const ASKED = [
  ...PATH_STEPS,
  ...CURVES,
  'beginPath',
  'fill',
  'stroke',
  'clip',
  'fillRect',
  'strokeRect',
  'clearRect',
  'fillText',
  'strokeText',
  'drawImage',
  'save',
  'restore',
  'translate',
  'rotate',
  'scale',
  'setTransform',
  'resetTransform',
  'setLineDash',
] as const;
const SETTINGS = [
  'fillStyle',
  'strokeStyle',
  'lineWidth',
  'font',
  'globalAlpha',
  'textAlign',
  'textBaseline',
  'lineCap',
  'lineJoin',
  'lineDashOffset',
  'globalCompositeOperation',
  'letterSpacing',
] as const;

/** What a canvas was asked, the newest frame alone: a frame begins with its transform. */
class RememberedContext {
  rows: string[] = [];
  [setting: string]: unknown;
  constructor(readonly canvas: HTMLCanvasElement) {}
  measureText(text: string) {
    return { width: text.length * 6, actualBoundingBoxAscent: 8, actualBoundingBoxDescent: 2 };
  }
  getTransform() {
    return { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 };
  }
  getLineDash() {
    return [];
  }
  createPattern() {
    return 'pattern';
  }
  createLinearGradient() {
    return { addColorStop: () => undefined };
  }
}
for (const name of ASKED)
  Object.defineProperty(RememberedContext.prototype, name, {
    value(this: RememberedContext, ...asked: unknown[]) {
      if (name === 'setTransform') this.rows = [];
      this.rows.push([name, ...asked.map(rounded)].join(' '));
    },
  });
for (const name of SETTINGS) {
  const held = Symbol(name);
  Object.defineProperty(RememberedContext.prototype, name, {
    get(this: Record<symbol, unknown>) {
      return this[held];
    },
    set(this: RememberedContext & Record<symbol, unknown>, value: unknown) {
      if (this[held] !== value) this.rows.push(`${name} = ${rounded(value)}`);
      this[held] = value;
    },
  });
}

const contexts = new WeakMap<HTMLCanvasElement, RememberedContext>();

/** The context of a canvas, one and the same each time. */
const contextOf = (canvas: HTMLCanvasElement): RememberedContext => {
  const known = contexts.get(canvas);
  if (known) return known;
  const context = new RememberedContext(canvas);
  contexts.set(canvas, context);
  return context;
};

/** Gives jsdom canvases. */
export const giveCanvases = (): void => {
  Object.defineProperty(HTMLCanvasElement.prototype, 'getContext', {
    value(this: HTMLCanvasElement) {
      return contextOf(this);
    },
    configurable: true,
  });
  Object.defineProperty(globalThis, 'Path2D', { value: RememberedPath, configurable: true });
};
