/** Names that no file may have on one system or another, whatever its ending. */
const RESERVED = /^(con|prn|aux|nul|com[1-9]|lpt[1-9])(?=\.|$)/i;

/** A file name without ending, made of characters that every file system takes; at most 120. */
export function legalName(name: string): string {
  // Composed letters are one letter: some disks take both forms for two names, others for one.
  const clean = name
    .normalize('NFC')
    .replace(/[<>:"/\\|?*\x00-\x1f\x7f]/g, '_')
    .replace(/^[. ]+/, '')
    .slice(0, 120)
    // No half of a letter that takes two places, and nothing that a disk would drop at the end.
    .replace(/[\ud800-\udbff]$/, '')
    .replace(/[. ]+$/, '');
  return clean.replace(RESERVED, '$1_') || 'drawing';
}

/** What a small file beside another is called: by that one's name, with an ending of its own. */
export const besideName = (fileName: string, ending: string): string => `${fileName.replace(/\.[^.]+$/, '')}.${ending}`;

/** A file name without its folder and ending, made of characters that every file system takes. */
export const baseName = (name: string): string =>
  legalName(name.replace(/^.*[\\/]/, '').replace(/\.[A-Za-z0-9]{1,5}$/, ''));
