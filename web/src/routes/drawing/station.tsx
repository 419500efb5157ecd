import type { ReactNode } from 'react';
import { Progress } from '../../parts/progress';
import { useDrawing } from './drawing-context';

/** The two halves of a station: the drawing in the middle, the field book on the right. */
export function Station({ view, book, ready }: { view: ReactNode; book: ReactNode; ready: boolean }) {
  const { progress, readError, worker } = useDrawing();
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_352px]">
      <div className="relative min-h-0 min-w-0 border-r border-rule bg-sheet">
        {view}
        {!ready && (
          <div className="absolute inset-0 grid place-items-center bg-sheet/70">
            {readError ? (
              <p className="max-w-sm text-alarm" role="alert">
                {readError}
              </p>
            ) : (
              <div className="w-64">
                <p className="mb-2">{worker ? 'Being drawn …' : 'Being read …'}</p>
                <Progress value={progress} label="Reading the drawing" />
              </div>
            )}
          </div>
        )}
      </div>
      <aside aria-label="Field book" className="relative min-h-0 overflow-y-auto">
        {book}
      </aside>
    </div>
  );
}
