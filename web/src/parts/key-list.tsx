import { useState } from 'react';
import { Keyboard } from 'lucide-react';
import { useAction, useActions } from './actions';
import { Modal } from './modal';

/** Keys that belong to the drawing in focus rather than to an action. */
const OTHERS: [string, string][] = [
  ['Ctrl K', 'find an action'],
  ['Wheel', 'zoom in and out at the pointer'],
  ['Dragging', 'move the drawing'],
  ['Shift dragging', 'select by a frame'],
  ['Shift click', 'add to the selection'],
  ['Arrow keys', 'move the drawing (with the drawing in focus)'],
  ['+  −', 'zoom in, zoom out (with the drawing in focus)'],
  ['Enter', 'pick what lies in the middle, or set a corner of a frame (with the drawing in focus)'],
  ['Backspace', 'remove the last point of a path'],
  ['Esc', 'stop measuring or picking, close what is open'],
];

/** Keys as they stand on the keyboard. */
const keyName = (keys: string): string => (/^[a-z]$/.test(keys) ? keys.toUpperCase() : keys);

/** The list of keys, one key away: what each does on the page at hand. */
export function KeyList() {
  const [open, setOpen] = useState(false);
  useAction('List the keys', '?', () => setOpen((o) => !o));
  const actions = useActions().filter((a) => a.keys !== '');
  const own = actions.map((a) => [keyName(a.keys), a.words] as [string, string]);
  const keys = [...own, ...OTHERS.filter(([k]) => !own.some(([o]) => o === k))];
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
        <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-1">
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
