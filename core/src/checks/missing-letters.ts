import { fontUses } from '../text/font-uses.js';
import type { Finding } from './check.js';
import { defineCheck } from './check.js';
import { countWords } from './words.js';

/** Finds fonts that are not at hand, and characters that no font here has. */
export const missingLetters = defineCheck({
  id: 'missing-letters',
  title: 'Fonts and characters',
  summary:
    'A font that is not at hand is stood in for: lines come out longer or shorter. A character that no font has is lost.',
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
          message: `No font here has “${m.char}” (U+${code}), ${countWords(m.count, 'time')} in “${use.asked}”`,
        });
      }
      if (use.how === 'own' || use.how === 'chart') continue;
      const wider =
        use.wider !== null && Math.abs(use.wider) > 0.005
          ? `; lines come out ${Math.abs(Math.round(use.wider * 1000) / 10)} % ${use.wider > 0 ? 'wider' : 'narrower'}`
          : '';
      found.push({
        ...base,
        severity: 'warning',
        message: `“${use.asked}” is not at hand (${countWords(use.texts, 'text')}): ${use.family} stands in${wider}`,
      });
    }
    return found;
  },
});
