import { defineCheck } from './check.js';
import { countWords } from './words.js';

/** Finds drawings that are nothing but pictures, such as the page of a PDF that was scanned. */
export const onlyPictures = defineCheck({
  id: 'only-pictures',
  title: 'Nothing but a picture',
  summary: 'A scan holds no lines: nothing of it can be measured, cut or changed until it is traced.',
  carries: ['curves'],
  params: {},
  mend: { step: 'trace-pictures', words: 'Trace it', params: () => ({}) },
  run(drawing) {
    const model = drawing.entities.filter((e) => e.sheet === undefined);
    const held = model.filter((e) => e.kind === 'image' && !e.cover && e.data !== undefined);
    if (held.length === 0 || held.length < model.length) return [];
    return [
      {
        check: 'only-pictures',
        severity: 'warning',
        message: `The drawing is ${countWords(held.length, 'picture')} and nothing else`,
        at: null,
        size: null,
        layer: null,
        ids: held.slice(0, 1000).map((e) => e.id),
      },
    ];
  },
});
