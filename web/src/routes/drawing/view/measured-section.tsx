import type { ReactNode } from 'react';
import { Button } from '../../../parts/button';
import { Section } from '../../../parts/field';
import { plainNumber } from '../../../parts/numbers';
import { CopyButton } from './copy-button';
import type { Figures } from './figures';
import { angles, areas, lengths } from './figures';
import type { Measured, Place, Tools } from './use-tools';

type Row = readonly [label: string, values: readonly string[]];

/** The area within points, by the sum of cross products about the first of them. */
export function areaOfPoints(points: readonly Place[]): number {
  const [o] = points;
  if (!o) return 0;
  let twice = 0;
  for (let i = 0; i < points.length; i++) {
    const [a, b] = [points[i]!, points[(i + 1) % points.length]!];
    twice += (a.x - o.x) * (b.y - o.y) - (b.x - o.x) * (a.y - o.y);
  }
  return Math.abs(twice) / 2;
}

/** The angle at a corner between two points, 0 to 180 degrees. */
export function angleAt(corner: Place, a: Place, b: Place): number {
  const [ux, uy, vx, vy] = [a.x - corner.x, a.y - corner.y, b.x - corner.x, b.y - corner.y];
  return (Math.atan2(Math.abs(ux * vy - uy * vx), ux * vx + uy * vy) * 180) / Math.PI;
}

const between = (a: Place, b: Place): number => Math.hypot(a.x - b.x, a.y - b.y);

/** The rows of a measurement; empty while it has too few points. */
export function rowsOf({ tool, points, curve, done }: Measured, figures: Figures): Row[] {
  const [a, b, c] = points;
  if (tool === 'distance' && a && b)
    return [
      ['distance', lengths(figures, between(a, b), 9)],
      ['horizontal', lengths(figures, Math.abs(b.x - a.x), 9)],
      ['vertical', lengths(figures, Math.abs(b.y - a.y), 9)],
      ['direction', angles(((Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI + 360) % 360).slice(0, 1)],
    ];
  if (tool === 'angle' && a && b && c) return [['angle', angles(angleAt(a, b, c))]];
  if (tool === 'path' && points.length > 1) {
    const last = points[points.length - 1]!;
    const ring = done && points.length > 3 && last.x === a!.x && last.y === a!.y;
    const total = points.slice(1).reduce((sum, p, i) => sum + between(points[i]!, p), 0);
    return [
      ['path', lengths(figures, total)],
      ['last segment', lengths(figures, between(points[points.length - 2]!, last))],
      ...(points.length > 2
        ? [
            [
              ring ? 'area within' : 'area if closed',
              areas(figures, areaOfPoints(ring ? points.slice(0, -1) : points)),
            ] as const,
          ]
        : []),
    ];
  }
  if (!curve) return [];
  return [
    ...(curve.round
      ? [
          ['radius', lengths(figures, curve.round.radius, 9)] as const,
          ['diameter', lengths(figures, 2 * curve.round.radius, 9)] as const,
        ]
      : []),
    ...(curve.length > 0 ? [['length', lengths(figures, curve.length, 9)] as const] : []),
    ...(curve.area !== null ? [['area', areas(figures, curve.area, 9)] as const] : []),
  ];
}

/** What was measured, each number in two units, to be copied. `children` follow it. */
export function MeasuredSection({
  tools,
  figures,
  children,
}: {
  tools: Tools;
  figures: Figures;
  children?: ReactNode;
}) {
  const { measured } = tools;
  const rows = measured ? rowsOf(measured, figures) : [];
  if (!measured || rows.length === 0) return null;
  const { tool, points } = measured;
  const bare = tool === 'distance' && points.length === 2 ? between(points[0]!, points[1]!) : null;
  const text = rows.map(([label, values]) => `${label}\t${values.join('\t')}`).join('\n');
  return (
    <Section title="Measured" aside={<CopyButton text={text} what="the measurement" />}>
      <div data-testid="measured">
        <dl className="num grid grid-cols-[auto_1fr_1fr] gap-x-3 text-sm">
          {bare !== null && (figures.scale !== 1 || figures.unit === null) && (
            <>
              <dt className="text-quiet">coordinates</dt>
              <dd data-testid="measured-raw">{plainNumber(bare, 9)}</dd>
              <dd />
            </>
          )}
          {rows.map(([label, values]) => (
            <div key={label} className="contents">
              <dt className="font-sans text-quiet">{label}</dt>
              <dd className={values.length === 1 ? 'col-span-2' : ''}>{values[0]}</dd>
              {values.length > 1 && <dd>{values[1]}</dd>}
            </div>
          ))}
        </dl>
        {children}
      </div>
      <Button look="quiet" className="mt-1 text-sm" onClick={tools.clearMeasured}>
        Clear the measurement
      </Button>
    </Section>
  );
}
