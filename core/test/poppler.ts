import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';

/** Debian's poppler-utils: an independent reader of PDF files. Says loudly what is skipped where it is not installed. */
export function hasPoppler(skipped: string): boolean {
  try {
    execFileSync('pdfinfo', ['-v'], { stdio: 'ignore' });
    return true;
  } catch {
    console.warn(`SKIPPED: poppler-utils is not installed, so ${skipped}`);
    return false;
  }
}

/** Puts a file where programs of another kind can read it, runs, and takes it away again. */
function withFile<T>(bytes: Uint8Array, run: (file: string, folder: string) => T): T {
  const folder = mkdtempSync(join(tmpdir(), 'poppler-'));
  try {
    const file = join(folder, 'a.pdf');
    writeFileSync(file, bytes);
    return run(file, folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const said = (program: string, ...args: string[]): string =>
  execFileSync(program, args, { encoding: 'utf8', maxBuffer: 1 << 28 });

export const infoOf = (bytes: Uint8Array): string => withFile(bytes, (f) => said('pdfinfo', '-box', f));
export const fontsOf = (bytes: Uint8Array): string => withFile(bytes, (f) => said('pdffonts', f));
export const textOf = (bytes: Uint8Array): string => withFile(bytes, (f) => said('pdftotext', '-layout', f, '-'));
/** A page as SVG, in points with y downwards, as poppler draws it. */
export const svgOf = (bytes: Uint8Array, page = 1): string =>
  withFile(bytes, (f) => said('pdftocairo', '-svg', '-noshrink', '-f', String(page), '-l', String(page), f, '-'));
/** A page as a picture. */
export const rasterOf = (bytes: Uint8Array, pxPerInch: number, page = 1): PNG =>
  withFile(bytes, (f, folder) => {
    said(
      'pdftocairo',
      '-png',
      '-r',
      String(pxPerInch),
      '-f',
      String(page),
      '-l',
      String(page),
      '-singlefile',
      f,
      join(folder, 'p'),
    );
    return PNG.sync.read(readFileSync(join(folder, 'p.png')));
  });

/** Pixels of `b`, laid over `a` with its corner at (dx, dy): how many have ink in `a`, and how many differ by more than half of black. */
export function laidOver(a: PNG, b: PNG, dx: number, dy: number): { inked: number; differs: number } {
  let [differs, inked] = [0, 0];
  for (let y = 2; y < b.height - 2; y++)
    for (let x = 2; x < b.width - 2; x++) {
      const [i, j] = [4 * ((y + dy) * a.width + x + dx), 4 * (y * b.width + x)];
      const [p, q] = [a.data[i]! + a.data[i + 1]! + a.data[i + 2]!, b.data[j]! + b.data[j + 1]! + b.data[j + 2]!];
      if (p < 750) inked++;
      if (Math.abs(p - q) > 382) differs++;
    }
  return { inked, differs };
}
