import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Renderer } from '../../src/index.js';
import { openRenderer } from '../../src/index.js';
import { fontFiles } from '../helpers.js';

/** The renderer that judges, with the fonts that ship. */
export const renderer = (): Promise<Renderer> =>
  openRenderer({
    machine: readFileSync(fileURLToPath(import.meta.resolve('@resvg/resvg-wasm/index_bg.wasm'))),
    fonts: fontFiles,
  });
