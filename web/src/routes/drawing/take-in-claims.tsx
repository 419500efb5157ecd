import { kindName } from '@scalaria/core';
import type { BookSection } from '../../parts/fold-list';
import { LongList } from '../../parts/long-list';
import { fileSize, plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';

/** What the file says of itself. */
export function useClaimsSection(): BookSection {
  const { drawing } = useDrawing();
  const { claims } = drawing;
  return {
    id: 'claims',
    title: 'What the file says',
    said:
      claims.notes.length > 0
        ? claims.notes.length === 1
          ? '1 note from reading'
          : `${claims.notes.length} notes from reading`
        : `${claims.format.toUpperCase()} ${claims.version}, ${fileSize(drawing.size)}`,
    alarm: claims.notes.length > 0,
    body: () => <FileClaims />,
  };
}

function FileClaims() {
  const { drawing } = useDrawing();
  const { claims } = drawing;
  const b = claims.bounds;
  const unit = claims.unit
    ? claims.unit.factor === 1
      ? claims.unit.unit
      : claims.unit.unit === 'in' && Math.abs(claims.unit.factor * 96 - 1) < 1e-9
        ? 'true size, at 96 px per inch'
        : `1 unit = ${plainNumber(claims.unit.factor)} ${claims.unit.unit}`
    : 'none';
  const kinds = Object.entries(claims.kinds).sort((p, q) => q[1] - p[1]);
  const rows: [string, string][] = [
    ['Format', `${claims.format.toUpperCase()} ${claims.version}, ${fileSize(drawing.size)}`],
    ['Stated unit', unit],
    ['Size in file units', b ? `${plainNumber(b.maxX - b.minX)} × ${plainNumber(b.maxY - b.minY)}` : 'nothing drawn'],
    [
      'Contents',
      `${plainNumber(claims.entities)} objects: ${kinds.map(([k, n]) => `${n} ${kindName(k as Parameters<typeof kindName>[0], n)}`).join(', ')}; in model space and on sheets, without what lies in blocks`,
    ],
    ['Blocks', String(claims.blocks)],
    ['Fonts', claims.fonts.map((f) => f.name || 'none named').join(', ') || 'no text'],
  ];
  if (claims.sheets.length > 0) rows.push(['Sheets', String(claims.sheets.length)]);
  return (
    <>
      <dl className="grid grid-cols-[112px_1fr] gap-x-2 gap-y-0.5">
        {rows.map(([k, v]) => (
          <div key={k} className="contents">
            <dt className="text-quiet">{k}</dt>
            <dd className="num min-w-0 break-words">{v}</dd>
          </div>
        ))}
      </dl>
      {claims.colours.length > 0 && (
        <div className="mt-2">
          <h3 className="text-xs text-quiet">
            {claims.colours.length === 1 ? '1 colour' : `${claims.colours.length} colours`}
          </h3>
          <LongList
            label="Colours"
            rows={claims.colours}
            keyOf={(c) => c.hex}
            height={21}
            most="12rem"
            rowClass="num text-xs"
          >
            {(c) => (
              <span className="flex items-center gap-1.5">
                <span className="size-3 border border-ink/40" style={{ background: c.hex }} aria-hidden />
                {c.hex}
                <span className="ml-auto text-quiet">{plainNumber(c.count)}</span>
              </span>
            )}
          </LongList>
        </div>
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
    </>
  );
}
