import type { Claims, Finding, LedgerRow, Proof } from '@scalaria/core';
import type { Failure } from './worker.js';

/** Plain text for people. */

const number = (v: number): string => String(Number(v.toPrecision(8)));
const STATES = { kept: 'kept', changed: 'changed on purpose', atRisk: 'AT RISK', lost: 'LOST' } as const;

export function failureText(file: string, f: Failure): string {
  return `${file}: ${f.message}${f.where ? ` (${f.where})` : ''}.${f.remedy ? ` ${f.remedy}` : ''}`;
}

export function claimsText(file: string, c: Claims, findings: Finding[]): string {
  const unit = c.unit
    ? c.unit.factor === 1
      ? c.unit.unit
      : `1 unit = ${number(c.unit.factor)} ${c.unit.unit}`
    : 'none stated';
  const size = c.bounds
    ? `${number(c.bounds.maxX - c.bounds.minX)} × ${number(c.bounds.maxY - c.bounds.minY)}`
    : 'nothing drawn';
  const kinds = Object.entries(c.kinds).map(([k, n]) => `${k} ${n}`);
  const lines = [
    file,
    `  format    ${c.format.toUpperCase()} ${c.version}`,
    `  unit      ${unit}`,
    `  size      ${size}`,
    `  entities  ${c.entities}${kinds.length ? `: ${kinds.join(', ')}` : ''}`,
    `  blocks    ${c.blocks}`,
    `  fonts     ${c.fonts.map((f) => f.name).join(', ') || 'no text'}`,
    `  colours   ${c.colours.map((x) => x.hex).join(' ') || 'none'}`,
    '  layers',
  ];
  for (const l of c.layers) {
    const state = [l.frozen && 'frozen', l.off && 'off', l.locked && 'locked'].filter(Boolean).join(', ');
    lines.push(`    ${l.name}  ${l.count}${state ? `  (${state})` : ''}`);
  }
  for (const n of c.notes)
    lines.push(`  note      ${n.text}${n.where ? `, ${n.where}` : ''}${n.count > 1 ? ` (${n.count})` : ''}`);
  for (const f of findings)
    lines.push(
      `  finding   ${f.message}${f.at ? ` at ${number(f.at.x)}, ${number(f.at.y)}` : ''}${f.layer ? `, layer ${f.layer}` : ''}`,
    );
  return lines.join('\n');
}

export function ledgerText(rows: readonly LedgerRow[]): string {
  return rows
    .map(
      (r) =>
        `  ${r.by.padEnd(7)} ${r.carryOver.padEnd(7)} ${r.action.padEnd(12)} ${r.reason}${r.count > 1 ? ` (${r.count})` : ''}`,
    )
    .join('\n');
}

export function proofText(p: Proof): string {
  const rows = p.items.map((i) => {
    const numbers = i.expected === i.found ? i.found : `${i.found} (expected ${i.expected})`;
    return `  ${STATES[i.state].padEnd(18)} ${i.title}: ${numbers}${i.explanation ? ` – ${i.explanation}` : ''}`;
  });
  return [...rows, p.holds ? '  The proof holds.' : '  The proof does NOT hold.'].join('\n');
}
