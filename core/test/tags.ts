/**
 * Tags of a DXF as they are read by people: group codes and values in turn, parted by blanks and line ends, what holds a blank between double quotes.
 * Numbers are numbers where they are written as such.
 */
export function tags(text: string): (string | number)[] {
  return [...text.matchAll(/"([^"]*)"|(\S+)/g)].map(([, quoted, plain]) => {
    if (quoted !== undefined) return quoted;
    return String(Number(plain)) === plain ? Number(plain) : plain!;
  });
}
