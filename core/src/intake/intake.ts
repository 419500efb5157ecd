import { traitsOf } from '../drawing/format-traits.js';
import type { Reason } from '../drawing/reasons.js';
import { because } from '../drawing/reasons.js';
import { scaling, translation } from '../geometry/affine.js';
import { Box2 } from '../geometry/box.js';
import type { Drawing, Layer } from '../drawing/drawing.js';
import { layerIndex, layerKey } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { noteFollowers } from '../drawing/followers.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { sortLayers } from '../drawing/layer-rule.js';
import { Ledger } from '../drawing/ledger.js';
import type { Lineage, Stage } from '../drawing/lineage.js';
import { Stages } from '../drawing/lineage.js';
import { boundsOf } from '../drawing/bounds.js';
import { flattened } from '../drawing/flattened.js';
import { inWindow } from '../drawing/window.js';
import { transformDrawing } from '../drawing/transform.js';
import type { UnitName } from '../drawing/units.js';
import { conversion } from '../drawing/units.js';
import { encodingTitle } from '../formats/encodings.js';
import { chooseArt } from './art.js';
import type { IntakeDecisions, WindowDecision } from './decisions.js';
import { wholeDecisions } from './decisions.js';
import { chooseKinds } from './kinds.js';

/** The unit and its factor that coordinates count in, once decisions have had their say; `null` while undecided. */
export interface SettledUnit {
  /** What the prepared drawing counts in. */
  unit: UnitName;
  /** Coordinates × factor = that unit, the measured correction not included. */
  factor: number;
}

/**
 * What one coordinate unit amounts to. A physical claim of an SVG stands (a decided unit only says in what it is
 * counted); a drafting claim gives way to the decision; pixels need a px per inch.
 */
export function settleUnit(drawing: Pick<Drawing, 'unit' | 'format'>, d: IntakeDecisions): SettledUnit | null {
  const claim = drawing.unit;
  if (claim?.unit === 'px') {
    if (!d.pxPerInch) return null;
    const unit = d.unit ?? 'mm';
    return { unit, factor: (claim.factor * conversion('in', unit)) / d.pxPerInch };
  }
  if (traitsOf(drawing.format).statesTrueSize && claim) {
    const unit = d.unit ?? (claim.unit as UnitName);
    return { unit, factor: claim.factor * conversion(claim.unit as UnitName, unit) };
  }
  const unit = d.unit ?? (claim?.unit as UnitName | undefined);
  return unit ? { unit, factor: 1 } : null;
}

/** The drawing with y upwards; a drawing that counts downwards is turned over about its own origin, exactly. */
export function upright(drawing: Drawing): Drawing {
  if (!drawing.yDown) return drawing;
  return { ...transformDrawing(drawing, TURNED_OVER), yDown: false };
}

export const TURNED_OVER = scaling(1, -1, 1);

/** The layers that come along, and what lies on them; what is left behind becomes rows. */
function filterLayers(drawing: Drawing, d: IntakeDecisions, ledger: Ledger, lineage: Lineage): Drawing {
  const { mode, names } = d.layers;
  if (mode === 'all') return drawing;
  const layers = layerIndex(drawing);
  const chosen = new Set(names.map((n) => layerKey(drawing, n)));
  let hidden = 0;
  let unchosen = 0;
  const nodeHidden = drawing.nodes.map(() => false);
  drawing.nodes.forEach((n, i) => (nodeHidden[i] = n.hidden || (n.parent !== null && nodeHidden[n.parent]!)));
  const keep = (e: Entity, inBlock: boolean): boolean => {
    const key = layerKey(drawing, e.layer);
    if (mode === 'chosen') {
      // Layer 0 inside a block stands for the layer of the insert.
      if (chosen.has(key) || (inBlock && e.layer === '0')) return true;
      unchosen++;
      lineage.remove(e, 'layer-not-chosen');
      return false;
    }
    const layer = layers.get(key);
    const off = (layer?.off ?? false) && !(e.kind === 'insert') && !(inBlock && e.layer === '0');
    if (e.look.visible && !off && !layer?.frozen && !(e.node !== undefined && nodeHidden[e.node])) return true;
    hidden++;
    lineage.remove(e, 'hidden-content');
    return false;
  };
  const entities = drawing.entities.filter((e) => keep(e, false));
  const blocks = new Map(
    [...drawing.blocks].map(([key, b]) => {
      const kept = b.entities.filter((e) => keep(e, true));
      return [key, kept.length === b.entities.length ? b : { ...b, entities: kept }];
    }),
  );
  const isWanted = (l: Layer): boolean =>
    mode === 'chosen' ? chosen.has(layerKey(drawing, l.name)) || l.name === '0' : !l.off && !l.frozen;
  // An insert on a layer that is off may keep parts that are seen: its layer stays in the list.
  const used = new Set(entities.map((e) => layerKey(drawing, e.layer)));
  const list = drawing.layers.filter((l) => isWanted(l) || used.has(layerKey(drawing, l.name)));
  const left = (count: number, reason: Reason): void => {
    if (count > 0) ledger.add({ carryOver: 'layers', action: 'dropped', onPurpose: true, reason, count });
  };
  left(hidden, 'hidden-left-behind');
  left(unchosen, 'unchosen-left-behind');
  return { ...drawing, entities, blocks, layers: list };
}

