import type { Drawing } from '../drawing/drawing.js';
import { walk } from '../drawing/resolve.js';
import { entityToWorld } from '../drawing/curves.js';
import { applyPoint } from '../geometry/affine.js';
import type { FontBook, Met } from './fonts.js';
import { linesOf } from './layout.js';

/** One font that a drawing asks for: how often, where, and what its letters are taken from. */
export interface FontUse {
  /** The name as the drawing states it. */
  asked: string;
  /** Texts that ask for it. */
  texts: number;
  layers: string[];
  /** Where the first of them stands, in the drawing's coordinates. */
  at: { x: number; y: number };
  /** The family its letters are taken from, and why. */
  family: string;
  how: Met;
  /** Characters that no font here has, with how often and where first. */
  missing: { char: string; count: number; at: { x: number; y: number } }[];
  /**
   * How much wider its lines come out than the drawing says they are, as a part (0.1 for a tenth wider); `null` where
   * the drawing states no width of its own.
   */
  wider: number | null;
}

/** The fonts of a drawing, the most used first. */
export function fontUses(drawing: Drawing, fonts: FontBook): FontUse[] {
  const uses = new Map<string, FontUse & { stated: number; set: number }>();
  walk(drawing, ({ entity: e, toWorld, resolved }) => {
    if (e.kind !== 'text' && e.kind !== 'richText') return;
    const plane = entityToWorld(e, toWorld);
    const lines = linesOf(e, drawing, fonts);
    const asking = new Set<FontUse>();
    for (const line of lines) {
      const p = applyPoint(plane, [line.x, line.y, 0]);
      const at = { x: p[0], y: p[1] };
      let use = uses.get(line.family.toLowerCase());
      if (!use) {
        const { family, how } = fonts.standIn(line.family);
        use = {
          asked: line.family,
          texts: 0,
          layers: [],
          at,
          family,
          how,
          missing: [],
          wider: null,
          stated: 0,
          set: 0,
        };
        uses.set(line.family.toLowerCase(), use);
      }
      if (!asking.has(use)) use.texts++;
      asking.add(use);
      if (!use.layers.includes(resolved.layer)) use.layers.push(resolved.layer);
      const made = fonts.outline(line.text, line.family, line.weight, line.italic);
      for (const char of made.missing) {
        const known = use.missing.find((m) => m.char === char);
        if (known) known.count++;
        else use.missing.push({ char, count: 1, at });
      }
      // What a stretched line says of its width is what its own font gives it, up to a stretch meant on purpose.
      if (line.stretchTo && made.advance > 0) {
        use.stated += line.stretchTo;
        use.set += made.advance * line.em * line.widthFactor;
      }
    }
    // Rich text of drafting formats states how wide it came out (DXF reference, MTEXT group 42).
    const stated = e.kind === 'richText' ? Number(/(?:^|\n)\s*42\r?\n\s*(\S+)/.exec(e.rest ?? '')?.[1] ?? 0) : 0;
    if (stated > 0 && lines.length > 0 && lines.every((l) => l.family === lines[0]!.family)) {
      const widest = Math.max(...rowWidths(lines, fonts));
      const use = uses.get(lines[0]!.family.toLowerCase())!;
      use.stated += stated;
      use.set += widest;
    }
  });
  return [...uses.values()]
    .map(({ stated, set, ...use }) => ({ ...use, wider: stated > 0 ? set / stated - 1 : null }))
    .sort((a, b) => b.texts - a.texts);
}

function rowWidths(lines: ReturnType<typeof linesOf>, fonts: FontBook): number[] {
  return lines.map((l) => fonts.outline(l.text, l.family, l.weight, l.italic).advance * l.em * l.widthFactor);
}
