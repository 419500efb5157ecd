import type { ReactNode } from 'react';
import { createContext, useCallback, useContext, useMemo, useRef, useState } from 'react';
import { Button } from './button';

interface Notice {
  text: string;
  alarm?: boolean;
  undo?: () => void;
  /** Something else that can be done about it. */
  act?: { words: string; run: () => void };
}

const Context = createContext<(n: Notice) => void>(() => {});

/** Says what was done at the foot of the page, with a way back; stays eight seconds (errors until closed). */
export function NoticeProvider({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const show = useCallback((n: Notice) => {
    clearTimeout(timer.current);
    setNotice(n);
    if (!n.alarm) timer.current = setTimeout(() => setNotice(null), 8000);
  }, []);
  const value = useMemo(() => show, [show]);
  return (
    <Context.Provider value={value}>
      {children}
      <div
        aria-live="polite"
        className="pointer-events-none fixed inset-x-0 bottom-4 z-50 grid place-items-center px-4"
      >
        {notice && (
          <div
            className={`pointer-events-auto flex max-w-xl items-center gap-4 border bg-paper px-4 py-2 ${notice.alarm ? 'border-alarm text-alarm' : 'border-ink'}`}
          >
            <span>{notice.text}</span>
            {notice.undo && (
              <Button
                look="quiet"
                onClick={() => {
                  notice.undo?.();
                  setNotice(null);
                }}
              >
                Undo
              </Button>
            )}
            {notice.act && (
              <Button
                look="quiet"
                onClick={() => {
                  notice.act?.run();
                  setNotice(null);
                }}
              >
                {notice.act.words}
              </Button>
            )}
            <Button look="quiet" aria-label="Close this notice" onClick={() => setNotice(null)}>
              Close
            </Button>
          </div>
        )}
      </div>
    </Context.Provider>
  );
}

export const useNotice = (): ((n: Notice) => void) => useContext(Context);
