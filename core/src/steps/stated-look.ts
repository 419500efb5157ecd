import type { Appearance, Paint } from '../drawing/appearance.js';
import type { Layer } from '../drawing/drawing.js';

/** What an entity has from its layer, stated on it where the new layer has it otherwise. */
export function stated(look: Appearance, from: Layer, to: Layer): Appearance {
  const paint = (p: Paint): Paint =>
    p.kind === 'byLayer' && JSON.stringify(from.paint) !== JSON.stringify(to.paint) ? from.paint : p;
  const out = {
    stroke: paint(look.stroke),
    fill: paint(look.fill),
    width: look.width.kind === 'byLayer' && from.weight !== to.weight ? widthOf(from) : look.width,
    dash:
      look.dash.kind === 'linetype' && look.dash.name.toLowerCase() === 'bylayer' && from.linetype !== to.linetype
        ? { ...look.dash, name: from.linetype }
        : look.dash,
    opacity:
      look.opacity === 1 && !look.opacityFrom
        ? look.opacity * (from.opacity !== to.opacity ? (from.opacity ?? 1) : 1)
        : look.opacity,
  };
  const same =
    out.stroke === look.stroke &&
    out.fill === look.fill &&
    out.width === look.width &&
    out.dash === look.dash &&
    out.opacity === look.opacity;
  return same ? look : { ...look, ...out };
}

const widthOf = (l: Layer): Appearance['width'] =>
  l.weight === null ? { kind: 'standard' } : { kind: 'paper', mm: l.weight };
