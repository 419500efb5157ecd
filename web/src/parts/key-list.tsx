import { useEffect, useState } from 'react';
import { Keyboard } from 'lucide-react';
import { Modal } from './modal';

const KEYS: [string, string][] = [
  ['?', 'this list'],
  ['1 … 5', 'go to a station of the drawing'],
  ['Arrow keys', 'move the drawing (with the drawing in focus)'],
  ['+  −', 'zoom in, zoom out'],
  ['Home', 'show all of the drawing'],
  ['m', 'measure between two points'],
  ['Esc', 'stop measuring or picking, close what is open'],
  ['Ctrl Z', 'take back the last decision or step'],
];

/** Whether a key press belongs to a field that is being typed in. */
export const isTyping = (e: KeyboardEvent): boolean =>
  e.target instanceof HTMLElement && (e.target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(e.target.tagName));

/** The list of keys, one key away. */
export function KeyList() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const press = (e: KeyboardEvent): void => {
      if (e.key === '?' && !isTyping(e)) setOpen((o) => !o);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
  return (
    <>
      <button
        type="button"
        className="p-1.5 hover:bg-wash"
        aria-label="Keys"
        title="Keys (?)"
        onClick={() => setOpen(true)}
      >
        <Keyboard size={16} aria-hidden />
      </button>
      <Modal open={open} onClose={() => setOpen(false)} title="Keys">
        <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-1.5">
          {KEYS.map(([k, what]) => (
            <div key={k} className="contents">
              <dt className="num font-medium">{k}</dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </Modal>
    </>
  );
}
