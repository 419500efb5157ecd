import { derive } from './derive.js';
import { IDENTITY } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { PathData } from '../geometry/path.js';
import { PathBuilder } from '../geometry/path.js';
import { TooIntricate, newEffort } from '../geometry/crossings.js';
import { Region } from '../geometry/region.js';
import type { Appearance } from './appearance.js';
import { NO_PAINT } from './appearance.js';
import type { Drawing } from './drawing.js';
import type { Clip, Entity } from './entity.js';
import { croppedImage } from './cropped-image.js';
import type { Ledger } from './ledger.js';
import type { Lineage } from './lineage.js';
import { BoundsSink, addEntityBounds } from './measures.js';
import { outlinePath } from './outline-path.js';

/** Room that a letter takes, in ems, where no font is asked. */
const LETTER = 0.65;

/**
 * A drawing without clips: what a clip hides is left out, what it crosses is cut. A filled shape becomes the closed
 * outlines of what is left of it, a line the parts of it inside; curves stay parts of the same curves. Lines are cut
 * along their middle. Texts and pictures are kept whole where a clip crosses them, which the ledger says.
 */
export function cutToClips(drawing: Drawing, ledger: Ledger, lineage: Lineage): Drawing {
  if (!drawing.entities.some((e) => e.clipTo)) return drawing;
  const regions = new WeakMap<Clip, Region>();
  const effort = newEffort();
  const regionOf = (clip: Clip): Region => {
    let r = regions.get(clip);
    if (!r) regions.set(clip, (r = new Region(clip.shapes, effort)));
    return r;
  };
  const cut = (e: Entity, clip: Clip): Entity[] => {
    try {
      return cutEntity(e, clip, regionOf, ledger);
    } catch (error) {
      if (!(error instanceof TooIntricate)) throw error;
      ledger.add({
        carryOver: 'curves',
        action: 'approximated',
        id: e.id,
        reason: 'clip-crosses-too-often',
      });
      return [e];
    }
  };
  let nextId = drawing.nextId;
  const count = { cut: 0, pieces: 0, gone: 0 };
  const entities: Entity[] = [];
  for (const entity of drawing.entities) {
    const { clipTo: clip, ...rest } = entity;
    if (!clip) {
      entities.push(entity);
      continue;
    }
    const bare = rest as Entity;
    const made = cut(bare, clip);
    if (made.length === 1 && made[0] === bare) {
      entities.push(bare);
      lineage.replace(entity, made, 'clip-taken-off');
    } else if (made.length === 0) {
      count.gone++;
      lineage.remove(entity, 'hidden-by-clip');
    } else {
      count.cut++;
      count.pieces += made.length;
      const pieces = made.map((m, i) => (i === 0 ? m : { ...m, id: nextId++, key: undefined }));
      entities.push(...pieces);
      lineage.became(entity, pieces, 'cut-to-clip', 'part');
    }
  }
  if (count.cut > 0) {
    ledger.add({
      carryOver: 'curves',
      action: 'changed',
      onPurpose: true,
      count: count.cut,
      reason: 'cut-to-clips',
      becomes: { from: 'shape', to: 'path', gone: count.cut, entities: count.pieces },
    });
  }
  if (count.gone > 0) {
    ledger.add({
      carryOver: 'curves',
      action: 'dropped',
      onPurpose: true,
      count: count.gone,
      reason: 'hidden-by-clip',
      becomes: { from: 'shape', to: 'nothing', gone: count.gone, entities: 0 },
    });
  }
  return { ...drawing, entities, nextId };
}

/** The box of an entity, texts by a rough measure of their letters. */
function boxOf(e: Entity): Box2 {
  const sink = new BoundsSink(new Box2());
  addEntityBounds(e, IDENTITY, sink);
  if (e.kind === 'text') {
    const w = e.text.length * LETTER * e.size * e.widthFactor;
    const from = e.horizontal === 'left' ? 0 : e.horizontal === 'right' ? -w : -w / 2;
    for (const along of [from, from + w])
      sink.box.add(e.at[0] + along * Math.cos(e.rotation), e.at[1] + along * Math.sin(e.rotation));
  }
  return sink.box;
}

function cutEntity(e: Entity, clip: Clip, regionOf: (c: Clip) => Region, ledger: Ledger): Entity[] {
  const box = boxOf(e);
  const { look } = e;
  // Half of what the pen is wide.
  const pen =
    e.kind !== 'image' && look.stroke.kind !== 'none' && look.width.kind === 'drawing' ? look.width.value / 2 : 0;
  const grown = Box2.of(box.minX - pen, box.minY - pen, box.maxX + pen, box.maxY + pen);
  let reaches = false;
  const across: Region[] = [];
  for (let c: Clip | undefined = clip; c; c = c.within) {
    const region = regionOf(c);
    const side = region.side(box);
    if (side === 'out') return [];
    if (side === 'across') across.push(region);
    else if (pen > 0 && region.side(grown) === 'across') reaches = true;
  }
  if (pen > 0 && (reaches || across.length > 0)) {
    ledger.add({ carryOver: 'curves', action: 'approximated', id: e.id, reason: 'pens-reach-over-clips' });
  }
  if (across.length === 0) return [e];
  const path =
    e.kind === 'image'
      ? null
      : e.kind === 'line'
        ? new PathBuilder().moveTo(e.start[0], e.start[1]).lineTo(e.end[0], e.end[1]).build()
        : outlinePath(e);
  const cropped = e.kind === 'image' ? croppedImage(e, across) : null;
  if (cropped) return cropped === 'nothing' ? [] : [cropped];
  if (!path) {
    ledger.add({
      carryOver: e.kind === 'text' ? 'text' : 'links',
      action: 'approximated',
      id: e.id,
      reason: e.kind === 'text' ? 'text-kept-whole-at-clip' : 'picture-kept-whole-at-clip',
    });
    return [e];
  }
  const filled = look.fill.kind !== 'none';
  const stroked = look.stroke.kind !== 'none';
  let [fill, lines]: (PathData | null)[] = [filled ? path : null, stroked || !filled ? path : null];
  for (const region of across) {
    if (fill) fill = region.cutFill(fill, look.fillRule);
    if (lines) lines = region.cutLines(lines);
  }
  const out: Entity[] = [];
  const put = (p: PathData | null, appearance: Appearance): void => {
    if (!p || p.cmds.length === 0) return;
    out.push(
      derive(e, out.length === 0 ? 'whole' : 'piece', { kind: 'path', look: appearance, path: p, clipTo: undefined }),
    );
  };
  // Where nothing was cut off, fill and line stay one shape.
  if (fill && lines && lines === path && fill === path) return [e];
  put(fill!, stroked ? { ...look, stroke: NO_PAINT } : look);
  put(lines!, filled ? { ...look, fill: NO_PAINT } : look);
  return out;
}
