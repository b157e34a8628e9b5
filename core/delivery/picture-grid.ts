/** The exact grid on which pictures are due. Rates such as 29.97 are really n·1000/1001. */
export class PictureGrid {
  readonly numerator: number;
  readonly denominator: number;

  /** @param fps pictures per second, 1…240; a rate near n·1000/1001 is taken as exactly that */
  constructor(readonly fps: number) {
    const whole = Math.round(fps);
    const broadcast = Math.abs(fps - (whole * 1000) / 1001) < 0.005 && Math.abs(fps - whole) > 0.005;
    this.numerator = broadcast ? whole * 1000 : Math.round(fps * 1000);
    this.denominator = broadcast ? 1001 : 1000;
  }

  /** Stamp of a picture in microseconds, rounded once and not accumulated. */
  timeUs(index: number): number {
    return Math.round((index * this.denominator * 1e6) / this.numerator);
  }

  seconds(index: number): number {
    return (index * this.denominator) / this.numerator;
  }

  /** The last picture due at `seconds`. */
  indexAt(seconds: number): number {
    // A hair of slack: 0.1 s at 30 fps is picture 3, whatever floating point makes of it.
    return Math.floor((seconds * this.numerator) / this.denominator + 1e-7);
  }

  /** Pictures between keyframes. */
  interval(keyframeSeconds: number): number {
    return Math.max(1, Math.round((keyframeSeconds * this.numerator) / this.denominator));
  }
}

/** The exact rate that is meant by one such as 29.97, pictures a second. */
export function rateOf(fps: number): number {
  const { numerator, denominator } = new PictureGrid(fps);
  return numerator / denominator;
}
