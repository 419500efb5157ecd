import type { CarryOver, LedgerRow } from '../drawing/ledger.js';
import { CARRY_OVERS } from '../drawing/ledger.js';
import type { CarryOverState } from '../drawing/state-shape.js';
import { STATE_WORDS } from '../drawing/state-shape.js';
import type { PageFont } from '../pages/frame.js';
import { escaped, figure, pageOf, scaleBar, stripList, swatch, tableOf } from '../pages/frame.js';
import type { Proof, ProofItem } from '../proof/prove.js';
import { verdictOf } from '../proof/verdict.js';
import { inOtherUnit, scaleSeen, sharpest, yardstickUnit } from '../yardsticks/yardstick.js';
import type { FileRecord, PlacePicture } from './file-record.js';
import { WHOLE } from './file-record.js';

/** A file as a report tells of it. */
export interface ReportFile {
  readonly name: string;
  readonly bytes: number;
  readonly sha256: string;
  /** Such as `DXF 2010`. */
  readonly format: string;
  readonly source: { readonly name: string; readonly revision: number | null; readonly sha256: string };
  readonly proof: Proof;
  readonly ledger: readonly LedgerRow[];
  readonly record: FileRecord;
}

/** What a report is about: one file or a whole set. */
export interface ReportOf {
  readonly title: string;
  readonly job: string;
  readonly receiver: string;
  /** `YYYY-MM-DD`. */
  readonly date: string;
  readonly recipe: { readonly title: string; readonly note: string } | null;
  readonly files: readonly ReportFile[];
  readonly failed: readonly { readonly source: string; readonly why: string }[];
  readonly leftOut: readonly { readonly source: string; readonly what: string; readonly why: string }[];
  /** Findings that a person let through, with the word why. */
  readonly waived: readonly { readonly source: string; readonly what: string; readonly why: string }[];
  readonly fonts?: readonly PageFont[];
}

/** So many rows of a ledger, texts and pictures stand in a report; of more, totals and the worst. */
const MOST_ROWS = 100;
const MOST_PICTURES = 80;

const WEIGHT: Readonly<Record<CarryOverState, number>> = { lost: 0, atRisk: 1, undecided: 2, changed: 3, kept: 4 };
const worse = (a: CarryOverState, b: CarryOverState): CarryOverState => (WEIGHT[a] <= WEIGHT[b] ? a : b);

/** The state of each carry-over by the rows of a proof, the worst counting. */
export const statesOf = (items: readonly ProofItem[]): { carryOver: CarryOver; state: CarryOverState }[] =>
  CARRY_OVERS.map((carryOver) => ({
    carryOver,
    state: items
      .filter((i) => i.carryOver === carryOver)
      .reduce<CarryOverState>((worst, i) => worse(worst, i.state), 'kept'),
  }));

/**
 * The report of a delivery as one page for people who do not have the application: what each file is, whether its proof holds, and all
 * that it rests on. Bounded in size however many files there are.
 */
export function proofPage(r: ReportOf): string {
  const held = r.files.filter((f) => f.proof.holds).length;
  const all = r.files.length;
  const files = r.files.length === 1 ? '1 file' : `${all} files`;
  const proofs =
    held === all
      ? all === 1
        ? 'the proof holds'
        : 'all proofs hold'
      : `${held === 1 ? '1 proof holds' : `${held} proofs hold`}, ${all - held} ${all - held === 1 ? 'does' : 'do'} not`;
  const sum = `${files}: ${proofs}${r.failed.length > 0 ? `; ${r.failed.length} could not be written` : ''}.`;
  let pictures = MOST_PICTURES;
  /** Files that do not hold are shown first when there are more than can be. */
  const shown = new Set(
    [...r.files]
      .sort((a, b) => Number(a.proof.holds) - Number(b.proof.holds))
      .filter((f) => (pictures -= 1 + f.record.places.length) >= 0),
  );
  return pageOf(
    r.title,
    [
      `<h1>${escaped(r.title)}</h1>`,
      `<p class="quiet">${[r.job && `Job: ${escaped(r.job)}`, r.receiver && `For: ${escaped(r.receiver)}`, escaped(r.date)].filter(Boolean).join(' · ')}</p>`,
      `<p class="verdict${held === all && r.failed.length === 0 ? '' : ' alarm'}">${sum}</p>`,
      r.recipe ? `<p>Made by the recipe “${escaped(r.recipe.title)}”. ${escaped(r.recipe.note)}</p>` : '',
      contents(r),
      told(
        'Could not be written',
        r.failed.map((f) => [escaped(f.source), escaped(f.why)]),
        ['Drawing', 'Why'],
      ),
      told(
        'Left out',
        r.leftOut.map((l) => [escaped(l.source), escaped(l.what), escaped(l.why)]),
        ['Drawing', 'What', 'Why'],
      ),
      told(
        'Let through',
        r.waived.map((w) => [escaped(w.source), escaped(w.what), escaped(w.why)]),
        ['Drawing', 'What', 'Why'],
      ),
      ...r.files.map((f, i) => fileSection(f, i, shown.has(f))),
      HOW_MEASURED,
    ],
    r.fonts,
  );
}

