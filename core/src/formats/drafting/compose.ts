import { because } from '../../drawing/reasons.js';
import type { Box2 } from '../../geometry/box.js';
import { boundsOf } from '../../drawing/bounds.js';
import type { Drawing } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import { isDrafting } from '../../drawing/drawing.js';
import { Ledger } from '../../drawing/ledger.js';
import { unitOf } from '../../drawing/units.js';
import type { WriteOptions, Work } from '../format.js';
import { checkStop } from '../format.js';
import type { EntityContext } from './entity-tags.js';
import { EntityTags } from './entity-tags.js';
import { collect } from './collected.js';
import { writeEntity } from './write-entities.js';
import { withDimensionBlocks } from './dimension-blocks.js';
import { HandleSet } from './handle-set.js';
import { Handles, forEachKey, handleNumber } from './handles.js';
import { NameTable } from './names.js';
import type { Place } from './places.js';
import { placesOf } from './places.js';
import { Pointers } from './pointers.js';
import { VERSION_NAMES } from './record-reader.js';
import { forRelease12 } from './release12.js';
import type { TagSink } from './tag-sink.js';
import { abilitiesOf } from './versions.js';
import { BlockWriter, sheetsOf } from './write-blocks.js';
import { writeClasses } from './write-classes.js';
import { writeHeader } from './write-header.js';
import { PictureDefinitions } from './picture-definitions.js';
import { GroupGatherer } from './write-groups.js';
import { ObjectWriter } from './write-objects.js';
import { TableWriter } from './write-tables.js';

/** A form that drafting records are written in. */
export interface RecordForm<S extends TagSink> {
  /** What people call it. */
  name: string;
  /** The value of $ACADVER. */
  version: string;
  sink(): S;
  /** Whether it has a place for a record that is carried in its own form. */
  holds(type: string, raw: string): boolean;
}

/** What a drawing comes to as records: header and classes, tables, and all else in the order of a DXF. */
export interface Composed<S extends TagSink> {
  front: S;
  tables: S;
  body: S;
  ledger: Ledger;
  /** What is drawn in model space. */
  extents: Box2;
}

