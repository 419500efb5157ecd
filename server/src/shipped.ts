import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { FontBook, Renderer } from '@scalaria/core';
import { SHIPPED_FONTS, offerCharacterMaps, openRenderer, shippedBook } from '@scalaria/core';

/** The bytes of a file that a package ships. */
export const packaged = (name: string): Uint8Array => readFileSync(fileURLToPath(import.meta.resolve(name)));
const fontFiles = (): Uint8Array[] => SHIPPED_FONTS.map(({ file }) => packaged(`@scalaria/core/fonts/${file}`));

/** A map from codes to characters that fonts of a PDF only name (`CHARACTER_MAP`), packed; `null` where there is none of that name. */
export function characterMap(name: string): Uint8Array | null {
  const path = fileURLToPath(import.meta.resolve(`pdfjs-dist/cmaps/${name}.bcmap`));
  return existsSync(path) ? readFileSync(path) : null;
}

// Whoever reads drawings on this server has fonts from here too.
offerCharacterMaps((name) => {
  const map = characterMap(name);
  return map ? Promise.resolve(map) : Promise.reject(new Error(`there is no map of characters called ${name}`));
});

let book: FontBook | null = null;

/** The fonts that ship with the application. */
export const shippedFonts = (): FontBook => (book ??= shippedBook(fontFiles()));

/** The renderer that judges what our readers and writers make of an SVG, with the same fonts. */
export const renderer = (): Promise<Renderer> =>
  openRenderer({ machine: packaged('@resvg/resvg-wasm/index_bg.wasm'), fonts: fontFiles });
