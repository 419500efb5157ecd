import { powerOfTen, tensOf } from '../geometry/power-of-ten.js';
import type { Finding } from '../checks/check.js';
import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import type { EntityKind } from '../drawing/entity.js';
import { kindName } from '../drawing/kinds.js';
import type { CarryOverState } from '../drawing/state-shape.js';
import { STATE_WORDS, stateShape } from '../drawing/state-shape.js';
import { previewScale, previewSvg } from '../scene/preview.js';
import type { Inventory } from './inventory.js';

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!);

const STYLE = `
:root{--paper:#f4efe4;--sheet:#fbf8f1;--ink:#1d2530;--rule:#cfc5b0;--quiet:#5d594e;--alarm:#97351b}
body{font:15px/1.45 'Spline Sans',sans-serif;color:var(--ink);background:var(--paper);margin:0 auto;max-width:54rem;padding:1.5rem 1.5rem 4rem}
header{display:flex;align-items:center;gap:.5rem;border-bottom:1px solid var(--ink);padding-bottom:.6rem;font-weight:700}
h1{font-size:1.5rem;margin:1.25rem 0 .25rem;overflow-wrap:anywhere}h2{font-size:1.1rem;margin:2rem 0 .4rem;border-bottom:1px solid var(--ink)}
table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:.25rem .75rem .25rem 0;border-bottom:1px solid var(--rule);vertical-align:top;overflow-wrap:anywhere}
th{font-weight:400;font-size:.85em;color:var(--quiet)}td.n,th.n{text-align:right}
.num,td.n{font-family:'Spline Sans Mono',monospace;font-variant-numeric:tabular-nums;font-size:.93em}
.quiet{color:var(--quiet)}.alarm{color:var(--alarm)}
.strip{display:grid;grid-template-columns:repeat(4,1fr);margin:1rem 0;padding:0;list-style:none;border:solid var(--rule);border-width:1px 0 0 1px}
.strip li{border:solid var(--rule);border-width:0 1px 1px 0;padding:.35rem .6rem}.strip b{font-weight:500;text-transform:capitalize;display:block}
figure{margin:1rem 0;border:1px solid var(--rule);background:var(--sheet);padding:.5rem}figure>div{width:min(100%,46rem);margin:auto}figure>div>svg{width:100%;height:auto;display:block}
.swatch{display:inline-block;width:1em;height:1em;border:1px solid var(--ink);vertical-align:-.1em;margin-right:.5em}
@media print{body{background:none;padding:0}h2{break-after:avoid}tr{break-inside:avoid}}`;

const MARK =
  '<svg width="26" height="18" viewBox="0 0 26 18" aria-hidden="true"><g fill="none" stroke="currentColor" stroke-width="1.3"><rect x=".7" y="2" width="24.6" height="5"/><rect x=".7" y="11" width="24.6" height="5"/></g><g fill="currentColor"><rect x="1" y="2" width="6" height="5"/><rect x="13" y="2" width="6" height="5"/><rect x="7" y="11" width="6" height="5"/><rect x="19" y="11" width="6" height="5"/></g></svg>';

const SEVERITY = { error: '▲ fix', warning: '◆ look at', note: '○ for information' };
const MOST_ROWS = 500;
/** The picture, in its own units. */
const WIDTH = 640;
const HEIGHT = 360;

/** What a report is about: names and the words that only the application has. */
export interface ReportInput {
  /** The file's name, and what it is, such as `DWG 2004`. */
  name: string;
  format: string;
  findings: readonly Finding[];
  /** What was set aside, with the word why. */
  aside?: readonly (Finding & { why: string })[];
  /** What the drawing is made ready for, in words. */
  purpose?: string;
  /** The states of the carry-overs. */
  strip?: readonly { carryOver: string; state: CarryOverState }[];
  /** Title and reason of each check, by its id. */
  checks: ReadonlyMap<string, { title: string; summary: string }>;
  inventory: Inventory;
  /** Fonts to be held in the page, as `data:` addresses, so that it looks the same wherever it is read. */
  fonts?: readonly { family: string; weight: number; address: string }[];
}

const number = (v: number): string => String(Number(v.toPrecision(7)));

/**
 * What was found in a drawing as one HTML page to send back to whoever made it: no scripts, no links, nothing that is
 * fetched. `drawing` is upright (y upwards).
 */
