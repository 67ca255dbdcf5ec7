declare module 'verovio/wasm' {
  const createModule: () => Promise<unknown>;
  export default createModule;
}
declare module 'verovio/esm' {
  export class VerovioToolkit {
    constructor(module: unknown);
    setOptions(options: Record<string, unknown>): void;
    loadData(data: string): boolean;
    getMEI(): string;
    getPageCount(): number;
    renderToSVG(page: number): string;
    renderToMIDI(): string;
    renderToTimemap(options?: Record<string, unknown>): unknown;
    getMIDIValuesForElement(id: string): unknown;
  }
}
