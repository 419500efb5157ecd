import type { Finding } from '../checks/check.js';
import { boundsOf } from '../drawing/bounds.js';
import type { Drawing } from '../drawing/drawing.js';
import type { EntityKind } from '../drawing/entity.js';
import { kindName } from '../drawing/kinds.js';
import type { CarryOverState } from '../drawing/state-shape.js';
import type { PageFont } from '../pages/frame.js';
import { escaped, figure as number, pageOf, scaleBar, stripList, tableOf, swatch } from '../pages/frame.js';
import { previewSvg } from '../scene/preview.js';
import type { Inventory } from './inventory.js';

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
  fonts?: readonly PageFont[];
}

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
  const body = [
    `<h1>${escaped(r.name)}</h1>`,
    `<p class="quiet num">${escaped(r.format)} · ${size}${r.purpose ? ` · made ready for: ${escaped(r.purpose.toLowerCase())}` : ''}<br>${escaped(holds)}</p>`,
    r.strip ? stripList(r.strip) : '',
    `<figure><div>${previewSvg(drawing, WIDTH, HEIGHT)}${scaleBar(box, unit, [WIDTH, HEIGHT])}</div></figure>`,
    ...findingTables(r, unit),
    asideTable(r, unit),
    inventoryTables(r.inventory, unit),
  ];
  return pageOf(`Findings: ${r.name}`, body, r.fonts);
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
  const rows = list.slice(0, MOST_ROWS).map((f) => [escaped(f.message), escaped(f.why), place(f, unit)]);
  return `<h2>Set aside <span class="quiet num">${list.length}</span></h2>${tableOf(['What', 'Why', 'At#'], rows)}`;
}

function inventoryTables({ swatches, layers }: Inventory, unit: string): string {
  const colours = swatches.map((s) => [
    `<span class="num">${swatch(s.hex)}</span>`,
    `<span class="num">${s.exact ? '' : 'nearest '}${s.index}</span>`,
    ...[s.lines, s.areas, s.texts].map(String),
  ]);
  const lying = layers.map((l) => [
    escaped(l.name),
    ...[l.entities, l.nodes].map(String),
    `${number(l.length)} ${unit}`,
  ]);
  return `<h2>Colours</h2>${tableOf(['Colour', 'Index', 'Lines#', 'Areas#', 'Texts#'], colours)}
<h2>Layers</h2>${tableOf(['Layer', 'Objects#', 'Points#', 'Length#'], lying)}`;
}
