import type { Finding } from './check.js';
import { defineCheck } from './check.js';

/** Finds what the reader had to put up with: a file that breaks off, or says what makes no sense. */
export const damagedFile = defineCheck({
  id: 'damaged-file',
  title: 'Damage in the file',
  summary: 'What followed the break in the file is unknown: ask for the file again before anything else.',
  carries: ['curves', 'layers', 'text', 'links'],
  params: {},
  run(drawing) {
    const found = drawing.notes
      .filter((n) => n.severity === 'warning')
      .sort((a, b) => Number(b.endsHere ?? false) - Number(a.endsHere ?? false))
      .map((n): Finding => {
        const times = n.count > 1 ? ` (${n.count} times)` : '';
        const message = `${n.text[0]!.toUpperCase()}${n.text.slice(1)}${times}${n.where ? `: ${n.where}` : ''}`;
        const severity = n.endsHere === true ? 'error' : 'note';
        return { check: 'damaged-file', severity, message, at: null, size: null, layer: null, ids: [] };
      });
    const empty = drawing.entities.length === 0;
    if (!empty) return found;
    const message = 'Nothing is drawn here: a file written from it is empty';
    return [
      ...found,
      { check: 'damaged-file', severity: 'error', message, at: null, size: null, layer: null, ids: [] },
    ];
  },
});