export function findingsReport(drawing: Drawing, r: ReportInput): string {
  const unit = drawing.unit ? drawing.unit.unit : 'units';
  const box = boundsOf(drawing);
  const size = box.empty ? 'nothing drawn' : `${number(box.width)} × ${number(box.height)} ${unit}`;
  const { kinds } = r.inventory;
  const holds = kinds.map((k) => `${k.count} ${kindName(k.kind as EntityKind, k.count)}`).join(', ');
  const faces = (r.fonts ?? [])
    .map((f) => `@font-face{font-family:'${f.family}';font-weight:${f.weight};src:url(${f.address}) format('woff2')}`)
    .join('');
  const body = [
    `<header>${MARK}Scalaria</header><h1>${escaped(r.name)}</h1>`,
    `<p class="quiet num">${escaped(r.format)} · ${size}${r.purpose ? ` · made ready for: ${escaped(r.purpose.toLowerCase())}` : ''}<br>${escaped(holds)}</p>`,
    r.strip ? stripList(r.strip) : '',
    `<figure><div>${previewSvg(drawing, WIDTH, HEIGHT)}${scaleBar(box, unit)}</div></figure>`,
    ...findingTables(r, unit),
    asideTable(r, unit),
    inventoryTables(r.inventory, unit),
  ];
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Findings: ${escaped(r.name)}</title><style>${faces}${STYLE}</style></head><body>${body.join('\n')}</body></html>`;
}

function stripList(strip: NonNullable<ReportInput['strip']>): string {
  const item = ({ carryOver, state }: (typeof strip)[number]): string => {
    const { path, fill } = stateShape(state, 44, 9);
    const alarm = state === 'atRisk' || state === 'lost';
    const paint =
      fill === 'full'
        ? 'fill="currentColor"'
        : `fill="${fill === 'hatched' ? '#97351b55' : 'none'}" stroke="currentColor"`;
    return `<li${alarm ? ' class="alarm"' : ''}><b>${escaped(carryOver)}</b><svg width="44" height="9" viewBox="0 0 44 9" aria-hidden="true"><path d="${path}" ${paint}/></svg> ${STATE_WORDS[state]}</li>`;
  };
  return `<ul class="strip">${strip.map(item).join('')}</ul>`;
}

/** A scale bar as long as its length is in the picture above it, which is as wide as what holds both. */
function scaleBar(box: { empty: boolean; width: number; height: number }, unit: string): string {
  if (box.empty || !(Math.max(box.width, box.height) > 0)) return '';
  const across = WIDTH / previewScale(box, WIDTH, HEIGHT);
  const most = across * 0.3;
  const power = powerOfTen(tensOf(most));
  const length = [5, 2, 1].map((k) => k * power).find((l) => l <= most) ?? power;
  const part = (length / across) * 100;
  const segments = [0, 1, 2, 3]
    .map((i) => `<rect x="${i * 25}" width="25" height="6" fill="${i % 2 ? '#fbf8f1' : '#1d2530'}" stroke="#1d2530"/>`)
    .join('');
  return `<div class="bar" style="width:${part.toFixed(2)}%"><div class="num" style="display:flex;justify-content:space-between"><span>0</span><span>${number(length)} ${unit}</span></div><svg viewBox="0 0 100 6" preserveAspectRatio="none" style="width:100%;height:7px;display:block" aria-hidden="true">${segments}</svg></div>`;
}

function findingTables(r: ReportInput, unit: string): string[] {
  const byCheck = new Map<string, Finding[]>();
  for (const f of r.findings) byCheck.set(f.check, [...(byCheck.get(f.check) ?? []), f]);
  if (byCheck.size === 0) return ['<h2>Findings</h2><p>None.</p>'];
  return [...byCheck].map(([id, list]) => {
    const check = r.checks.get(id);
    const rows = list
      .slice(0, MOST_ROWS)
      .map(
        (f) =>
          `<tr><td>${escaped(f.message)}</td><td>${escaped(f.layer ?? '')}</td><td class="n">${place(f, unit)}</td><td${f.severity === 'note' ? '' : ' class="alarm"'}>${SEVERITY[f.severity]}</td></tr>`,
      );
    const rest =
      list.length > MOST_ROWS ? `<p class="quiet">The first ${MOST_ROWS} of ${list.length} are listed.</p>` : '';
    return `<h2>${escaped(check?.title ?? id)} <span class="quiet num">${list.length}</span></h2><p class="quiet">${escaped(check?.summary ?? '')}</p><table><tr><th>What</th><th>Layer</th><th class="n">At</th><th></th></tr>${rows.join('\n')}</table>${rest}`;
  });
}

const place = (f: Finding, unit: string): string => (f.at ? `${number(f.at.x)}, ${number(f.at.y)} ${unit}` : '');

function asideTable(r: ReportInput, unit: string): string {
  const list = r.aside ?? [];
  if (list.length === 0) return '';
  const rows = list
    .slice(0, MOST_ROWS)
    .map(
      (f) => `<tr><td>${escaped(f.message)}</td><td>${escaped(f.why)}</td><td class="n">${place(f, unit)}</td></tr>`,
    );
  return `<h2>Set aside <span class="quiet num">${list.length}</span></h2><table><tr><th>What</th><th>Why</th><th class="n">At</th></tr>${rows.join('\n')}</table>`;
}

function inventoryTables({ swatches, layers }: Inventory, unit: string): string {
  const colours = swatches.map(
    (s) =>
      `<tr><td class="num"><span class="swatch" style="background:${s.hex}"></span>${s.hex}</td><td class="num">${s.exact ? '' : 'nearest '}${s.index}</td><td class="n">${s.lines}</td><td class="n">${s.areas}</td><td class="n">${s.texts}</td></tr>`,
  );
  const lying = layers.map(
    (l) =>
      `<tr><td>${escaped(l.name)}</td><td class="n">${l.entities}</td><td class="n">${l.nodes}</td><td class="n">${number(l.length)} ${unit}</td></tr>`,
  );
  return `<h2>Colours</h2><table><tr><th>Colour</th><th>Index</th><th class="n">Lines</th><th class="n">Areas</th><th class="n">Texts</th></tr>${colours.join('\n')}</table>
<h2>Layers</h2><table><tr><th>Layer</th><th class="n">Objects</th><th class="n">Points</th><th class="n">Length</th></tr>${lying.join('\n')}</table>`;
}
