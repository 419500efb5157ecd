import { useState } from 'react';
import { Keyboard } from 'lucide-react';
import { useAction, useActions } from './actions';
import { Modal } from './modal';

/** Keys that belong to the drawing in focus rather than to an action. */
const OTHERS: [string, string][] = [
  ['Arrow keys', 'move the drawing (with the drawing in focus)'],
  ['+  −', 'zoom in, zoom out'],
  ['Enter', 'pick what lies in the middle, or set a corner of a frame (with the drawing in focus)'],
  ['Shift', 'with a click: add to what is selected; with dragging: draw a frame'],
  ['Esc', 'stop measuring or picking, close what is open'],
];

/** The list of keys, one key away: what each does on the page at hand. */
export function KeyList() {
  const [open, setOpen] = useState(false);
  useAction('List the keys', '?', () => setOpen((o) => !o));
  const actions = useActions().filter((a) => a.keys !== '');
  const keys: [string, string][] = [...actions.map((a) => [a.keys, a.words] as [string, string]), ...OTHERS];
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
        <dl className="grid max-h-[70vh] grid-cols-[auto_1fr] gap-x-5 gap-y-1 overflow-y-auto">
          {keys.map(([k, what]) => (
            <div key={`${k} ${what}`} className="contents">
              <dt className="num font-medium">{k}</dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </Modal>
    </>
  );
}
