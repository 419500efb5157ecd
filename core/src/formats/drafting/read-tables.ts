import type { Drawing, Layer } from '../../drawing/drawing.js';
import { newLayer } from '../../drawing/drawing.js';
import { paintOf } from './read-look.js';
import { handleOf, parseRaw } from './raw-tags.js';
import { isSame } from '../../geometry/tolerance.js';
import { extendedOf, recordCodes, restOf } from './rest.js';
import type { Bag } from './bag.js';
import { faceOf } from './font-faces.js';

/** What a block record says about the block that the BLOCKS section defines later. */
export interface BlockRecord {
  key?: string;
  unitCode?: number;
  rest?: string;
}

const LAYER = recordCodes(6, 62, 70, 290, 370, 420);
const LTYPE = recordCodes(3, 40, 49, 70, 72, 73, 74);
const STYLE = recordCodes(3, 4, 40, 41, 42, 50, 70, 71);
const BLOCK_RECORD = recordCodes(70, 340);
/** Of the head of DIMSTYLE come the handles of its records too (71 and 340), which follow from the records. */
const HEAD = recordCodes(70, 71, 340);

/** The codes of a DIMSTYLE that say something of the style itself rather than of the record. */
const isStyleTag = (code: number): boolean =>
  code >= 3 && code < 400 && ![5, 70, 100, 102, 105, 330, 360].includes(code);
const FLAGS = 70;
/** Beside a handle in 105, group 5 is the name of an arrow block. */
const ARROW = 5;

/** Gathers the records of the TABLES section into a drawing. */
export class TableReader {
  /** Block records by lower-case name. */
  readonly blockRecords = new Map<string, BlockRecord>();
  private readonly names = new Map<string, string>();
  private table = '';

  constructor(private readonly drawing: Drawing) {}

  /** The name of the block whose record has a handle. */
  blockName(handle: string): string | undefined {
    return this.names.get(handle);
  }

  /** What the head of a table says beyond its count: groups in braces, which hang a dictionary on it. */
  private head(b: Bag): void {
    const rest = restOf(b, HEAD);
    const key = handleOf(b.text(5));
    if (rest !== undefined && key) this.drawing.carried.heads.set(this.table, { key, rest });
  }

  /** Takes in the record that the bag holds. */
  read(type: string, b: Bag): void {
    const d = this.drawing;
    switch (type) {
      case 'TABLE':
        this.table = b.text(2);
        this.head(b);
        return;
      case 'ENDTAB':
        this.table = '';
        return;
      case 'LAYER':
        d.layers.push(readLayer(b));
        return;
      case 'LTYPE': {
        const complex = b.numbers(74).some((f) => f !== 0);
        d.linetypes.push({
          name: b.text(2),
          description: b.text(3),
          pattern: b.numbers(49),
          ...statedLength(b),
          ...flagsOf(b, 112),
          ...keyed(b),
          ...(complex ? { complex: b.rawFrom(0) } : rested(b, LTYPE)),
        });
        return;
      }
      case 'STYLE': {
        const generation = b.integer(71);
        const face = faceOf(b);
        d.textStyles.push({
          name: b.text(2),
          font: b.text(3),
          ...(face && { face }),
          bigFont: b.text(4),
          fixedHeight: b.number(40),
          widthFactor: b.number(41, 1),
          oblique: b.radians(50),
          ...((generation & 2) !== 0 && { backwards: true }),
          ...((generation & 4) !== 0 && { upsideDown: true }),
          ...((b.integer(70) & 1) !== 0 && { shapes: true }),
          ...((b.integer(70) & 4) !== 0 && { vertical: true }),
          ...(b.has(42) && { lastHeight: b.number(42) }),
          ...flagsOf(b, 112),
          ...keyed(b),
          ...rested(b, STYLE),
        });
        return;
      }
      case 'DIMSTYLE': {
        const tags: [number, string][] = [];
        let handle: string | null = null;
        let flagged = false;
        for (let i = 0; i < b.count; i++) {
          const code = b.codes[i]!;
          if (code === 105) handle = handleOf(b.textAt(i));
          // The flags of the record come first; 70 once more is the colour behind its texts ($DIMTFILLCLR).
          else if (code === FLAGS && !flagged) flagged = true;
          else if (code === FLAGS) tags.push([code, b.textAt(i)]);
          else if (isStyleTag(code) || (code === ARROW && (b.has(105) || d.version === 'R12')))
            tags.push([code, b.textAt(i)]);
        }
        const extended = extendedOf(b);
        d.dimensionStyles.push({
          name: b.text(2),
          tags,
          ...flagsOf(b, 112),
          ...(handle && { key: handle }),
          ...(extended !== undefined && { rest: extended }),
        });
        return;
      }
      case 'APPID':
        d.applications.push(b.text(2));
        return;
      case 'BLOCK_RECORD': {
        const unitCode = b.integer(70, -1);
        const { key } = keyed(b);
        if (key) this.names.set(key, b.text(2));
        this.blockRecords.set(b.text(2).toLowerCase(), {
          ...(key && { key }),
          ...(unitCode > 0 && { unitCode }),
          ...rested(b, BLOCK_RECORD),
        });
        return;
      }
      default: {
        const list = d.carried.tables.get(this.table || type);
        const key = handleOf(b.text(5)) ?? '';
        const record = { type, key, raw: b.rawFrom(0) };
        if (list) list.push(record);
        else d.carried.tables.set(this.table || type, [record]);
      }
    }
  }
}

