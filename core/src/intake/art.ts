import { because } from '../drawing/reasons.js';
import type { Appearance, GradientStop, Paint } from '../drawing/appearance.js';
import { AppearancePool, NO_PAINT } from '../drawing/appearance.js';
import { cutToClips } from '../drawing/cut-clips.js';
import type { Drawing } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import type { Ledger } from '../drawing/ledger.js';
import type { Lineage, Stage } from '../drawing/lineage.js';
import { Stages } from '../drawing/lineage.js';
import type { ArtDecisions } from './decisions.js';

/** Applies what was decided about clips, fill patterns and gradients. In the coordinates of the source. */
export function chooseArt(source: Drawing, art: ArtDecisions, ledger: Ledger): { drawing: Drawing; stages: Stage[] } {
  const stages = new Stages(source);
  stages.run('Fill patterns', (d, lineage) => choosePatterns(d, art.patterns, ledger, lineage));
  stages.run('Gradients', (d, lineage) => chooseGradients(d, art.gradients, ledger, lineage));
  if (art.clips !== 'cut') stages.run('Clip paths', (d, lineage) => withoutClips(d, ledger, lineage));
  stages.run('Clip paths', (d, lineage) => cutToClips(d, ledger, lineage));
  return { drawing: stages.drawing, stages: stages.list };
}

/** Shapes come whole, but for the pieces of patterns. */
function withoutClips(drawing: Drawing, ledger: Ledger, lineage: Lineage): Drawing {
  let count = 0;
  const entities = drawing.entities.map((e): Entity => {
    // Pieces of patterns are cut to their shape all the same.
    if (!e.clipTo || e.tile) return e;
    count++;
    const { clipTo: _c, ...rest } = e;
    const whole = rest as Entity;
    lineage.replace(e, [whole], 'clip-taken-off');
    return whole;
  });
  if (count === 0) return drawing;
  ledger.add({
    carryOver: 'curves',
    action: 'dropped',
    onPurpose: true,
    count,
    reason: 'clips-not-applied',
  });
  return { ...drawing, entities };
}

function choosePatterns(drawing: Drawing, how: ArtDecisions['patterns'], ledger: Ledger, lineage: Lineage): Drawing {
  if (!drawing.entities.some((e) => e.look.fill.kind === 'pattern' || e.look.stroke.kind === 'pattern')) return drawing;
  const pool = new AppearancePool();
  const plain = (paint: Paint): Paint => (paint.kind === 'pattern' ? { kind: 'rgb', rgb: paint.rgb } : paint);
  const entities: Entity[] = [];
  let tiles = 0;
  let waiting: Entity | null = null;
  drawing.entities.forEach((e, i) => {
    const { look } = e;
    if (waiting && !e.tile) {
      entities.push(waiting);
      waiting = null;
    }
    if (e.tile) {
      tiles++;
      if (how === 'shapes') entities.push(e);
      else lineage.remove(e, 'pattern-pieces');
      return;
    }
    if (look.fill.kind !== 'pattern' && look.stroke.kind !== 'pattern') {
      entities.push(e);
      return;
    }
    // Its pieces follow the shape, unless there were none or too many to draw.
    const shown = how === 'shapes' && drawing.entities[i + 1]?.tile === true;
    const fill = look.fill.kind === 'pattern' && shown ? NO_PAINT : plain(look.fill);
    if (look.fill.kind === 'pattern')
      ledger.add({
        carryOver: 'colour',
        action: shown ? 'changed' : 'approximated',
        onPurpose: true,
        id: e.id,
        reason: shown ? 'patterns-as-shapes' : 'patterns-to-plain-colour',
      });
    if (look.stroke.kind === 'pattern')
      ledger.add({ carryOver: 'colour', action: 'approximated', reason: 'line-patterns-to-plain-colour', id: e.id });
    const made = { ...e, look: pool.share({ ...look, fill, stroke: plain(look.stroke) }) };
    // Its line lies over what fills it; without a line nothing of it is left.
    if (shown && made.look.stroke.kind === 'none') {
      ledger.add({
        carryOver: 'colour',
        action: 'changed',
        onPurpose: true,
        id: e.id,
        reason: 'pattern-only-shape-gave-way',
        becomes: { from: 'shape', to: 'nothing', gone: 1, entities: 0 },
      });
      lineage.remove(e, 'pattern-gave-way');
      return;
    }
    lineage.replace(e, [made], 'repainted');
    if (shown) waiting = made;
    else entities.push(made);
  });
  if (waiting) entities.push(waiting);
  if (tiles > 0 && how === 'colour')
    ledger.add({
      carryOver: 'colour',
      action: 'dropped',
      onPurpose: true,
      count: tiles,
      reason: 'pattern-pieces-left-behind',
      becomes: { from: 'patternPiece', to: 'nothing', gone: tiles, entities: 0 },
    });
  return { ...drawing, entities };
}

function chooseGradients(drawing: Drawing, how: ArtDecisions['gradients'], ledger: Ledger, lineage: Lineage): Drawing {
  if (how === 'keep') return drawing;
  const pool = new AppearancePool();
  const known = new Map<Appearance, Appearance>();
  const plain = (paint: Paint): { paint: Paint; opacity: number } => {
    if (paint.kind !== 'gradient') return { paint, opacity: 1 };
    const stop: GradientStop | undefined =
      how === 'first' ? paint.stops[0] : how === 'last' ? paint.stops.at(-1) : undefined;
    const opacity = paint.stops.reduce((sum, s) => sum + s.opacity, 0) / paint.stops.length;
    return { paint: { kind: 'rgb', rgb: stop?.rgb ?? paint.rgb }, opacity: stop?.opacity ?? opacity };
  };
  const words = { mean: 'their mean colour', first: 'their first colour', last: 'their last colour' }[how];
  const entities = drawing.entities.map((e) => {
    const { look } = e;
    if (look.fill.kind !== 'gradient' && look.stroke.kind !== 'gradient') return e;
    ledger.add({
      carryOver: 'colour',
      action: 'changed',
      onPurpose: true,
      reason: because('gradients-became', { what: words }),
      id: e.id,
    });
    let made = known.get(look);
    if (!made) {
      const [fill, stroke] = [plain(look.fill), plain(look.stroke)];
      made = pool.share({
        ...look,
        fill: fill.paint,
        fillOpacity: look.fillOpacity * fill.opacity,
        stroke: stroke.paint,
        strokeOpacity: look.strokeOpacity * stroke.opacity,
      });
      known.set(look, made);
    }
    const painted = { ...e, look: made };
    lineage.replace(e, [painted], 'repainted');
    return painted;
  });
  return { ...drawing, entities };
}
