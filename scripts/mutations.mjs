// Damage for fuzzing: the same seed gives the same damage. Text files lose, double and swap lines and get numbers that
// hurt; any file loses bytes and bits.

/** Park and Miller's generator, 0 to 1. */
export function generator(seed) {
  let s = (seed % 2147483646) + 1;
  return () => (s = (s * 48271) % 2147483647) / 2147483647;
}

/** Numbers at the edges of what doubles, counts and drawings hold. */
const HURTFUL = [
  '0',
  '-0',
  '1',
  '-1',
  '1e-308',
  '1e308',
  '-1e300',
  '1e-17',
  '4.9e-324',
  '1e50',
  '1e16',
  '2147483647',
  '-2147483648',
  '4294967296',
  '99999999999999999999',
  'NaN',
  'Infinity',
  '1.#INF',
  '',
  '1,5',
  '0.5',
  '360',
  '89.99999999',
  '1e9',
  '3',
  '7',
  '256',
  '65536',
  '0.1',
];

const bytesOf = (text) => new TextEncoder().encode(text);

const pick = (list, random) => list[Math.floor(random() * list.length)];

/** A copy with a few bytes changed, cut out, doubled or moved. */
function bytewise(source, random) {
  const at = () => Math.floor(random() * source.length);
  const [a, b] = [at(), at()].sort((p, q) => p - q);
  const piece = source.subarray(a, Math.min(b, a + 400));
  switch (Math.floor(random() * 4)) {
    case 0: {
      const copy = source.slice();
      for (let i = 0; i < 1 + random() * 12; i++) copy[at()] = Math.floor(random() * 256);
      return copy;
    }
    case 1:
      return source.slice(0, a);
    case 2:
      return Buffer.concat([source.subarray(0, a), source.subarray(a + piece.length)]);
    default:
      return Buffer.concat([source.subarray(0, a), piece, piece, source.subarray(a)]);
  }
}

/** Lines of a DXF: values made hurtful, lines lost, doubled, swapped; whole records moved. */
function linewise(source, random) {
  const lines = new TextDecoder('latin1').decode(source).split(/\r?\n/);
  const at = () => Math.floor(random() * lines.length);
  for (let n = 1 + Math.floor(random() * 6); n > 0; n--) {
    const i = at();
    switch (Math.floor(random() * 6)) {
      case 0:
      case 1: {
        // A value that is a number, with its code above it left alone.
        for (let k = i; k < Math.min(lines.length, i + 60); k++)
          if (/^\s*-?\d+\.\d*/.test(lines[k])) {
            lines[k] = pick(HURTFUL, random);
            break;
          }
        break;
      }
      case 2:
        lines[i] = pick(HURTFUL, random);
        break;
      case 3:
        lines.splice(i, 1 + Math.floor(random() * 8));
        break;
      case 4:
        lines.splice(i, 0, ...lines.slice(i, i + Math.floor(random() * 40)));
        break;
      default:
        [lines[i], lines[at()]] = [lines[at()], lines[i]];
    }
  }
  return Buffer.from(lines.join('\n'), 'latin1');
}

/** Numbers and words of an SVG changed for others, pieces of it doubled or nested. */
function markupwise(source, random) {
  let text = new TextDecoder().decode(source);
  for (let n = 1 + Math.floor(random() * 6); n > 0; n--) {
    const i = Math.floor(random() * text.length);
    const number = /-?\d*\.?\d+(e-?\d+)?/g;
    number.lastIndex = i;
    const found = number.exec(text);
    switch (Math.floor(random() * 4)) {
      case 0:
      case 1:
        if (found)
          text = text.slice(0, found.index) + pick(HURTFUL, random) + text.slice(found.index + found[0].length);
        break;
      case 2: {
        const end = text.indexOf('>', i) + 1;
        if (end > 0) text = text.slice(0, end) + text.slice(i, end) + text.slice(end);
        break;
      }
      default:
        text = text.slice(0, i) + text.slice(i + Math.floor(random() * 30));
    }
  }
  return bytesOf(text);
}

/** A damaged copy of a file, by its kind. */
export function damaged(source, name, seed) {
  const random = generator(seed);
  for (let k = 0; k < 5; k++) random();
  if (/\.dxf$/i.test(name) && random() < 0.8) return linewise(source, random);
  if (/\.svg$/i.test(name) && random() < 0.8) return markupwise(source, random);
  return bytewise(source, random);
}
