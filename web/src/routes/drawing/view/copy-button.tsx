import { Copy } from 'lucide-react';
import { useNotice } from '../../../parts/notice';

/** Puts a text on the clipboard, and says so. */
export function CopyButton({ text, what }: { text: string; what: string }) {
  const notice = useNotice();
  const copy = (): void => {
    navigator.clipboard.writeText(text).then(
      () => notice({ text: `Copied ${what}.` }),
      () =>
        notice({
          text: 'The browser does not let this page copy. Select the numbers and copy them by hand.',
          alarm: true,
        }),
    );
  };
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
