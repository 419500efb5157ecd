import type { KindFamilies, LoadedFont } from './fonts.js';
import { FontBook } from './fonts.js';
import type { OutlineFont } from './outline-font.js';
import { loadOutlineFont } from './outline-font.js';

const FAMILIES: [string, string, readonly string[]][] = [
  ['Spline Sans', 'spline-sans', ['400-normal', '700-normal']],
  ['Source Serif 4', 'source-serif-4', ['400-normal', '700-normal', '400-italic']],
  ['Spline Sans Mono', 'spline-sans-mono', ['400-normal']],
  ['Sofia Sans Condensed', 'sofia-sans-condensed', ['400-normal', '700-normal']],
];

/** The font files that ship with the application, in `core/fonts`, and the family each belongs to. All under the OFL. */
export const SHIPPED_FONTS: readonly { family: string; file: string }[] = FAMILIES.flatMap(([family, name, styles]) =>
  styles.flatMap((style) => ['latin', 'latin-ext'].map((part) => ({ family, file: `${name}-${part}-${style}.woff2` }))),
);

const KINDS: KindFamilies = {
  sans: 'Spline Sans',
  serif: 'Source Serif 4',
  mono: 'Spline Sans Mono',
  condensed: 'Sofia Sans Condensed',
};

/** A shipped font, known by its family and style; its file is only read when a letter is asked for. */
function shipped(family: string, file: string, bytes: () => Uint8Array): LoadedFont {
  let loaded: OutlineFont | null = null;
  const own = (): OutlineFont => (loaded ??= loadOutlineFont(bytes(), family));
  const [, weight = '400', slant] = /-(\d+)-(\w+)\.woff2$/.exec(file) ?? [];
  return {
    kind: 'outline',
    font: {
      family,
      weight: Number(weight),
      italic: slant === 'italic',
      get capital() {
        return own().capital;
      },
      get embedding() {
        return own().embedding;
      },
      has: (c) => own().has(c),
      shape: (...line) => own().shape(...line),
      outline: (id) => own().outline(id),
      draw: (...line) => own().draw(...line),
    },
  };
}

/**
 * The book of shipped fonts, given the bytes of the files of `SHIPPED_FONTS` in their order, or how to come by them: a
 * drawing without text needs none.
 */
export const shippedBook = (files: readonly (Uint8Array | (() => Uint8Array))[]): FontBook =>
  new FontBook(
    SHIPPED_FONTS.map(({ family, file }, i) => {
      const given = files[i]!;
      return shipped(family, file, typeof given === 'function' ? given : () => given);
    }),
    {},
    KINDS,
  );
