/** What a picture shows of a drawing, in whole pixels, so that its scale is exact. */
export interface PictureFrame {
  /** In pixels. */
  readonly width: number;
  readonly height: number;
  /** Pixels to a unit of the drawing. */
  readonly perUnit: number;
  /** The upper left corner of the first pixel, in the drawing. */
  readonly left: number;
  readonly top: number;
  /** How many pixels to the inch it states: those of the drawing, or of the paper where it is shown at a scale. */
  readonly pxPerInch: number;
}

/** How a picture is drawn, beside what is drawn. */
export interface PictureMade {
  readonly frame: PictureFrame;
  /** What it is drawn on, 0xRRGGBB; `null` for nothing. */
  readonly ground: number | null;
  /** Lines in the colour of the foreground are white on the dark ground. */
  readonly whiteForeground: boolean;
  /** Lines are at least so wide, in pixels. */
  readonly thinnest: number;
}

/** A small text that is delivered beside a file; its name is that of the file with another ending. */
export interface Beside {
  readonly ending: string;
  readonly text: string;
}
