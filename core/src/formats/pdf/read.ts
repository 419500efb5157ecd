import type { ReadWork, Reading } from '../format.js';
import { ALL_PAGES, UnreadableFile } from '../format.js';
import { openPdf } from './engine.js';
import { PageReader } from './read-page.js';

/** Whether bytes are a PDF: its mark stands within the first kilobyte (ISO 32000-2, 7.5.2 and annex I). */
export const isPdf = (bytes: Uint8Array): boolean =>
  new TextDecoder('latin1').decode(bytes.subarray(0, 1024)).includes('%PDF-');

/**
 * Reads a page of a PDF as a drawing: the one that is asked for, else the first; or all of them, side by side. Throws `UnreadableFile` where the file is locked or damaged,
 * or has no such page; `Stopped` when it was stopped.
 */
export async function readPdf(bytes: Uint8Array, work?: ReadWork): Promise<Reading> {
  const opened = await openPdf(bytes, work);
  try {
    const number = work?.page ?? 1;
    if (number > opened.pages)
      throw new UnreadableFile(
        `There is no page ${number}`,
        'the PDF',
        opened.pages === 1 ? 'It has one page: choose that.' : `Choose one of its ${opened.pages} pages.`,
      );
    const reader = new PageReader(opened, { letters: work?.letters ?? 'text', pens: work?.pens ?? 'paper' }, work);
    const [first, last] = number === ALL_PAGES ? [1, opened.pages] : [number, number];
    for (let n = first; n <= last; n++) reader.add(await opened.page(n));
    return reader.finish();
  } finally {
    await opened.close();
  }
}
