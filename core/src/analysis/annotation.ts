import type { Entity } from '../drawing/entity.js';

/** Whether what a walk visits is part of a dimension, a leader, an unread object or a fill pattern: its lines are no outlines. */
export const isAnnotationPart = (top: Entity): boolean =>
  top.kind === 'dimension' || top.kind === 'leader' || top.kind === 'opaque' || top.tile === true;
