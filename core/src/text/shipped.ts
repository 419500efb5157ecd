import type { KindFamilies } from './fonts.js';
import { FontBook, loadFont } from './fonts.js';

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

/** The book of shipped fonts, given the bytes of the files of `SHIPPED_FONTS` in their order. */
export const shippedBook = (bytes: readonly Uint8Array[]): FontBook =>
  new FontBook(
    SHIPPED_FONTS.map(({ family }, i) => loadFont(bytes[i], family)),
    {},
    KINDS,
  );
