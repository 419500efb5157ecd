import { defineCheck } from './check.js';
import { countWords } from './words.js';

/** Finds drawings whose model space is empty while something lies on their sheets. */
export const paperOnly = defineCheck({
  id: 'paper-only',
  title: 'Model space is empty',
  summary:
    'Deliveries are of model space. What was drawn straight onto a sheet is at the sheet’s scale, and would be left out.',
  carries: ['scale', 'links'],
  params: {},
  run(drawing) {
    const onSheets = drawing.entities.filter((e) => e.sheet !== undefined && e.kind !== 'viewport');
    const model = drawing.entities.length - drawing.entities.filter((e) => e.sheet !== undefined).length;
    if (model > 0 || onSheets.length === 0) return [];
    const names = [...new Set(onSheets.map((e) => e.sheet!))];
    return [
      {
        check: 'paper-only',
        severity: 'error',
        message: `Model space is empty; ${countWords(onSheets.length, 'object')} ${onSheets.length === 1 ? 'lies' : 'lie'} on ${names.slice(0, 4).join(', ')}`,
        at: null,
        size: null,
        layer: null,
        ids: onSheets.slice(0, 1000).map((e) => e.id),
      },
    ];
  },
});
