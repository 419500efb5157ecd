import { Section } from '../../parts/field';
import { fileSize, plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';

const KINDS: Record<string, [string, string]> = {
  richText: ['rich text', 'rich texts'],
  hatch: ['hatch', 'hatches'],
  opaque: ['unread', 'unread'],
};
const kindWord = (kind: string, n: number): string => (KINDS[kind] ?? [kind, `${kind}s`])[n === 1 ? 0 : 1]!;

/** What the file says of itself. */
export function FileClaims() {
  const { drawing } = useDrawing();
  const { claims } = drawing;
  const b = claims.bounds;
  const unit = claims.unit
    ? claims.unit.factor === 1
      ? claims.unit.unit
      : `1 unit = ${plainNumber(claims.unit.factor)} ${claims.unit.unit}`
    : 'none';
  const kinds = Object.entries(claims.kinds).sort((p, q) => q[1] - p[1]);
  const rows: [string, string][] = [
    ['Format', `${claims.format.toUpperCase()} ${claims.version}, ${fileSize(drawing.size)}`],
    ['Unit it states', unit],
    ['Size in its units', b ? `${plainNumber(b.maxX - b.minX)} × ${plainNumber(b.maxY - b.minY)}` : 'nothing is drawn'],
    [
      'Holds',
      `${plainNumber(claims.entities)} entities: ${kinds.map(([k, n]) => `${n} ${kindWord(k, n)}`).join(', ')}`,
    ],
    ['Blocks', String(claims.blocks)],
    ['Fonts', claims.fonts.map((f) => f.name).join(', ') || 'no text'],
  ];
  if (claims.sheets.length > 0) rows.push(['Sheets', String(claims.sheets.length)]);
  return (
    <Section title="What the file says">
      <dl className="grid grid-cols-[112px_1fr] gap-x-2 gap-y-0.5">
        {rows.map(([k, v]) => (
          <div key={k} className="contents">
            <dt className="text-quiet">{k}</dt>
            <dd className="num min-w-0 break-words">{v}</dd>
          </div>
        ))}
      </dl>
      {claims.colours.length > 0 && (
        <ul className="mt-2 flex flex-wrap gap-x-3 gap-y-1" aria-label="Colours">
          {claims.colours.slice(0, 9).map((c) => (
            <li key={c.hex} className="num flex items-center gap-1 text-xs">
              <span className="size-3 border border-ink/40" style={{ background: c.hex }} aria-hidden />
              {c.hex}
            </li>
          ))}
          {claims.colours.length > 9 && <li className="text-xs text-quiet">+{claims.colours.length - 9}</li>}
        </ul>
      )}
      {claims.notes.length > 0 && (
        <ul className="mt-2 space-y-1 border-l-2 border-alarm pl-2 text-sm" aria-label="Notes from reading">
          {claims.notes.map((n) => (
            <li key={n.text}>
              {n.text}
              {n.count > 1 && ` (${n.count} times)`}
              {n.where && <span className="text-quiet"> · {n.where}</span>}
            </li>
          ))}
        </ul>
      )}
    </Section>
  );
}
