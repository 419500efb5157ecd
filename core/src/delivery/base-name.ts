/** A file name without its folder and ending, made of characters that every file system takes. */
export function baseName(name: string): string {
  const last = name.replace(/^.*[\\/]/, '').replace(/\.[A-Za-z0-9]{1,5}$/, '');

  const clean = last
    .replace(/[<>:"/\\|?*\x00-\x1f]/g, '_')
    .replace(/^[. ]+|[. ]+$/g, '')
    .slice(0, 120);
  return clean || 'drawing';
}
