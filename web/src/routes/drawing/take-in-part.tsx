import { Button } from '../../parts/button';
import { Tick } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { plainNumber } from '../../parts/numbers';
import type { Marked } from '../../viewport/viewport';
import { useDrawing } from './drawing-context';
import { settledLength } from './take-in-math';
import type { Tools } from './view/use-tools';

/** Takes only what lies in a frame. */
export function usePartSection(tools: Tools): BookSection {
  const { drawing, decide } = useDrawing();
  const w = drawing.intake.window ?? null;
  const { scale, unit } = settledLength(drawing.claims, drawing.intake);
  const asking = tools.tool === 'ask' && tools.asked?.onFrame !== undefined;
  const draw = (): void =>
    asking
      ? tools.ask(null)
      : tools.ask({
          words: 'Drag a frame around the part to take in.',
          onFrame: (minX, minY, maxX, maxY) => {
            decide({ window: { minX, minY, maxX, maxY, touching: w?.touching ?? false } }, 'a part in a frame');
            tools.ask(null);
          },
        });
  const size = (a: number, b: number): string => plainNumber((b - a) * scale);
  const said = w ? `${size(w.minX, w.maxX)} × ${size(w.minY, w.maxY)}${unit ? ` ${unit}` : ''}` : 'the whole drawing';
  return {
    id: 'part',
    title: 'Part',
    said,
    body: () => (
      <div className="flex flex-wrap items-center gap-3">
        <Button onClick={draw}>{asking ? 'Stop' : w ? 'Draw another frame' : 'Draw a frame'}</Button>
        {w && (
          <>
            <Tick
              className="flex items-center gap-1.5 text-sm"
              checked={w.touching}
              onChange={(on) => decide({ window: { ...w, touching: on } }, 'what the frame touches')}
            >
              include what the frame touches
            </Tick>
            <Button look="quiet" onClick={() => decide({ window: null }, 'the whole drawing')}>
              The whole drawing
            </Button>
          </>
        )}
      </div>
    ),
  };
}

/** The frame on the drawing. */
export function FrameMark({ m }: { m: Marked }) {
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
      data-testid="frame-mark"
    />
  );
}
