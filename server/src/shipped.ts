import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { FontBook, Renderer } from '@scalaria/core';
import { SHIPPED_FONTS, openRenderer, shippedBook } from '@scalaria/core';

/** The bytes of a file that a package ships. */
export const packaged = (name: string): Uint8Array => readFileSync(fileURLToPath(import.meta.resolve(name)));
const fontFiles = (): Uint8Array[] => SHIPPED_FONTS.map(({ file }) => packaged(`@scalaria/core/fonts/${file}`));

let book: FontBook | null = null;

/** The fonts that ship with the application. */
export const shippedFonts = (): FontBook => (book ??= shippedBook(fontFiles()));

/** The renderer that judges what our readers and writers make of an SVG, with the same fonts. */
export const renderer = (): Promise<Renderer> =>
  openRenderer({ machine: packaged('@resvg/resvg-wasm/index_bg.wasm'), fonts: fontFiles });
