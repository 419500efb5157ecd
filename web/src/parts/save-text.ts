/** How long what is saved stays at its address: the browser may ask for it a moment later. */
const HELD_MS = 10_000;

/** Saves a text under a name; without a name it is opened in another window. */
export function saveText(text: string, type: string, name: string | null): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([text], { type }));
  if (name === null) link.target = '_blank';
  else link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), HELD_MS);
}

/** A table as spreadsheets open it: the mark at its beginning says that it is UTF-8. */
export const saveCsv = (csv: string, name: string): void => saveText(`\ufeff${csv}`, 'text/csv;charset=utf-8', name);
