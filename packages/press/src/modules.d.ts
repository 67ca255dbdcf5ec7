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
    getPageWithElement(id: string): number;
    renderToSVG(page: number): string;
  }
}
declare module 'svg-to-pdfkit' {
  /** Draws an SVG on the current page of a document. */
  const draw: (
    document: PDFKit.PDFDocument,
    svg: string,
    x: number,
    y: number,
    options: {
      readonly width: number;
      readonly height: number;
      readonly fontCallback: (
        family: string,
        bold: boolean,
        italic: boolean,
        options: { fauxItalic?: boolean; fauxBold?: boolean },
      ) => string;
      readonly warningCallback?: (warning: string) => void;
    },
  ) => void;
  export default draw;
}
