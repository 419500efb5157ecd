import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { FontBook } from '@scalaria/core';
import { SHIPPED_FONTS, shippedBook } from '@scalaria/core';

let book: FontBook | null = null;

/** The fonts that ship with the application. */
export function shippedFonts(): FontBook {
  book ??= shippedBook(
    SHIPPED_FONTS.map(({ file }) => readFileSync(fileURLToPath(import.meta.resolve(`@scalaria/core/fonts/${file}`)))),
  );
  return book;
}