/** The flags of a record (70) among those of `mask`. */
function flagsOf(b: Bag, mask: number): { flags?: number } {
  const flags = b.integer(70) & mask;
  return flags === 0 ? {} : { flags };
}

/** The length of a linetype's pattern (40) where it is another than its dashes and gaps add up to. */
function statedLength(b: Bag): { stated?: number } {
  const stated = b.number(40);
  const sum = b.numbers(49).reduce((n, p) => n + Math.abs(p), 0);
  return b.has(40) && !isSame(stated, sum) ? { stated } : {};
}

const keyed = (b: Bag): { key?: string } => {
  const key = handleOf(b.text(5));
  return key ? { key } : {};
};

/** What a record says beyond `known`, extended data included. */
function rested(b: Bag, known: Uint8Array): { rest?: string } {
  const rest = (restOf(b, known) ?? '') + (extendedOf(b) ?? '');
  return rest === '' ? {} : { rest };
}

function readLayer(b: Bag): Layer {
  const color = b.integer(62, 7);
  const flags = b.integer(70);
  const weight = b.integer(370, -3);
  const layer: Layer = {
    ...newLayer(b.text(2), paintOf(Math.abs(color) || 7, b.has(420) ? b.integer(420) & 0xffffff : -1)),
    linetype: b.text(6, 'Continuous'),
    weight: weight >= 0 ? weight / 100 : null,
    off: color < 0,
    frozen: (flags & 1) !== 0,
    locked: (flags & 4) !== 0,
    plotted: b.integer(290, 1) !== 0,
    ...flagsOf(b, 114),
    ...keyed(b),
    ...rested(b, LAYER),
  };
  const opacity = layer.rest ? transparencyIn(layer.rest) : null;
  if (opacity !== null && opacity < 1) return { ...layer, opacity };
  return layer;
}

/** A layer's opacity stands in extended data of AcCmTransparency: 1071 with 0x020000TT, TT the opacity. */
export function transparencyIn(extended: string): number | null {
  let application = '';
  for (const [code, value] of parseRaw(extended)) {
    if (code === 1001) application = value.trim().toUpperCase();
    else if (code === 1071 && application === 'ACCMTRANSPARENCY') {
      const n = Number(value);
      return n >>> 24 === 2 ? (n & 255) / 255 : 1;
    }
  }
  return null;
}
