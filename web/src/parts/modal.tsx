import type { ReactNode } from 'react';
import { X } from 'lucide-react';
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';

export function Modal({
  open,
  onClose,
  title,
  wide = false,
  children,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <DialogBackdrop className="fixed inset-0 bg-ink/25" />
      <div className="fixed inset-0 grid place-items-center p-4">
        <DialogPanel
          className={`flex max-h-full w-full ${wide ? 'max-w-4xl' : 'max-w-md'} flex-col border border-ink bg-paper p-5`}
        >
          <div className="mb-3 flex items-baseline justify-between gap-4">
            <DialogTitle className="text-lg font-semibold">{title}</DialogTitle>
            <button
              type="button"
              className="p-1 hover:bg-wash"
              aria-label="Close"
              title="Close (Esc)"
              onClick={onClose}
            >
              <X size={16} aria-hidden />
            </button>
          </div>
          <div className="min-h-0 overflow-y-auto p-0.5">{children}</div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
