declare module 'svgcanvas' {
  /** A drawing context that writes down what is drawn as SVG. */
  export class Context {
    constructor(width: number, height: number)
    getSerializedSvg(namedEntities?: boolean): string
  }
}
