import type { Finding } from '../checks/check.js';
import type { Drawing } from '../drawing/drawing.js';
import { boundsOf } from '../drawing/bounds.js';
import { previewSvg } from '../scene/preview.js';
import type { Inventory } from './inventory.js';

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!);

const STYLE = `
body{font:15px/1.45 system-ui,sans-serif;color:#1d2530;background:#fbf8f2;margin:2.5rem auto;max-width:52rem;padding:0 1.5rem}
h1{font-size:1.5rem;margin:0 0 .25rem}h2{font-size:1.1rem;margin:2rem 0 .5rem;border-bottom:1px solid #1d2530}
table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:.25rem .75rem .25rem 0;border-bottom:1px solid #ddd5c6;vertical-align:top}
td.n,th.n{text-align:right;font-variant-numeric:tabular-nums}.quiet{color:#5f5a50}
.swatch{display:inline-block;width:1em;height:1em;border:1px solid #1d2530;vertical-align:-.1em;margin-right:.5em}
svg{max-width:100%;border:1px solid #ddd5c6;background:#fff}@media print{body{background:none;margin:0}}`;

const SEVERITY = { error: 'to be mended', warning: 'look at it', note: 'to know' };

/** What a report is about: names and the words that only the application has. */
export interface ReportInput {
  /** The file's name, and what it is, such as `DWG 2004`. */
  name: string;
  format: string;
  findings: readonly Finding[];
  /** Title and reason of each check, by its id. */
  checks: ReadonlyMap<string, { title: string; summary: string }>;
  inventory: Inventory;
}

/**
 * What was found in a drawing as one HTML page to send back to whoever made it: no scripts, no links, nothing that is
 * fetched. `drawing` is upright (y upwards).
 */
export function findingsReport(drawing: Drawing, r: ReportInput): string {
  const number = (v: number): string => String(Number(v.toPrecision(7)));
  const unit = drawing.unit ? ` ${drawing.unit.unit}` : '';
  const box = boundsOf(drawing);
  const size = box.empty ? 'nothing drawn' : `${number(box.width)} × ${number(box.height)}${unit}`;
  const out: string[] = [];
  const byCheck = new Map<string, Finding[]>();
  for (const f of r.findings) byCheck.set(f.check, [...(byCheck.get(f.check) ?? []), f]);
  for (const [id, list] of byCheck) {
    const check = r.checks.get(id);
    out.push(`<h2>${escaped(check?.title ?? id)} <span class="quiet">(${list.length})</span></h2>`);
    out.push(
      `<p class="quiet">${escaped(check?.summary ?? '')}</p><table><tr><th>What</th><th>Layer</th><th class="n">At</th><th></th></tr>`,
    );
    for (const f of list.slice(0, 500))
      out.push(
        `<tr><td>${escaped(f.message)}</td><td>${escaped(f.layer ?? '')}</td><td class="n">${f.at ? `${number(f.at.x)}, ${number(f.at.y)}` : ''}</td><td>${SEVERITY[f.severity]}</td></tr>`,
      );
    out.push('</table>');
    if (list.length > 500) out.push(`<p class="quiet">The first 500 of ${list.length} are listed.</p>`);
  }
  if (byCheck.size === 0) out.push('<h2>Findings</h2><p>None.</p>');
  const { swatches, layers, kinds } = r.inventory;
  out.push(
    '<h2>Colours</h2><table><tr><th>Colour</th><th>Index</th><th class="n">Lines</th><th class="n">Areas</th><th class="n">Texts</th></tr>',
  );
  for (const s of swatches)
    out.push(
      `<tr><td><span class="swatch" style="background:${s.hex}"></span>${s.hex}</td><td>${s.exact ? '' : 'nearest '}${s.index}</td><td class="n">${s.lines}</td><td class="n">${s.areas}</td><td class="n">${s.texts}</td></tr>`,
    );
  out.push(
    `</table><h2>Layers</h2><table><tr><th>Layer</th><th class="n">Objects</th><th class="n">Points</th><th class="n">Length${unit}</th></tr>`,
  );
  for (const l of layers)
    out.push(
      `<tr><td>${escaped(l.name)}</td><td class="n">${l.entities}</td><td class="n">${l.nodes}</td><td class="n">${number(l.length)}</td></tr>`,
    );
  out.push('</table>');
  const holds = kinds.map((k) => `${k.count} ${k.kind}`).join(', ');
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Findings: ${escaped(r.name)}</title><style>${STYLE}</style></head><body><h1>${escaped(r.name)}</h1><p class="quiet">${escaped(r.format)} · ${size} · ${escaped(holds)}</p>${previewSvg(drawing, 640, 360)}${out.join('\n')}</body></html>`;
}