const HOW_MEASURED = `<section><h2>How it was measured</h2><p>Each file was read back from its bytes as a receiver would read it, and held against the drawing that was handed to the writer; that drawing was held against its source, operation by operation. Curves were measured against each other both ways, not point by point. From drafting to drafting every object is found again and every one of its values compared. Where a drawing program that shares nothing with this one could draw both, the two pictures were compared as well. A difference is “changed on purpose” only where a row of the ledger accounts for that very thing; any other is at risk, and the proof does not hold.</p></section>`;

const bytesIn = (n: number): string =>
  n < 10_000
    ? `${n} bytes`
    : n < 1e7
      ? `${figure(Math.round(n / 100) / 10)} kB`
      : `${figure(Math.round(n / 1e5) / 10)} MB`;

function contents({ files }: ReportOf): string {
  const rows = files.map((f, i) => [
    `<a href="#file-${i + 1}">${escaped(f.name)}</a>`,
    f.proof.holds ? 'holds' : '<span class="alarm">does not hold</span>',
    statesOf(f.proof.items)
      .filter((s) => s.state !== 'kept')
      .map((s) => `${s.carryOver}: ${STATE_WORDS[s.state]}`)
      .join(', ') || 'all kept',
    bytesIn(f.bytes),
  ]);
  return rows.length > 0 ? `<h2>Files</h2>${tableOf(['File', 'Proof', 'Carry-overs', 'Size#'], rows)}` : '';
}

const told = (title: string, rows: readonly (readonly string[])[], head: readonly string[]): string =>
  rows.length === 0
    ? ''
    : `<h2>${title} <span class="quiet num">${rows.length}</span></h2>${tableOf(head, rows.slice(0, 500))}${rows.length > 500 ? `<p class="quiet">The first 500 of ${rows.length} are listed.</p>` : ''}`;

function fileSection(f: ReportFile, index: number, withPictures: boolean): string {
  const { record: r, proof } = f;
  const { facts, whole } = r;
  const unit = facts.unit;
  const revision = f.source.revision === null ? '' : `, revision ${f.source.revision}`;
  return [
    `<section id="file-${index + 1}"><h1>${escaped(f.name)}</h1>`,
    `<p class="quiet num">${escaped(f.format)} · ${bytesIn(f.bytes)} · SHA-256 ${f.sha256}<br>from ${escaped(f.source.name)}${revision} · SHA-256 ${f.source.sha256}<br>${figure(facts.width)} × ${figure(facts.height)} ${unit}, lower left corner at ${figure(facts.x)}, ${figure(facts.y)}</p>`,
    `<p class="verdict${proof.holds ? '' : ' alarm'}">${escaped(verdictOf(proof))}</p>`,
    stripList(statesOf(proof.items)),
    withPictures
      ? `<figure><div>${whole.svg}${scaleBar({ empty: facts.width + facts.height === 0, width: facts.width, height: facts.height }, unit, WHOLE)}</div><figcaption class="quiet">What was prepared; over it broken lines where only that has them, and heavy ones where only the file has.</figcaption></figure>`
      : '<p class="quiet">No pictures of this file: others needed them more.</p>',
    withPictures && r.places.length > 0
      ? `<h2>Places</h2><div class="places">${r.places.map((p) => placeFigure(p, unit)).join('')}</div>`
      : '',
    yardstickTable(r),
    `<h2>Proof</h2>${tableOf(
      ['What', 'Prepared', 'File', 'State', 'Why'],
      proof.items.map((i) => [
        escaped(i.title),
        escaped(i.expected),
        escaped(i.found),
        i.state === 'atRisk' || i.state === 'lost'
          ? `<span class="alarm">${STATE_WORDS[i.state]}</span>`
          : STATE_WORDS[i.state],
        escaped(i.explanation),
      ]),
    )}`,
    countTable('Layers', r.layers, 'Layer'),
    swatchTable(r),
    countTable(
      'Kinds of objects',
      [...r.kinds, { name: 'ends and corners', ...r.points }, { name: 'placed blocks', ...r.blocks }],
      'Kind',
    ),
    textTable(r),
    ledgerTable(f.ledger),
    r.needs.length > 0 || !proof.holds || unit === 'units'
      ? `<h2>What is left to the receiver</h2><ul>${[
          ...(proof.holds ? [] : ['Not to use this file before the rows at risk are settled.']),
          ...(unit === 'units' ? ['To set the unit by hand: the file states none.'] : []),
          ...r.needs.map((n) => `To have ${n}.`),
        ]
          .map((n) => `<li>${escaped(n)}</li>`)
          .join('')}</ul>`
      : '',
    `<p class="quiet">Chords stood no further than ${figure(r.bounds.chords)} ${unit} from their curves; places no further apart than ${figure(r.bounds.same)} ${unit} count as one.</p></section>`,
  ].join('\n');
}

