import { Button } from '../../parts/button';
import { Fold, Tick } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import type { Marked } from '../../viewport/viewport';
import { useDrawing } from './drawing-context';
import { settledLength } from './take-in-math';
import type { Tools } from './view/use-tools';

/** Takes only what lies in a window. */
export function PartSection({ tools }: { tools: Tools }) {
  const { drawing, decide } = useDrawing();
  const w = drawing.intake.window ?? null;
  const { scale, unit } = settledLength(drawing.claims, drawing.intake);
  const asking = tools.tool === 'ask' && tools.asked?.onFrame !== undefined;
  const draw = (): void =>
    asking
      ? tools.ask(null)
      : tools.ask({
          words: 'Drag a window around what is to come along.',
          onFrame: (minX, minY, maxX, maxY) => {
            decide({ window: { minX, minY, maxX, maxY, touching: w?.touching ?? false } }, 'a part by a window');
            tools.ask(null);
          },
        });
  const size = (a: number, b: number): string => plainNumber((b - a) * scale);
  const said = w ? `${size(w.minX, w.maxX)} × ${size(w.minY, w.maxY)}${unit ? ` ${unit}` : ''}` : 'the whole drawing';
  return (
    <Fold title="Part" said={said}>
      <div className="flex flex-wrap items-center gap-3">
        <Button onClick={draw}>{asking ? 'Stop' : w ? 'Draw another window' : 'Draw a window'}</Button>
        {w && (
          <>
            <Tick
              className="flex items-center gap-1.5 text-sm"
              checked={w.touching}
              onChange={(on) => decide({ window: { ...w, touching: on } }, 'what the window touches')}
            >
              what it touches comes along too
            </Tick>
            <Button look="quiet" onClick={() => decide({ window: null }, 'the whole drawing')}>
              The whole drawing
            </Button>
          </>
        )}
      </div>
    </Fold>
  );
}

/** The window on the drawing. */
export function WindowMark({ m }: { m: Marked }) {
  const { drawing } = useDrawing();
  const w = drawing.intake.window;
  if (!w) return null;
  const [x0, y0] = m.screen(w.minX, w.maxY);
  const [x1, y1] = m.screen(w.maxX, w.minY);
  return (
    <rect
      x={x0}
      y={y0}
      width={x1 - x0}
      height={y1 - y0}
      className="text-act"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.5"
      strokeDasharray="10 4 2 4"
      data-testid="window-mark"
    />
  );
}
