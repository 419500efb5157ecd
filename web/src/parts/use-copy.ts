import { useNotice } from './notice';

/** Puts a text on the clipboard and says so; where the browser does not let the page, says what else can be done. */
export function useCopy(): (text: string, said: string, otherwise?: string) => void {
  const notice = useNotice();
  return (text, said, otherwise = '') =>
    void navigator.clipboard.writeText(text).then(
      () => notice({ text: said }),
      () => notice({ text: `The browser does not let this page copy. ${otherwise}`.trim(), alarm: true }),
    );
}
