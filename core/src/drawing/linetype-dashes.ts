import type { Dash } from './appearance.js';
import type { Drawing } from './drawing.js';
import { layerIndex, layerKey } from './drawing.js';
import type { Entity } from './entity.js';
import { effectiveDash } from './resolve.js';

/** What linetypes come to in a drawing: their dashes at the scale of all linetypes (`$LTSCALE`) and of the line. */
export class LinetypeDashes {
  private readonly patterns: Map<string, readonly number[]>;
  private readonly scale: number;
  private layers: ReturnType<typeof layerIndex> | null = null;

  constructor(private readonly drawing: Drawing) {
    this.patterns = new Map(drawing.linetypes.map((l) => [l.name.toLowerCase(), l.pattern]));
    this.scale = Number(drawing.header.get('$LTSCALE')?.[0]?.[1] ?? 1) || 1;
  }

  /** In units of the drawing: dashes above 0, gaps below, dots 0. Nothing for an unbroken line, and for one that no layer resolves. */
  pattern(dash: Dash & { kind: 'linetype' }): readonly number[] {
    const pattern = this.patterns.get(dash.name.toLowerCase()) ?? [];
    const scale = dash.scale * this.scale;
    return pattern.length < 2 || !(scale > 0) ? [] : pattern.map((p) => p * scale);
  }

  /** As SVG states dashes: dash and gap in turn, the first a dash. A dot is a dash of no length, which a round cap makes visible. */
  lengths(dash: Dash): number[] {
    if (dash.kind === 'lengths') return [...dash.lengths];
    const pattern = this.pattern(dash);
    const lengths = pattern.map(Math.abs);
    return pattern.length > 0 && pattern[0]! < 0 ? [0, ...lengths] : lengths;
  }

  /** The dashes that an entity is drawn in outside inserts, those of its layer where it says so. */
  of(e: Entity): Dash {
    this.layers ??= layerIndex(this.drawing);
    return effectiveDash(e.look.dash, this.layers.get(layerKey(this.drawing, e.layer)), null);
  }
}
