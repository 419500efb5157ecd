import { Maximize, Minus, Plus } from 'lucide-react';
import { Progress } from '../parts/progress';
import type { Size } from './view';

/** A frame that is being drawn, and the cross that stands for the pointer of who works by keys. */
export function Overlay({
  framed,
  byKey,
  size,
}: {
  framed: readonly [number, number, number, number] | null;
  byKey: boolean;
  size: Size;
}) {
  if (!framed && !byKey) return null;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full text-act" fill="none" stroke="currentColor">
      {framed && (
        <rect
          x={Math.min(framed[0], framed[2])}
          y={Math.min(framed[1], framed[3])}
          width={Math.abs(framed[2] - framed[0])}
          height={Math.abs(framed[3] - framed[1])}
          strokeDasharray="8 4"
        />
      )}
      {byKey && <path d={`M${size.width / 2 - 9} ${size.height / 2}h18M${size.width / 2} ${size.height / 2 - 9}v18`} />}
    </svg>
  );
}

/** Says that not all of the drawing is in sight yet, and how much is, where that is known. */
export function Unfinished({ done }: { done: number | null }) {
  return (
    <p
      role="status"
      data-testid="unfinished"
      className="pointer-events-none absolute right-14 bottom-3 flex items-center gap-2 border border-rule bg-paper px-2 py-1 text-xs"
    >
      {done === null ? 'A rough picture; the whole is being made …' : 'Still being drawn …'}
      {done !== null && (
        <span className="w-20">
          <Progress value={done} label="Drawn" />
        </span>
      )}
    </p>
  );
}

export function ZoomButtons({ zoom, fitAll }: { zoom: (factor: number) => void; fitAll: () => void }) {
  const buttons = [
    ['Zoom in', Plus, () => zoom(1.4)],
    ['Zoom out', Minus, () => zoom(1 / 1.4)],
    ['Show all', Maximize, fitAll],
  ] as const;
  return (
    <div className="absolute right-3 bottom-3 flex flex-col border border-rule bg-paper">
      {buttons.map(([name, Icon, act]) => (
        <button
          key={name}
          type="button"
          aria-label={name}
          title={name}
          className="p-1.5 hover:bg-wash"
          onPointerDown={(e) => e.stopPropagation()}
          onClick={act}
        >
          <Icon size={16} aria-hidden />
        </button>
      ))}
    </div>
  );
}
