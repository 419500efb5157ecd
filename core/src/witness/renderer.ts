import { Resvg, initWasm } from '@resvg/resvg-wasm';

/** Rows of RGBA from the upper left corner on, all opaque. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8Array;
  /** How many pixels the whole reaches over: by a part of one more than there are, where they do not come out even. */
  readonly span: readonly [number, number];
}

/** The ground that pictures are drawn on: neither white nor black, so that both are seen on it. */
export const GROUND = [0xa9, 0xbc, 0xc4] as const;
const BACKGROUND = `#${GROUND.map((c) => c.toString(16)).join('')}`;
/** Longer than so many times its height a picture shows nothing. */
const THINNEST = 200;

/** The longest side of a picture, in pixels. */
export const PICTURE_SIZE = 640;
/** Pictures are drawn larger by so much and made smaller: the renderer cuts curves to chords that lie up to a quarter pixel off. */
const LARGER = 2;

/** How large a picture is drawn: its longest side in pixels, each of them made of so many a side. */
export interface DrawnAt {
  readonly size: number;
  readonly larger: number;
}

/**
 * A renderer of SVG that shares nothing with our readers and writers: it judges what they make of a file. It runs as
 * WebAssembly, so that a file that brings it down brings down nothing else; it opens no other file and no address.
 */
export interface Renderer {
  /**
   * Its longest side comes out as `PICTURE_SIZE` unless asked for otherwise. Without `letters` texts are left out. `null` where it cannot draw it: no
   * drawing, no size, or one that is too much for it.
   */
  draw(svg: Uint8Array | string, letters?: boolean, at?: DrawnAt): Picture | null;
  /** A picture file (PNG) whose longer side has so many pixels, on a ground; `null` as above. */
  png(svg: string, pixels: number, ground: string): Uint8Array | null;
}

/** What the renderer needs of its host; fonts are asked for when letters are drawn. */
export interface RendererParts {
  machine: Uint8Array;
  fonts: () => readonly Uint8Array[];
}

let begun: Promise<void> | null = null;

/** Opens the renderer. Its machine is made once, whoever asks. */
export async function openRenderer({ machine, fonts }: RendererParts): Promise<Renderer> {
  begun ??= initWasm(machine).catch((e: unknown) => {
    // Whoever asks next may have better luck.
    begun = null;
    throw e;
  });
  await begun;
  let letters: Uint8Array[] | null = null;
  return {
    draw(svg, withLetters = true, at = { size: PICTURE_SIZE, larger: LARGER }) {
      const text = typeof svg === 'string' ? svg : new TextDecoder().decode(svg);
      const asked = withLetters && /<([\w-]+:)?text\b/.test(text);
      try {
        return drawn(text, asked ? (letters ??= [...fonts()]) : [], at);
      } catch {
        return null;
      }
    },
    png(svg, pixels, ground) {
      const asked = /<text\b/.test(svg) ? (letters ??= [...fonts()]) : [];
      try {
        return asPng(svg, pixels, ground, asked);
      } catch {
        return null;
      }
    },
  };
}

function asPng(svg: string, pixels: number, ground: string, fontBuffers: Uint8Array[]): Uint8Array {
  const options = { background: ground, font: { fontBuffers, defaultFontFamily: 'Spline Sans' } };
  const probe = new Resvg(svg, options);
  const mode = probe.width >= probe.height ? 'width' : 'height';
  probe.free();
  const made = new Resvg(svg, { ...options, fitTo: { mode, value: pixels } });
  const image = made.render();
  try {
    return image.asPng();
  } finally {
    image.free();
    made.free();
  }
}

function drawn(svg: string, fontBuffers: Uint8Array[], { size, larger }: DrawnAt): Picture | null {
  const options = {
    background: BACKGROUND,
    font: {
      fontBuffers,
      defaultFontFamily: 'Spline Sans',
      sansSerifFamily: 'Spline Sans',
      serifFamily: 'Source Serif 4',
      monospaceFamily: 'Spline Sans Mono',
    },
  };
  let made = new Resvg(svg, { ...options, fitTo: { mode: 'width', value: size * larger } });
  try {
    const { width, height } = made;
    if (!(width > 0 && height > 0) || Math.max(width / height, height / width) > THINNEST) return null;
    if (height > width) {
      made.free();
      made = new Resvg(svg, { ...options, fitTo: { mode: 'height', value: size * larger } });
    }
    const image = made.render();
    const picture = smaller(image, larger);
    image.free();
    return picture;
  } finally {
    made.free();
  }
}

/** A picture with one pixel for each square of `larger`; what is left over at its right and lower edge is let go. */
function smaller(large: Pick<Picture, 'width' | 'height' | 'pixels'>, larger: number): Picture {
  const [width, height] = [Math.max(1, (large.width / larger) | 0), Math.max(1, (large.height / larger) | 0)];
  const { pixels: from } = large;
  const pixels = new Uint8Array(4 * width * height);
  const row = 4 * large.width;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = larger * (row * y + 4 * x);
      for (let k = 0; k < 4; k++) {
        let sum = 0;
        for (let v = at + k; v < at + k + larger * row; v += row)
          for (let u = v; u < v + 4 * larger; u += 4) sum += from[u]!;
        pixels[4 * (y * width + x) + k] = sum / larger ** 2;
      }
    }
  return { width, height, pixels, span: [large.width / larger, large.height / larger] };
}
