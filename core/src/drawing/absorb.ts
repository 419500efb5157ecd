import type { Appearance } from './appearance.js';
import type { Block, DimensionStyle, Drawing, GroupNode, Layer, Linetype, TextStyle } from './drawing.js';
import { layerKey } from './drawing.js';
import type { Draft, Entity } from './entity.js';

/** How names of a drawing that is taken in become names of the one it is taken into. */
export interface Absorbing {
  /** The layer that a layer of it becomes; layer 0 stays, since it stands for the layer a block is placed on. */
  layer(name: string): string;
  /** A name for a record of its own where the drawing has another of that name. */
  apart(name: string): string;
}

/** What became of a drawing that was taken into another. */
export interface Absorbed {
  readonly drawing: Drawing;
  /** What lay in its model space, with ids and names of the drawing it is in now; not yet placed anywhere. */
  readonly entities: readonly Entity[];
  /** The blocks that came with it, by key. */
  readonly blocks: readonly string[];
  /** What only its own file could hold: objects carried unread, objects with data of its own, and linetypes with letters in them. */
  readonly unread: number;
  readonly withData: number;
  readonly simplified: number;
}

/**
 * Takes the model space of one drawing into another of the same unit and the same kind of format: layers, linetypes, text and
 * dimension styles and blocks come along. A record of the same name and the same meaning is the same one; another one of a
 * name that is taken gets a name of its own. Handles stay behind, and so do sheets.
 */
export function absorb(into: Drawing, from: Drawing, names: Absorbing): Absorbed {
  let nextId = into.nextId;
  const layers = layersOf(into, from, names);
  const linetypes = recordsOf(into.linetypes, from.linetypes, names, ofLinetype);
  const textStyles = recordsOf(into.textStyles, from.textStyles, names, ofTextStyle);
  const dimensionStyles = recordsOf(into.dimensionStyles, from.dimensionStyles, names, ofDimensionStyle);
  const blockNames = blockNamesOf(into, from, names);
  const nodes: GroupNode[] = from.nodes.map(({ name, parent, hidden }) => ({
    name,
    parent: parent === null ? null : parent + into.nodes.length,
    hidden,
  }));
  let [unread, withData] = [0, 0];

  const looks = new Map<Appearance, Appearance>();
  const lookOf = (look: Appearance): Appearance => {
    let known = looks.get(look);
    if (!known) {
      const { dash } = look;
      const name = dash.kind === 'linetype' ? linetypes.name(dash.name) : null;
      known = dash.kind === 'linetype' && name !== dash.name ? { ...look, dash: { ...dash, name: name! } } : look;
      looks.set(look, known);
    }
    return known;
  };
  const own = (e: Entity): Entity | null => {
    if (e.kind === 'opaque') {
      unread++;
      return null;
    }
    if (e.extended !== undefined || e.rest !== undefined) withData++;
    const { key: _k, extended: _x, rest: _r, ...plain } = e;
    const made = { ...plain, id: nextId++, layer: layers.name(e.layer), look: lookOf(e.look) } as Draft<Entity>;
    if (made.node !== undefined) made.node += into.nodes.length;
    switch (made.kind) {
      case 'text':
      case 'richText':
        if (made.style !== undefined) made.style = textStyles.name(made.style);
        break;
      case 'dimension':
      case 'leader':
        made.style = dimensionStyles.name(made.style);
        if (made.kind === 'dimension' && made.picture !== undefined) made.picture = blockNames(made.picture);
        break;
      case 'insert':
        made.block = blockNames(made.block);
        made.attributes = made.attributes.map((a) => own(a) as typeof a);
        break;
      case 'mesh':
        if (made.faceLooks)
          made.faceLooks = made.faceLooks.map((f) => f && { layer: layers.name(f.layer), look: lookOf(f.look) });
        break;
    }
    return made as Entity;
  };
  const taken = (list: readonly Entity[]): Entity[] => list.flatMap((e) => own(e) ?? []);

  const blocks = new Map(into.blocks);
  const added: string[] = [];
  for (const b of from.blocks.values()) {
    if (b.sheet) continue;
    const name = blockNames(b.name);
    const { key: _k, beginKey: _b, endKey: _e, rest: _r, beginRest: _s, ...plain } = b;
    const block: Block = {
      ...plain,
      name,
      entities: taken(b.entities),
      ...(b.layer !== undefined && { layer: layers.name(b.layer) }),
    };
    blocks.set(name.toLowerCase(), block);
    added.push(name.toLowerCase());
  }
  const entities = taken(from.entities.filter((e) => e.sheet === undefined));
  const drawing: Drawing = {
    ...into,
    layers: layers.list,
    linetypes: linetypes.list,
    textStyles: textStyles.list,
    dimensionStyles: dimensionStyles.list,
    nodes: [...into.nodes, ...nodes],
    blocks,
    nextId,
  };
  const simplified = from.linetypes.filter((l) => l.complex !== undefined).length;
  return { drawing, entities, blocks: added, unread, withData, simplified };
}