const placeFigure = (p: PlacePicture, unit: string): string =>
  `<figure><div>${p.svg}</div><figcaption>${escaped(p.title)}<br><span class="quiet num">at ${figure(p.x)}, ${figure(p.y)}; ${figure(Number(p.across.toPrecision(2)))} ${escaped(unit)} across</span></figcaption></figure>`;

function yardstickTable({ yardsticks }: FileRecord): string {
  if (yardsticks.length === 0) return '';
  const best = sharpest(yardsticks.map((y) => y.yardstick));
  const rows = yardsticks.map(({ yardstick: y, held }) => {
    const unit = yardstickUnit(y);
    const said = (v: number | string): string => {
      if (typeof v === 'string') return swatch(v);
      const other = inOtherUnit(v, y);
      return `${figure(v)} ${unit}${other ? ` <span class="quiet">(${figure(other.value)} ${other.unit}${y.what === 'area' ? '²' : ''})</span>` : ''}`;
    };
    const sees = scaleSeen(y);
    return [
      escaped(y.title) + (y === best && yardsticks.length > 1 ? ' <span class="quiet">the sharpest</span>' : ''),
      said(y.expected) + (typeof y.expected === 'number' ? ` ± ${figure(y.tolerance)}` : ''),
      held.measured === null ? escaped(held.why) : said(held.measured),
      held.state === 'fails' ? '<span class="alarm">fails</span>' : held.state,
      sees === null ? '' : `${figure(Number((sees * 1000).toPrecision(2)))} ‰`,
      escaped(y.source),
    ];
  });
  return `<h2>Yardsticks</h2>${tableOf(['What', 'Known', 'In the file', 'State', 'Smallest scale error seen#', 'Known from'], rows)}`;
}

function countTable(title: string, list: FileRecord['kinds'], what: string): string {
  const rows = list
    .slice(0, 300)
    .map((k) => [escaped(k.name), String(k.prepared), k.read === k.prepared ? String(k.read) : `<b>${k.read}</b>`]);
  return `<h2>${title} <span class="quiet num">${list.length}</span></h2>${tableOf([what, 'Prepared#', 'File#'], rows)}`;
}

function swatchTable({ swatches }: FileRecord): string {
  if (swatches.length === 0) return '';
  const equal = swatches.filter((s) => s.read === s.hex).length;
  const rows = swatches
    .slice(0, 300)
    .map((s) => [
      `<span class="num">${swatch(s.hex)}</span>`,
      s.read === null ? '' : `<span class="num">${swatch(s.read)}</span>`,
      ...[s.lines, s.areas, s.texts].map(String),
      escaped(s.rule),
    ]);
  return `<h2>Colours <span class="quiet num">${equal} of ${swatches.length} equal</span></h2>${tableOf(['Prepared', 'File', 'Lines#', 'Areas#', 'Texts#', ''], rows)}`;
}

function textTable({ texts, textCount }: FileRecord): string {
  if (textCount === 0) return '';
  const rows = texts.slice(0, MOST_ROWS).map((t) => [escaped(t.text.slice(0, 300)), escaped(t.layer)]);
  const rest =
    textCount > rows.length ? `<p class="quiet">The first ${rows.length} of ${textCount} are listed.</p>` : '';
  return `<h2>Texts <span class="quiet num">${textCount}</span></h2>${tableOf(['Text', 'Layer'], rows)}${rest}`;
}

const ACTION = { dropped: 0, approximated: 1, changed: 2, kept: 3 } as const;

function ledgerTable(ledger: readonly LedgerRow[]): string {
  if (ledger.length === 0) return '<h2>Ledger</h2><p>Nothing was changed, approximated or dropped.</p>';
  const heavy = [...ledger].sort(
    (a, b) => Number(a.onPurpose) - Number(b.onPurpose) || ACTION[a.action] - ACTION[b.action] || b.count - a.count,
  );
  const rows = heavy
    .slice(0, MOST_ROWS)
    .map((row) => [
      escaped(row.carryOver),
      escaped(row.action),
      escaped(row.reason),
      String(row.count),
      row.deviation ? `${figure(row.deviation.value)} ${escaped(row.deviation.unit)}` : '',
      row.onPurpose ? 'on purpose' : '',
    ]);
  const totals = (['dropped', 'approximated', 'changed', 'kept'] as const)
    .map((a) => [a, ledger.filter((row) => row.action === a).length] as const)
    .flatMap(([a, n]) => (n > 0 ? [`${n} ${a}`] : []))
    .join(', ');
  const rest =
    ledger.length > MOST_ROWS
      ? `<p class="quiet">The weightiest ${MOST_ROWS} of ${ledger.length} rows; in all ${totals}.</p>`
      : '';
  return `<h2>Ledger <span class="quiet num">${ledger.length}</span></h2>${tableOf(['Carry-over', 'Became', 'Why', 'Count#', 'Off by at most#', ''], rows)}${rest}`;
}
