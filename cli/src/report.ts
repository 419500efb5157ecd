import type { Claims, EntityKind, Finding, LedgerRow, Proof } from '@scalaria/core';
import { holesText, kindName, verdictOf } from '@scalaria/core';
import { shown } from './terminal.js';
import type { Failure, Listed } from './worker.js';

/** Plain text for people. */

const number = (v: number): string => String(Number(v.toPrecision(8)));
const STATES = {
  kept: 'kept',
  changed: 'changed on purpose',
  undecided: 'undecided',
  atRisk: 'AT RISK',
  lost: 'LOST',
} as const;

export function failureText(file: string, f: Failure): string {
  const message = f.message.replace(/[.\s]+$/, '');
  return `${shown(file)}: ${shown(message)}${f.where ? ` (${shown(f.where)})` : ''}.${f.remedy ? ` ${shown(f.remedy)}` : ''}`;
}

/** What the reader had to say, a line each. */
export function notesText(notes: Claims['notes']): string[] {
  return notes.map(
    (n) => `  note      ${shown(n.text)}${n.where ? `, ${shown(n.where)}` : ''}${n.count > 1 ? ` (${n.count})` : ''}`,
  );
}

/** The parts of a drawing, a line each, and what is wrong with them. */
export function partsText(file: string, { unit, rows, findings, twice }: Extract<Listed, { ok: true }>): string {
  const all = rows.reduce((sum, r) => sum + r.quantity, 0);
  const lines = [shown(file), `  parts     ${all}${rows.length === all ? '' : ` of ${rows.length} kinds`}`];
  for (const r of rows) {
    const said = [r.name, r.kind, [r.material, r.thickness].filter(Boolean).join(' ')].filter(Boolean).map(shown);
    const size = `${number(r.length)} × ${number(r.width)} ${unit}`;
    const holes = r.holes.length > 0 ? `, ${holesText(r.holes)}` : '';
    lines.push(
      `    ${shown(r.number).padEnd(8)}${r.quantity} × ${size}${said.length > 0 ? `, ${said.join(', ')}` : ''}, cut ${number(r.cutLength)} ${unit}${holes}`,
    );
  }
  for (const n of twice) lines.push(`  finding   several parts have the number ${shown(n)}`);
  for (const f of findings)
    lines.push(
      `  finding   ${f.called ? `“${shown(f.called)}”` : `${kindName(f.kind)} on ${shown(f.layer)}`}: ${f.words} at ${number(f.x)}, ${number(f.y)}`,
    );
  return lines.join('\n');
}

export function claimsText(file: string, c: Claims, findings: Finding[], ledger: readonly LedgerRow[]): string {
  const unit = c.unit
    ? c.unit.factor === 1
      ? c.unit.unit
      : `1 unit = ${number(c.unit.factor)} ${c.unit.unit}`
    : 'none stated';
  const size = c.bounds
    ? `${number(c.bounds.maxX - c.bounds.minX)} × ${number(c.bounds.maxY - c.bounds.minY)}`
    : 'nothing drawn';
  const kinds = Object.entries(c.kinds).map(([k, n]) => `${n} ${kindName(k as EntityKind, n)}`);
  const lines = [
    shown(file),
    `  format    ${c.format.toUpperCase()} ${c.version}`,
    `  unit      ${unit}`,
    `  size      ${size}`,
    `  objects   ${c.entities}${kinds.length ? `: ${kinds.join(', ')}` : ''}`,
    ...(c.pageOf ? [`  page      ${c.pageOf.number} of ${c.pageOf.of}`] : []),
    `  blocks    ${c.blocks}`,
    `  fonts     ${c.fonts.map((f) => (f.name === '' ? 'none named' : shown(f.name))).join(', ') || 'no text'}`,
    `  colours   ${c.colours.map((x) => x.hex).join(' ') || 'none'}`,
    '  layers',
  ];
  for (const l of c.layers) {
    const state = [l.frozen && 'frozen', l.off && 'off', l.locked && 'locked'].filter(Boolean).join(', ');
    lines.push(`    ${shown(l.name)}  ${l.count}${state ? `  (${state})` : ''}`);
  }
  lines.push(...notesText(c.notes));
  if (ledger.length > 0) lines.push('  ledger', ledgerText(ledger));
  for (const f of findings)
    lines.push(
      `  finding   ${shown(f.message)}${f.at ? ` at ${number(f.at.x)}, ${number(f.at.y)}` : ''}${f.layer ? `, layer ${shown(f.layer)}` : ''}`,
    );
  return lines.join('\n');
}

export function ledgerText(rows: readonly LedgerRow[]): string {
  return rows
    .map(
      (r) =>
        `  ${r.by.padEnd(7)} ${r.carryOver.padEnd(7)} ${r.action.padEnd(12)} ${shown(r.reason)}${r.count > 1 ? ` (${r.count})` : ''}`,
    )
    .join('\n');
}

export function proofText(p: Proof): string {
  const rows = p.items.map((i) => {
    const numbers = i.expected === i.found ? i.found : `${i.found} (expected ${i.expected})`;
    return `  ${STATES[i.state].padEnd(18)} ${shown(`${i.title}: ${numbers}${i.explanation ? ` – ${i.explanation}` : ''}`)}`;
  });
  return [...rows, `  ${verdictOf(p)}`].join('\n');
}
