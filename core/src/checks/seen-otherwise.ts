import type { Finding } from './check.js';
import { defineCheck } from './check.js';

export const SEEN_OTHERWISE = 'seen-otherwise';

/** Finds where a file, drawn by a renderer that is not ours, looks otherwise than what was read of it. */
export const seenOtherwise = defineCheck({
  id: SEEN_OTHERWISE,
  title: 'Seen otherwise than the file',
  summary:
    'What was read does not look like the file here. Look at both before you go on: something was not understood.',
  carries: ['colour'],
  params: {},
  run(drawing, _params, work) {
    const seen = work?.seen;
    if (!seen || seen.same === true) return [];
    const finding = { check: SEEN_OTHERWISE, layer: null, ids: [] };
    if (seen.same === null) {
      const message = `Could not be compared with the file by eye: ${seen.why ?? ''}`;
      return [{ ...finding, severity: 'note', message, at: null, size: null }];
    }
    const { page } = drawing;
    return seen.places.map((p): Finding => {
      const [width, height] = [p.width * (page?.width ?? 0), p.height * (page?.height ?? 0)];
      const at = page && {
        x: page.x + p.x * page.width + width / 2,
        y: page.y + p.y * page.height + height / 2,
      };
      const message = 'The file looks otherwise here than what was read of it';
      return { ...finding, severity: 'warning', message, at, size: page && Math.max(width, height) };
    });
  },
});
