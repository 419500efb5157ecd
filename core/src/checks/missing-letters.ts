import { fontUses } from '../text/font-uses.js';
import type { Finding } from './check.js';
import { defineCheck } from './check.js';
import { countWords } from './words.js';

/** A line that runs wider or narrower by less than this part is not noticed. */
const UNNOTICED = 0.005;

/** Finds fonts that are missing, and characters that no available font has. */
export const missingLetters = defineCheck({
  id: 'missing-letters',
  title: 'Fonts and characters',
  summary: 'A missing font is replaced by another: lines run longer or shorter. A character that no font has is lost.',
  carries: ['text'],
  params: {},
  run(drawing, _params, work) {
    if (!work?.fonts) return [];
    const found: Finding[] = [];
    for (const use of fontUses(drawing, work.fonts)) {
      const base = { check: this.id, at: use.at, size: null, layer: use.layers[0] ?? null, ids: [] };
      for (const m of use.missing) {
        const code = m.char.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0');
        found.push({
          ...base,
          severity: 'error',
          at: m.at,
          message: `No available font has “${m.char}” (U+${code}), ${countWords(m.count, 'time')} ${use.asked === '' ? 'where no font is named' : `in “${use.asked}”`}`,
        });
      }
      if (use.how === 'own' || use.how === 'chart' || use.how === 'unnamed') continue;
      const wider =
        use.wider !== null && Math.abs(use.wider) > UNNOTICED
          ? `; lines run ${Math.abs(Math.round(use.wider * 1000) / 10)} % ${use.wider > 0 ? 'wider' : 'narrower'}`
          : '';
      found.push({
        ...base,
        // Where lines keep their length nothing is lost but the shape of the letters.
        severity: use.wider !== null && Math.abs(use.wider) <= UNNOTICED ? 'note' : 'warning',
        message: `“${use.asked}” is missing (${countWords(use.texts, 'text')}): ${use.family} replaces it${wider}`,
      });
    }
    return found;
  },
});
