import { boundsOf } from '../../drawing/measures.js';
import type { Drawing } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import { Ledger } from '../../drawing/ledger.js';
import { unitOf } from '../../drawing/units.js';
import type { WriteOptions, Work, Writing } from '../format.js';
import { checkStop } from '../format.js';
import { Handles } from './handles.js';
import { NameTable } from './names.js';
import { TagWriter } from './tag-writer.js';
import { StructureWriter } from './write-structure.js';
import type { EntityContext } from './write-entities.js';
import { dashName, styleFor, writeEntity } from './write-entities.js';

/** Versions that can be written, with the value of $ACADVER. */
export const WRITABLE_VERSIONS: Record<string, string> = {
  '2000': 'AC1015',
  '2004': 'AC1018',
  '2007': 'AC1021',
  '2010': 'AC1024',
  '2013': 'AC1027',
  '2018': 'AC1032',
};

/**
 * Writes model space, its blocks, layers, linetypes and text styles as an ASCII DXF that is complete: every table,
 * owner and dictionary that version 2000 and later ask for. Sheets (paper space) are left out and named in the ledger.
 */
export function writeDxf(drawing: Drawing, options: WriteOptions, work?: Work): Writing {
  const version = WRITABLE_VERSIONS[options.version ?? '2010'];
  if (!version)
    throw new RangeError(
      `DXF version "${options.version}" cannot be written; one of ${Object.keys(WRITABLE_VERSIONS).join(', ')}`,
    );
  const ledger = new Ledger('write');
  const sameFormat = drawing.format === 'dxf';
  const handles = new Handles(drawing);
  const body = new TagWriter(version >= 'AC1021');
  const names = (): NameTable => new NameTable(sameFormat);
  const layers = names();
  layers.nameFor('0');
  for (const l of drawing.layers) layers.nameFor(l.name);
  const found = collect(drawing);
  const linetypes = names();
  const knownLinetypes = new Set([
    'bylayer',
    'byblock',
    'continuous',
    ...drawing.linetypes.map((l) => l.name.toLowerCase()),
  ]);
  const x: EntityContext = {
    out: body,
    ledger,
    handles,
    layers,
    blocks: new NameTable(sameFormat, true),
    linetypes,
    styles: names(),
    knownLinetypes,
    fonts: options.fonts,
    sameFormat,
    trueColour: version >= 'AC1018',
    mmPerUnit: unitOf(options.unit).mm,
    splineFit: version >= 'AC1024',
  };
  const structure = new StructureWriter(x, drawing, found);

  // Entities first, so that all handles are known when the header names the seed.
  body.string(0, 'SECTION');
  body.string(2, 'BLOCKS');
  structure.blockDefinitions();
  body.string(0, 'ENDSEC');
  body.string(0, 'SECTION');
  body.string(2, 'ENTITIES');
  let n = 0;
  let sheets = 0;
  for (const e of drawing.entities) {
    if (++n % 2048 === 0) {
      checkStop(work);
      work?.onProgress?.(n / drawing.entities.length);
    }
    if (e.sheet !== undefined) sheets++;
    else writeEntity(x, e, structure.modelSpace);
  }
  body.string(0, 'ENDSEC');
  structure.objects();
  body.string(0, 'EOF');
  if (sheets > 0) {
    ledger.add({
      carryOver: 'links',
      action: 'dropped',
      reason: 'entities on sheets (paper space) are left out',
      count: sheets,
      onPurpose: true,
    });
  }
  for (const [from, to] of layers.renamed) {
    ledger.add({
      carryOver: 'layers',
      action: 'changed',
      reason: `layer "${from}" is called "${to}", since DXF does not allow its name`,
      renamed: { from, to },
    });
  }

  const front = new TagWriter(version >= 'AC1021');
  structure.header(front, version, boundsOf(drawing), options.unit);
  structure.classes(front);
  structure.tables(front);
  const a = front.bytes();
  const b = body.bytes();
  const bytes = new Uint8Array(a.length + b.length);
  bytes.set(a);
  bytes.set(b, a.length);
  return { bytes, ledger: ledger.rows };
}

/** What entities name and the tables must therefore list. */
export interface Collected {
  /** Linetypes made for dashes by length. */
  dashes: Map<string, readonly number[]>;
  /** Font families that text asks for. */
  families: Set<string>;
  /** Text styles that text names. */
  styles: Set<string>;
}

function collect(drawing: Drawing): Collected {
  const dashes = new Map<string, readonly number[]>();
  const families = new Set<string>();
  const styles = new Set<string>();
  const meet = (e: Entity): void => {
    if (e.look.dash.kind === 'lengths' && e.look.dash.lengths.length > 0)
      dashes.set(dashName(e.look.dash.lengths), e.look.dash.lengths);
    if (e.kind === 'text') {
      if (e.style !== undefined) styles.add(e.style);
      else if (e.font) families.add(styleFor(e));
    }
    if (e.kind === 'richText' && e.style) styles.add(e.style);
    if (e.kind === 'insert') e.attributes.forEach(meet);
  };
  drawing.entities.forEach(meet);
  for (const b of drawing.blocks.values()) b.entities.forEach(meet);
  return { dashes, families, styles };
}
