import type { FormEvent } from 'react';
import { useState } from 'react';
import { Button } from './button';
import { Modal } from './modal';

/** Asks for a name. */
export function NameDialog({
  open,
  title,
  button,
  initial,
  onClose,
  onName,
}: {
  open: boolean;
  title: string;
  button: string;
  initial: string;
  onClose: () => void;
  onName: (name: string) => Promise<void>;
}) {
  const [fault, setFault] = useState<string | null>(null);
  const send = (e: FormEvent<HTMLFormElement>): void => {
    e.preventDefault();
    const name = String(new FormData(e.currentTarget).get('name') ?? '').trim();
    if (!name) return setFault('Give it a name.');
    onName(name).catch((x: unknown) => setFault((x as Error).message));
  };
  return (
    <Modal open={open} onClose={onClose} title={title}>
      <form onSubmit={send}>
        <label className="block">
          <span className="text-xs text-quiet">Name</span>
          <input
            name="name"
            defaultValue={initial}
            maxLength={200}
            autoFocus
            className="w-full border border-ink/60 bg-sheet px-2 py-1"
          />
        </label>
        {fault && <p className="mt-1 text-sm text-alarm">{fault}</p>}
        <div className="mt-4 flex justify-end gap-3">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit">
            {button}
          </Button>
        </div>
      </form>
    </Modal>
  );
}
