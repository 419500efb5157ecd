import type { View } from './view';
import { roundLength } from './view';
import { plainNumber } from '../parts/numbers';

/** The scale bar of a map: four segments, light and dark in turn, with the length they stand for. */
export function ScaleBar({ view, unit }: { view: View; unit: string | null }) {
  const length = roundLength(view, 180);
  const width = length * view.scale;
  return (
    <div className="pointer-events-none absolute bottom-3 left-3 bg-sheet/85 px-1.5 pt-1 pb-1.5" aria-hidden>
      <div className="num flex justify-between text-xs" style={{ width }}>
        <span>0</span>
        <span>
          {plainNumber(length)} {unit ?? 'units'}
        </span>
      </div>
      <div className="flex h-1.5 border border-ink" style={{ width }}>
        {[0, 1, 2, 3].map((i) => (
          <span key={i} className={`flex-1 ${i % 2 ? 'bg-sheet' : 'bg-ink'}`} />
        ))}
      </div>
    </div>
  );
}
