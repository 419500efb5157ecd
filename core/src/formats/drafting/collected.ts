import type { Drawing } from '../../drawing/drawing.js';
import type { Entity, FontRequest } from '../../drawing/entity.js';
import { dashName } from './entity-tags.js';
import { faceName } from './font-faces.js';

/** What entities name and the tables must therefore list. */
export interface Collected {
  /** Linetypes made for dashes by length. */
  dashes: Map<string, readonly number[]>;
  /** Fonts that text asks for, by the name of their text style. */
  faces: Map<string, FontRequest>;
  /** Text styles that text names. */
  styles: Set<string>;
  /** Applications that extended data names. */
  applications: Set<string>;
  /** Kinds of records that need a class. */
  kinds: Set<string>;
}

/** Goes through all entities once. */
export function collect(drawing: Drawing): Collected {
  const dashes = new Map<string, readonly number[]>();
  const faces = new Map<string, FontRequest>();
  const styles = new Set<string>();
  const applications = new Set<string>();
  const named = (extended: string | undefined): void => {
    if (extended)
      for (const [, name] of extended.matchAll(/(?:^|\n)\s*1001\r?\n([^\r\n]*)/g)) applications.add(name!.trim());
  };
  const kinds = new Set(['ACDBDICTIONARYWDFLT', 'ACDBPLACEHOLDER', 'LAYOUT', 'LWPOLYLINE', 'HATCH']);
  const meet = (e: Entity): void => {
    if (e.extended !== undefined) named(e.extended);
    if (e.look.dash.kind === 'lengths' && e.look.dash.lengths.length > 0)
      dashes.set(dashName(e.look.dash.lengths), e.look.dash.lengths);
    if (e.kind === 'text') {
      if (e.style !== undefined) styles.add(e.style);
      else for (const f of [e.font, ...(e.runs ?? []).map((r) => r.font)]) if (f) faces.set(faceName(f), f);
    }
    if (e.kind === 'richText' && e.style) styles.add(e.style);
    if (e.kind === 'insert') e.attributes.forEach(meet);
    if (e.kind === 'opaque') {
      e.drawn?.forEach(meet);
      kinds.add(e.type);
    }
    if (e.kind === 'image')
      for (const k of e.cover ? ['WIPEOUT'] : ['IMAGE', 'IMAGEDEF', 'IMAGEDEF_REACTOR']) kinds.add(k);
    if (e.kind === 'dimension' && e.form === 'arc') kinds.add('ARC_DIMENSION');
  };
  drawing.entities.forEach(meet);
  for (const b of drawing.blocks.values()) b.entities.forEach(meet);
  for (const o of drawing.carried.objects) kinds.add(o.type);
  for (const list of [drawing.layers, drawing.linetypes, drawing.textStyles, drawing.dimensionStyles])
    for (const r of list) named(r.rest);
  return { dashes, faces, styles, applications, kinds };
}
