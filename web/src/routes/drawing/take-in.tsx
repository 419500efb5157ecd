import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { originOnSource, settledLength } from './take-in-math';
import { Viewport } from '../../viewport/viewport';
import type { Marked } from '../../viewport/viewport';
import type { Snap } from '../../workers/drawing.worker';
import { isTyping } from '../../parts/key-list';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { useSourceScene } from './use-scene';
import { FileClaims } from './take-in-claims';
import { UnitSection } from './take-in-unit';
import { MeasureSection } from './take-in-measure';
import { ArtSection } from './take-in-art';
import { FontSection } from './take-in-fonts';
import { LayerSection } from './take-in-layers';
import { OriginSection } from './take-in-origin';

/** How much of the drawing is in sight when one place of it is gone to. */
const reachOf = ({
  bounds: b,
}: {
  bounds: { minX: number; maxX: number; minY: number; maxY: number } | null;
}): number => (b ? Math.hypot(b.maxX - b.minX, b.maxY - b.minY) / 6 : 1);

export type Tool = 'none' | 'measure' | 'origin';
export type Place = { x: number; y: number; snapped: Snap['kind'] | null };

/** Station one: what is this, how big, where, and which parts of it come along. */
export function TakeIn() {
  const { drawing, worker, decide } = useDrawing();
  const { claims, intake } = drawing;
  const [sheet, setSheet] = useState<string | undefined>(undefined);
  const scene = useSourceScene(sheet);
  const [tool, setTool] = useState<Tool>('none');
  const [points, setPoints] = useState<Place[]>([]);
  const [hover, setHover] = useState<Place | null>(null);
  const [goTo, setGoTo] = useState<{ x: number; y: number; size: number } | null>(null);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(
    () => new Set(claims.layers.filter((l) => l.off || l.frozen).map((l) => l.name)),
  );
  const pictures = useMemo(() => (scene ? [{ scene }] : []), [scene]);
  const settled = settledLength(claims, intake);
  const show = (next: string | undefined): void => {
    setSheet(next);
    setTool('none');
    setPoints([]);
    setHover(null);
  };

  const find = useCallback(
    async (x: number, y: number, reach: number): Promise<Place> => {
      const s = worker ? await worker.snap(x, y, reach) : null;
      return s ? { x: s.x, y: s.y, snapped: s.kind } : { x, y, snapped: null };
    },
    [worker],
  );
  const asked = useRef(0);
  const onHover = (x: number, y: number, reach: number): void => {
    if (tool === 'none') return;
    const n = ++asked.current;
    void find(x, y, reach).then((p) => n === asked.current && setHover(p));
  };
  const onPick = (x: number, y: number, reach: number): void => {
    if (tool === 'none') return;
    void find(x, y, reach).then((p) => {
      if (tool === 'measure') setPoints((old) => (old.length === 1 ? [...old, p] : [p]));
      else {
        decide({ origin: { mode: 'point', x: p.x * settled.scale, y: p.y * settled.scale } }, 'origin picked');
        setTool('none');
        setHover(null);
      }
    });
  };

  useEffect(() => {
    const press = (e: KeyboardEvent): void => {
      if (isTyping(e) || e.ctrlKey || e.metaKey) return;
      if (e.key === 'm') setTool('measure');
      if (e.key === 'Escape') {
        setTool('none');
        setPoints([]);
        setHover(null);
      }
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);

  const marks = (m: Marked) => (
    <>
      {sheet === undefined && <OriginMark m={m} at={originOnSource(claims, intake)} />}
      {(tool === 'measure' || points.length > 0) && (
        <MeasureMark m={m} points={points} hover={tool === 'measure' && points.length === 1 ? hover : null} />
      )}
      {tool !== 'none' && hover && <SnapMark m={m} at={hover} />}
    </>
  );
  return (
    <Station
      ready={scene !== null}
      view={
        <>
          <Viewport
            pictures={pictures}
            hidden={hidden}
            unit={sheet === undefined ? settled.viewUnit : 'mm'}
            marks={marks}
            goTo={goTo}
            onPick={onPick}
            onHover={onHover}
            cursor={tool === 'none' ? 'grab' : 'crosshair'}
            label={`Drawing ${drawing.name}`}
          />
          {claims.sheets.length > 0 && <SheetChoice sheets={claims.sheets} shown={sheet} onShow={show} />}
          {tool !== 'none' && (
            <p
              className="pointer-events-none absolute top-3 left-1/2 -translate-x-1/2 border border-ink bg-paper px-3 py-1 text-sm"
              role="status"
            >
              {tool === 'origin'
                ? 'Click the point that becomes the origin.'
                : points.length === 1
                  ? 'Click the second point.'
                  : 'Click the first point.'}{' '}
              Esc stops.
            </p>
          )}
        </>
      }
      book={
        <>
          <FileClaims />
          <UnitSection />
          <MeasureSection tool={tool} onTool={setTool} points={points} onClear={() => setPoints([])} />
          <LayerSection hidden={hidden} onHidden={setHidden} />
          <ArtSection />
          <FontSection onGoTo={(at) => setGoTo({ ...at, size: reachOf(claims) })} />
          <OriginSection tool={tool} onTool={setTool} />
        </>
      }
    />
  );
}

/** Model space and the sheets, one of them in sight. Deliveries are of model space; the sheets go along in a DXF or DWG. */
function SheetChoice({
  sheets,
  shown,
  onShow,
}: {
  sheets: readonly string[];
  shown: string | undefined;
  onShow: (sheet: string | undefined) => void;
}) {
  const choice = (name: string, sheet: string | undefined) => (
    <button
      key={name}
      type="button"
      aria-pressed={shown === sheet}
      onClick={() => onShow(sheet)}
      className={`max-w-40 truncate border-b-2 px-2.5 py-1 text-sm ${shown === sheet ? 'border-ink font-medium' : 'border-transparent text-quiet hover:text-ink'}`}
    >
      {name}
    </button>
  );
  return (
    <div
      role="group"
      aria-label="Space"
      className="absolute top-3 left-3 flex max-w-[70%] overflow-x-auto border border-rule bg-paper"
    >
      {choice('Model space', undefined)}
      {sheets.map((s) => choice(s, s))}
    </div>
  );
}

function OriginMark({ m, at }: { m: Marked; at: [number, number] | null }) {
  if (!at) return null;
  const [x, y] = m.screen(at[0], at[1]);
  return (
    <g className="text-act" stroke="currentColor" fill="none" strokeWidth="1.5" data-testid="origin-mark">
      <path d={`M${x} ${y}h34M${x} ${y}v-34M${x + 29} ${y - 4}l5 4l-5 4M${x - 4} ${y - 29}l4 -5l4 5`} />
      <circle cx={x} cy={y} r="3" fill="currentColor" />
    </g>
  );
}

function SnapMark({ m, at }: { m: Marked; at: Place }) {
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

function MeasureMark({ m, points, hover }: { m: Marked; points: Place[]; hover: Place | null }) {
  const all = hover ? [...points, hover] : points;
  const screen = all.map((p) => m.screen(p.x, p.y));
  return (
    <g className="text-alarm" stroke="currentColor" fill="none" strokeWidth="1.5">
      {screen.map(([x, y], i) => (
        <path key={i} d={`M${x - 5} ${y - 5}l10 10M${x - 5} ${y + 5}l10 -10`} />
      ))}
      {screen.length === 2 && (
        <path
          d={`M${screen[0]![0]} ${screen[0]![1]}L${screen[1]![0]} ${screen[1]![1]}`}
          strokeDasharray={hover ? '4 4' : undefined}
        />
      )}
    </g>
  );
}
