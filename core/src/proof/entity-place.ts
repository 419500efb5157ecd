import { IDENTITY } from '../geometry/affine.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { shapeOf } from '../drawing/entity-shape.js';
import { BoundsSink, addEntityBounds } from '../drawing/measures.js';

/** Where to look for an entity: the middle of what it draws, or its first place; `null` for what has none. */
export function placeOf(e: Entity, drawing: Drawing): { x: number; y: number } | null {
  const sink = new BoundsSink();
  addEntityBounds(e, IDENTITY, sink);
  if (!sink.box.empty) return { x: (sink.box.minX + sink.box.maxX) / 2, y: (sink.box.minY + sink.box.maxY) / 2 };
  const { places } = shapeOf(e, drawing, new Map());
  return places.length >= 2 ? { x: places[0]!, y: places[1]! } : null;
}
