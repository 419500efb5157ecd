import type { Drawing } from '../../drawing/drawing.js';
import type { ReadWork } from '../format.js';
import { openPdf } from './engine.js';
import { PageReader } from './read-page.js';

/** Reads pages one after the other, each as a drawing of its own, for as long as they are wanted. Throws as `openPdf` does. */
export async function eachPage(
  bytes: Uint8Array,
  from: number,
  wanted: (page: Drawing) => boolean | Promise<boolean>,
  work?: ReadWork,
): Promise<void> {
  const opened = await openPdf(bytes, work);
  try {
    for (let n = from; n <= opened.pages; n++) {
      const reader = new PageReader(opened, { letters: 'text', pens: 'paper' }, work);
      reader.add(await opened.page(n));
      if (!(await wanted(reader.finish().drawing))) return;
    }
  } finally {
    await opened.close();
  }
}