/** A table as it is afterwards, and the name by which a record of the other goes in it. */
interface Table<T> {
  readonly list: T[];
  name(of: string): string;
}

/** Names that stand for what is around rather than for a record. */
const STANDING_IN = new Set(['bylayer', 'byblock', 'continuous', '']);

function recordsOf<T extends { readonly name: string }>(
  into: readonly T[],
  from: readonly T[],
  names: Absorbing,
  meaning: (record: T) => T,
): Table<T> {
  const list = [...into];
  const byName = new Map(into.map((r) => [r.name.toLowerCase(), r]));
  const to = new Map<string, string>();
  for (const record of from) {
    const key = record.name.toLowerCase();
    if (STANDING_IN.has(key)) continue;
    const plain = meaning(record);
    const there = byName.get(key);
    if (there && sayTheSame(meaning(there), plain)) {
      to.set(key, there.name);
      continue;
    }
    const name = there ? freeName(names.apart(record.name), (n) => byName.has(n)) : record.name;
    const added = { ...plain, name };
    byName.set(name.toLowerCase(), added);
    list.push(added);
    to.set(key, name);
  }
  return { list, name: (of) => to.get(of.toLowerCase()) ?? of };
}

const sayTheSame = (a: object, b: object): boolean => {
  const plain = (r: object): string =>
    JSON.stringify(Object.entries({ ...r, name: '' }).sort(([p], [q]) => (p < q ? -1 : 1)));
  return plain(a) === plain(b);
};

// Handles belong to the file a record stands in, and so does what is said in tags that the model has no word for.
const ofLinetype = ({ key: _k, rest: _r, flags: _f, complex: _c, ...plain }: Linetype): Linetype => plain;
const ofTextStyle = ({ key: _k, rest: _r, flags: _f, lastHeight: _l, ...plain }: TextStyle): TextStyle => plain;
const ofDimensionStyle = ({ name, tags }: DimensionStyle): DimensionStyle => ({
  name,
  tags: tags.filter(([code]) => (code < 330 || code > 369) && code !== 105 && code !== 5),
});

function layersOf(into: Drawing, from: Drawing, names: Absorbing): Table<Layer> {
  const list = [...into.layers];
  const known = new Map(list.map((l) => [layerKey(into, l.name), l.name]));
  const nameOf = (name: string): string => {
    if (name === '0') return name;
    const made = names.layer(name);
    return known.get(layerKey(into, made)) ?? made;
  };
  for (const { key: _k, rest: _r, flags: _f, parent, ...plain } of from.layers) {
    const name = nameOf(plain.name);
    if (known.has(layerKey(into, name))) continue;
    known.set(layerKey(into, name), name);
    list.push({ ...plain, name, ...(parent !== undefined && { parent: nameOf(parent) }) });
  }
  return { list, name: nameOf };
}

/** Blocks keep their names where those are free; those that dimensions are shown by have none of meaning. */
function blockNamesOf(into: Drawing, from: Drawing, names: Absorbing): (name: string) => string {
  const taken = new Set(into.blocks.keys());
  const to = new Map<string, string>();
  for (const { name, sheet } of from.blocks.values()) {
    if (sheet) continue;
    const made = taken.has(name.toLowerCase()) ? freeName(names.apart(name), (n) => taken.has(n)) : name;
    taken.add(made.toLowerCase());
    to.set(name.toLowerCase(), made);
  }
  return (name) => to.get(name.toLowerCase()) ?? name;
}

function freeName(name: string, isTaken: (key: string) => boolean): string {
  if (!isTaken(name.toLowerCase())) return name;
  for (let n = 2; ; n++) if (!isTaken(`${name}-${n}`.toLowerCase())) return `${name}-${n}`;
}
