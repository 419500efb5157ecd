/** Names that no file may have on one system or another, whatever its ending. */
const RESERVED = /^(con|prn|aux|nul|com[1-9]|lpt[1-9])$/i;

/** A file name without ending, made of characters that every file system takes; at most 120. */
export function legalName(name: string): string {
  const clean = name
    .replace(/[<>:"/\\|?*\x00-\x1f]/g, '_')
    .replace(/^[. ]+|[. ]+$/g, '')
    .slice(0, 120);
  return RESERVED.test(clean) ? `${clean}_` : clean || 'drawing';
}

/** A file name without its folder and ending, made of characters that every file system takes. */
export const baseName = (name: string): string =>
  legalName(name.replace(/^.*[\\/]/, '').replace(/\.[A-Za-z0-9]{1,5}$/, ''));