/** What lies in the window; the rest is left behind. */
function cropped(drawing: Drawing, w: WindowDecision, ledger: Ledger, lineage: Lineage): Drawing {
  const inside = inWindow(drawing, Box2.of(w.minX, w.minY, w.maxX, w.maxY), w.touching);
  const entities = drawing.entities.filter((e) => {
    const stays = e.sheet !== undefined || inside.has(e);
    if (!stays) lineage.remove(e, 'outside-window');
    return stays;
  });
  const left = drawing.entities.length - entities.length;
  if (left === 0) return drawing;
  ledger.add({
    carryOver: 'layers',
    action: 'dropped',
    onPurpose: true,
    reason: 'outside-window',
    count: left,
  });
  return { ...drawing, entities };
}

/** A drawing as it was taken in, and what was done to it, stage by stage. */
export interface TakenIn {
  drawing: Drawing;
  ledger: LedgerRow[];
  stages: readonly Stage[];
}

/**
 * Applies the decisions: y upwards, one coordinate unit = the settled unit, the layers that come along, the origin
 * where it was put. The drawing's `unit` is `null` while the unit is undecided. Deterministic.
 */
export function takeIn(source: Drawing, decided: IntakeDecisions): TakenIn {
  const d = wholeDecisions(decided);
  const ledger = new Ledger('intake');
  const art = chooseArt(source, d.art, ledger);
  const stages = new Stages(source);
  stages.follow(art);
  stages.run('Y upwards', (from, lineage) => {
    if (from.yDown) lineage.move(TURNED_OVER);
    return upright(from);
  });
  if (source.yDown) {
    ledger.add({
      carryOver: 'origin',
      action: 'kept',
      reason: 'y-turned-over',
    });
  }
  if (d.encoding)
    ledger.add({
      carryOver: 'text',
      action: 'changed',
      onPurpose: true,
      reason: because('text-read-as', { title: encodingTitle(d.encoding), name: d.encoding }),
    });
  if (d.fromPage !== null)
    ledger.add({
      carryOver: 'links',
      action: 'changed',
      onPurpose: true,
      reason: because('page-chosen', { page: d.fromPage }),
    });
  const { window } = d;
  if (window) stages.run('Window', (from, lineage) => cropped(from, window, ledger, lineage));
  const settled = settleUnit(source, d);
  const claim = source.unit;
  if (settled) {
    const claimed = claim && claim.unit !== 'px' ? claim.unit : null;
    if (claim?.unit === 'px') {
      ledger.add({
        carryOver: 'units',
        action: 'changed',
        onPurpose: true,
        reason: because('pixels-counted', { perInch: d.pxPerInch ?? 0 }),
      });
    } else if (claimed === settled.unit)
      ledger.add({ carryOver: 'units', action: 'kept', reason: because('unit-as-stated', { unit: settled.unit }) });
    else if (traitsOf(source.format).statesTrueSize)
      ledger.add({
        carryOver: 'units',
        action: 'kept',
        reason: because('true-size-counted', { claimed: claimed ?? 'px', unit: settled.unit }),
      });
    else {
      const said = claimed ? `the file states ${claimed}` : 'the file states none';
      ledger.add({
        carryOver: 'units',
        action: 'changed',
        onPurpose: true,
        reason: because('unit-decided', { unit: settled.unit, said }),
      });
    }
  }
  const scale = (settled?.factor ?? 1) * d.correction;
  if (d.correction !== 1) {
    ledger.add({
      carryOver: 'scale',
      action: 'changed',
      onPurpose: true,
      reason: because('scaled-by-known-length', { factor: d.correction }),
    });
  }
  const lost = noteFollowers(ledger);
  if (scale !== 1) {
    stages.move('Unit and scale', scaling(scale, scale, scale), lost);
  }
  stages.run('Unit and scale', (from) => ({ ...from, unit: settled && { unit: settled.unit, factor: 1 } }));
  stages.run('Layers', (from, lineage) => filterLayers(from, d, ledger, lineage));
  if (d.plane === 'flat') stages.run('Plane', (from, lineage) => flattened(from, ledger, lineage));
  const kinds = chooseKinds(stages.drawing, d.kinds);
  stages.follow(kinds);
  const { layersFrom } = d;
  if (layersFrom !== 'groups')
    stages.run('Layers by a rule', (from, lineage) => sortLayers(from, layersFrom, ledger, lineage));

  const at = originPoint(stages.drawing, d);
  if (at && (at[0] !== 0 || at[1] !== 0)) {
    stages.move('Origin', translation(-at[0], -at[1], 0), lost);
    ledger.add({
      carryOver: 'origin',
      action: 'changed',
      onPurpose: true,
      reason: because('origin-moved', {
        place: ORIGIN_WORDS[d.origin.mode],
        at: at.map((v) => Number(v.toPrecision(9))).join(', '),
        unit: settled ? ' ' + settled.unit : '',
      }),
    });
  }
  return { drawing: stages.drawing, ledger: [...ledger.rows, ...kinds.rows], stages: stages.list };
}

const ORIGIN_WORDS = {
  keep: 'where it was',
  page: 'the lower left corner of the page',
  lowerLeft: 'the lower left of the drawing',
  centre: 'the centre of the drawing',
  point: 'the picked point',
} as const;

/** The point that becomes (0, 0), in the drawing's coordinates; `null` when nothing moves. */
export function originPoint(drawing: Drawing, d: IntakeDecisions): [number, number] | null {
  const { mode, x, y } = d.origin;
  if (mode === 'keep') return null;
  if (mode === 'point') return [x, y];
  if (mode === 'page') return drawing.page ? [drawing.page.x, drawing.page.y] : null;
  const box = boundsOf(drawing, { hidden: true });
  if (box.empty) return null;
  return mode === 'lowerLeft' ? [box.minX, box.minY] : [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
}
