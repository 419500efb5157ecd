import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { FontBook, loadFont } from '@scalaria/core';

const FILES = ['spline-sans-latin-400-normal.woff', 'spline-sans-latin-ext-400-normal.woff'];

/** The fonts that ship with the application. */
export function shippedFonts(): FontBook {
  return new FontBook(
    FILES.map((f) =>
      loadFont('Spline Sans', readFileSync(fileURLToPath(import.meta.resolve(`@scalaria/core/fonts/${f}`)))),
    ),
  );
}
