/** What is used of fft.js, which says no types of its own. */
declare module 'fft.js' {
  /** A Fourier transform of a fixed size, a power of two. */
  export default class FFT {
    constructor(size: number);
    /** Fills the first half of `out` (complex, interleaved) from `size` real values. */
    realTransform(out: Float64Array, data: ArrayLike<number>): void;
    /** Completes what {@link realTransform} left out. */
    completeSpectrum(out: Float64Array): void;
    transform(out: Float64Array, data: ArrayLike<number>): void;
    inverseTransform(out: Float64Array, data: ArrayLike<number>): void;
  }
}
