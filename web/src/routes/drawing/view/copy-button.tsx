import { Copy } from 'lucide-react';
import { useCopy } from '../../../parts/use-copy';

/** Puts a text on the clipboard, and says so. */
export function CopyButton({ text, what }: { text: string; what: string }) {
  const putOnClipboard = useCopy();
  const copy = (): void => putOnClipboard(text, `Copied ${what}.`, 'Select the numbers and copy them by hand.');
  return (
    <button
      type="button"
      className="p-1 hover:bg-wash"
      aria-label={`Copy ${what}`}
      title={`Copy ${what}`}
      onClick={copy}
    >
      <Copy size={14} aria-hidden />
    </button>
  );
}
