import type { Marked } from '../../../viewport/viewport';
import type { Measured, Place } from './use-tools';

/** What the pointer snaps to, with its word. */
export function SnapMark({ m, at }: { m: Marked; at: Place }) {
  const [x, y] = m.screen(at.x, at.y);
  if (!at.snapped) return <circle cx={x} cy={y} r="3" className="text-quiet" fill="currentColor" />;
  return (
    <g className="text-alarm">
      <circle cx={x} cy={y} r="6" fill="none" stroke="currentColor" strokeWidth="1.5" />
      <text x={x + 10} y={y - 8} fontSize="12" fill="currentColor">
        {at.snapped}
      </text>
    </g>
  );
}

/** The points of a measurement and what joins them; for a curve its chords and, for a round one, its centre. */
export function MeasureMarks({ m, measured, hover }: { m: Marked; measured: Measured; hover: Place | null }) {
  const { tool, points, done, curve } = measured;
  const all = hover && !done ? [...points, hover] : points;
  const screen = all.map((p) => m.screen(p.x, p.y));
  const at = (p: [number, number]): string => `${p[0]} ${p[1]}`;
  const [corner, first, second] = screen;
  const way = tool === 'angle' ? [first, corner, second].filter((p) => p !== undefined) : screen;
  const closed = tool === 'path' && done && points.length > 3;
  return (
    <g className="text-alarm" stroke="currentColor" fill="none" strokeWidth="1.5" data-testid="measure-marks">
      {screen.slice(0, points.length).map(([x, y], i) => (
        <path key={i} d={`M${x - 5} ${y - 5}l10 10M${x - 5} ${y + 5}l10 -10`} />
      ))}
      {way.length > 1 && (
        <path d={`M${way.map(at).join('L')}${closed ? 'Z' : ''}`} strokeDasharray={done ? undefined : '4 4'} />
      )}
      {curve && <path d={chordPath(m, curve.chords)} strokeWidth="2.5" />}
      {curve?.round && <Centre at={m.screen(curve.round.x, curve.round.y)} />}
    </g>
  );
}

function Centre({ at: [x, y] }: { at: [number, number] }) {
  return <path d={`M${x - 7} ${y}h14M${x} ${y - 7}v14`} />;
}

/** At most so many chords are marked. */
const MOST = 4000;

function chordPath(m: Marked, chords: readonly number[]): string {
  let d = '';
  const step = Math.max(1, Math.ceil(chords.length / 4 / MOST));
  for (let i = 0; i < chords.length; i += 4 * step) {
    const [a, b] = [m.screen(chords[i]!, chords[i + 1]!), m.screen(chords[i + 2]!, chords[i + 3]!)];
    d += `M${a[0]} ${a[1]}L${b[0]} ${b[1]}`;
  }
  return d;
}

/** Where (0, 0) lies. */
export function OriginMark({ m, at }: { m: Marked; at: [number, number] | null }) {
  if (!at) return null;
  const [x, y] = m.screen(at[0], at[1]);
  return (
    <g className="text-act" stroke="currentColor" fill="none" strokeWidth="1.5" data-testid="origin-mark">
      <path d={`M${x} ${y}h34M${x} ${y}v-34M${x + 29} ${y - 4}l5 4l-5 4M${x - 4} ${y - 29}l4 -5l4 5`} />
      <circle cx={x} cy={y} r="3" fill="currentColor" />
    </g>
  );
}
