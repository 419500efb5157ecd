import type { ReactNode } from 'react';
import { useRef, useState } from 'react';
import { PanelRightClose, PanelRightOpen } from 'lucide-react';
import { useAction } from '../../parts/actions';
import { Progress } from '../../parts/progress';
import { useArrival } from '../../parts/use-arrival';
import { useDrawing } from './drawing-context';

const FOLDED = 'book-folded';

/** The two halves of a station: the drawing in the middle, the field book on the right, which can be folded away. */
export function Station({ view, book, ready }: { view: ReactNode; book: ReactNode; ready: boolean }) {
  const { progress, readError, worker } = useDrawing();
  const [folded, setFolded] = useState(() => localStorage.getItem(FOLDED) === 'yes');
  const aside = useRef<HTMLElement>(null);
  useArrival(aside);
  const turn = (): void => {
    localStorage.setItem(FOLDED, folded ? 'no' : 'yes');
    setFolded(!folded);
  };
  useAction(folded ? 'Open the field book' : 'Fold the field book away', 'b', turn);
  const Icon = folded ? PanelRightOpen : PanelRightClose;
  return (
    <div
      className={`grid h-full min-h-0 max-md:block ${folded ? 'grid-cols-[minmax(0,1fr)_34px]' : 'grid-cols-[minmax(0,1fr)_352px] max-lg:grid-cols-[minmax(0,1fr)_316px]'}`}
    >
      <div className="relative min-h-0 min-w-0 border-r border-rule bg-sheet max-md:h-[60vh] max-md:border-b">
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
      <aside
        ref={aside}
        id="field-book"
        aria-label="Field book"
        tabIndex={-1}
        className="relative min-h-0 overflow-y-auto outline-none max-md:overflow-visible"
      >
        <button
          type="button"
          aria-expanded={!folded}
          aria-label={folded ? 'Open the field book' : 'Fold the field book away'}
          title={`${folded ? 'Open the field book' : 'Fold the field book away'} (B)`}
          className={
            folded
              ? 'flex w-full flex-col items-center gap-2 py-2 hover:bg-wash max-md:flex-row max-md:px-4'
              : 'flex w-full items-center gap-2 border-b border-rule px-4 py-1 text-left text-xs text-quiet hover:bg-wash'
          }
          onClick={turn}
        >
          <Icon size={14} aria-hidden />
          <span className={folded ? 'text-sm [writing-mode:vertical-rl] max-md:[writing-mode:horizontal-tb]' : ''}>
            Field book
          </span>
        </button>
        {/* Folded away it keeps what was typed and opened in it. */}
        <div hidden={folded}>{book}</div>
      </aside>
    </div>
  );
}