/** The records of a drafting file of a version, whatever form they take. */
export function composeRecords<S extends TagSink>(
  source: Drawing,
  options: WriteOptions,
  form: RecordForm<S>,
  work?: Work,
): Composed<S> {
  const { version } = form;
  const ledger = new Ledger('write');
  const abilities = abilitiesOf(version);
  const whole = withDimensionBlocks(source, ledger);
  const drawing = abilities.r12 ? forRelease12(whole, options, ledger, work) : whole;
  const sameFormat = isDrafting(drawing);
  const names = (): NameTable => new NameTable(sameFormat, false, abilities.r12);
  const handles = new Handles(drawing);
  const body = form.sink();
  const found = collect(drawing);
  let keys: () => string[] = () => [];
  let entitiesWritten = false;
  let places: Map<Entity, Place[]> | null = null;
  let tolerance: number | undefined;
  const x: EntityContext = {
    ...abilities,
    out: body,
    ledger,
    handles,
    pointers: new Pointers(() => {
      const known = new HandleSet();
      const add = (key: string | undefined): void => void known.addNumber(handleNumber(key));
      keys().forEach(add);
      if (!sameFormat) return known;
      // Once the entities are written, those that kept their handles are known without asking each.
      forEachKey({ ...drawing, carried: { ...drawing.carried, objects: [] } }, add, entitiesWritten ? undefined : add);
      if (entitiesWritten) handles.addKept(known);
      return known;
    }),
    layers: names(),
    blocks: new NameTable(sameFormat, true, abilities.r12),
    linetypes: names(),
    styles: names(),
    dimensionStyles: names(),
    tableHeads: drawing.carried.heads,
    knownLinetypes: new Set([
      'bylayer',
      'byblock',
      'continuous',
      ...drawing.linetypes.map((l) => l.name.toLowerCase()),
    ]),
    fonts: options.fonts,
    sameFormat,
    sameVersion: sameFormat && VERSION_NAMES[version] === drawing.version,
    form: form.name,
    holds: (type, raw) => form.holds(type, raw),
    mmPerUnit: unitOf(options.unit).mm,
    paper: false,
    groups: new GroupGatherer(drawing),
    pictures: new PictureDefinitions(() => handles.fresh()),
    modelSpace: () => '',
    curves: options.curves ?? 'spline',
    // Few drawings need it.
    get tolerance() {
      return (tolerance ??= options.tolerance ?? (boundsOf(drawing, { hidden: true }).diagonal * 1e-5 || 1e-5));
    },
    unit: options.unit,
    layerHandle: () => undefined,
    placesOf: (e) => {
      places ??= placesOf(drawing, (p) => p.kind === 'path' || p.look.fill.kind !== 'none');
      return places.get(e) ?? [];
    },
  };
  if (abilities.oneSheet && !abilities.r12) noteRelease14(ledger, options);
  x.layers.nameFor('0');
  for (const l of drawing.layers) x.layers.nameFor(l.name);
  const w = new EntityTags(x, writeEntity);
  const sheets = sheetsOf(drawing).slice(0, abilities.oneSheet ? 1 : undefined);
  const objects = new ObjectWriter(x, drawing, sheets);
  keys = () => objects.keys();
  const tables = new TableWriter(w, drawing, found, objects.plotStyle);
  x.layerHandle = (name) => tables.layerHandle(name);
  const blocks = new BlockWriter(w, drawing, sheets, (s) => objects.layoutOf(s));
  x.modelSpace = () => blocks.model.record;

  // Entities first, so that all handles are known when the header names the seed.
  body.string(0, 'SECTION');
  body.string(2, 'BLOCKS');
  blocks.definitions();
  body.string(0, 'ENDSEC');
  body.string(0, 'SECTION');
  body.string(2, 'ENTITIES');
  let n = 0;
  blocks.entities(() => {
    if (++n % 2048 !== 0) return;
    checkStop(work);
    work?.onProgress?.(n / drawing.entities.length);
  });
  body.string(0, 'ENDSEC');
  entitiesWritten = true;
  if (!abilities.r12) {
    objects.write((sheet) => (sheet === null ? blocks.model : blocks.sheets.find((s) => s.sheet === sheet)!).record);
    // The binary parts of solids came with version 2013; sections nobody knows go back as they are.
    for (const s of sameFormat ? drawing.carried.sections : []) {
      if (s.name === 'ACDSDATA' && version < 'AC1027') continue;
      body.string(0, 'SECTION');
      body.string(2, s.name);
      body.raw(s.raw);
      body.string(0, 'ENDSEC');
    }
  }
  body.string(0, 'EOF');
  noteRenamed(ledger, x);

  const front = form.sink();
  // Tables before the header: they still take handles.
  const tableSink = form.sink();
  tableSink.string(0, 'SECTION');
  tableSink.string(2, 'TABLES');
  tables.write(tableSink);
  if (!abilities.r12) blocks.records(tableSink);
  tableSink.string(0, 'ENDSEC');
  const extents = boundsOf(drawing);
  writeHeader(x, front, drawing, extents, options.unit, options.unitless);
  if (!abilities.r12) writeClasses(x, front, drawing, found.kinds);
  return { front, tables: tableSink, body, ledger, extents };
}

/** What versions before 2000 have no word for whatever the drawing holds. */
function noteRelease14(ledger: Ledger, options: WriteOptions): void {
  ledger.add({
    carryOver: 'units',
    action: 'dropped',
    reason: because('r14-has-no-unit', { unit: options.unit }),
    onPurpose: true,
  });
}

function noteRenamed(ledger: Ledger, x: EntityContext): void {
  for (const [from, to] of x.layers.renamed) {
    ledger.add({
      carryOver: 'layers',
      action: 'changed',
      reason: because('layer-renamed', { from, to, form: x.r12 ? 'DXF R12' : x.form }),
      renamed: { from, to },
    });
  }
  for (const [from, to] of x.blocks.renamed) {
    ledger.add({
      carryOver: 'links',
      action: 'changed',
      reason: because('block-renamed', { from, to, form: x.r12 ? 'DXF R12' : x.form }),
      renamed: { from, to, of: 'block' },
    });
  }
}
