import type { Block, Drawing, Layer } from '../drawing/drawing.js';
import { layerIndex, layerKey, newLayer } from '../drawing/drawing.js';
import type { Entity } from '../drawing/entity.js';
import { because } from '../drawing/reasons.js';
import { UserError } from '../errors.js';
import { checkStop } from '../formats/format.js';
import { p } from '../parameters/parameter.js';
import type { ChartRow } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import { defineStep } from './step.js';
import { changeAll } from './all-entities.js';
import { stated } from './stated-look.js';
import { tellChange } from './tell.js';

/** Puts layers onto others by a chart. */
export const chartLayers = defineStep({
  id: 'chart-layers',
  title: 'Chart layers',
  summary:
    'Layers become others by a chart of names, the first row that fits counting; what happens to the rest is said.',
  carries: ['layers'],
  group: 'layers',
  example: {
    drawing: exampleDrawing([
      sketch.line(0, 0, 40, 0, 'GROUND'),
      sketch.line(8, 0, 8, 20, 'POSTS'),
      sketch.line(32, 0, 32, 20, 'POSTS-B'),
      sketch.line(0, 20, 40, 20, 'ROOF'),
    ]),
    params: {
      chart: [
        { from: 'POSTS*', to: 'A-COLS' },
        { from: '*', to: 'A-MISC' },
      ],
    },
  },
  params: {
    chart: p.chart({
      title: 'Layers',
      description: '* stands for any letters, and in the new name for what it stood for',
      of: 'text',
      columns: ['Layer', 'Becomes'],
      suggest: 'layers',
      agreed: true,
      atMost: 2000,
    }),
    rest: p.choice({
      title: 'Layers that no row takes',
      default: 'keep',
      choices: { keep: 'Stay', one: 'Go onto one layer', drop: 'Are left out', ask: 'Stop here, until each has a row' },
    }),
    restLayer: p.text({
      when: { rest: 'one' },
      title: 'That layer',
      default: 'A-MISC',
      maxLength: 255,
      suggest: 'layers',
    }),
    look: p.choice({
      title: 'Colours and lines',
      default: 'now',
      choices: { now: 'As they look now', target: 'As the new layer has them' },
    }),
    visible: p.choice({
      title: 'Hidden layers onto visible ones',
      default: 'hidden',
      choices: { hidden: 'Stay hidden, object by object', shown: 'Are shown' },
    }),
  },
  run(drawing, params, ctx) {
    const plan = chartOf(drawing, params.chart, params.rest === 'one' ? params.restLayer : null);
    if (params.rest === 'ask' && plan.untaken.length > 0)
      throw new UserError(
        'wrong-parameter',
        `no row of the chart takes ${plan.untaken.slice(0, 6).join(', ')}${plan.untaken.length > 6 ? ` and ${plan.untaken.length - 6} more` : ''}: give each a row, or say what happens to the rest`,
      );
    const dropped = new Set(params.rest === 'drop' ? plan.untaken.map((n) => layerKey(drawing, n)) : []);
    const old = layerIndex(drawing);
    const layers = new Map<string, Layer>();
    for (const l of drawing.layers) {
      const key = layerKey(drawing, l.name);
      if (dropped.has(key)) continue;
      const to = plan.to.get(key) ?? l.name;
      const own = layerKey(drawing, to);
      // A layer of that name that is there already keeps its look; else the first that becomes it gives its own.
      if (!layers.has(own)) layers.set(own, old.get(own) ?? { ...withoutRecord(l), name: to });
    }
    let [count, gone, n] = [0, 0, 0];
    const counts = new Map<string, number>();
    const place = (e: Entity, block: Block | null): Entity | null => {
      // Layer 0 in a block stands for whatever layer the block is placed on: it stays.
      if (block && e.layer === '0') return e;
      if (++n % 4096 === 0) checkStop(ctx);
      ctx.look();
      const key = layerKey(drawing, e.layer);
      if (dropped.has(key)) {
        gone++;
        ctx.lineage.remove(e, 'layer-not-chosen');
        return null;
      }
      const to = plan.to.get(key);
      if (to === undefined || to === e.layer) return e;
      counts.set(to, (counts.get(to) ?? 0) + 1);
      count++;
      const from = old.get(key) ?? newLayer(e.layer);
      const target = layers.get(layerKey(drawing, to)) ?? newLayer(to);
      const seen = params.look === 'now' ? stated(e.look, from, target) : e.look;
      const hides = params.visible === 'hidden' && (from.off || from.frozen) && !target.off && !target.frozen;
      const look = hides ? { ...seen, visible: false } : seen;
      const attributes =
        e.kind === 'insert'
          ? e.attributes.map((a) => ({ ...a, layer: plan.to.get(layerKey(drawing, a.layer)) ?? a.layer }))
          : null;
      const made = { ...e, layer: to, look, ...(attributes && { attributes }) } as Entity;
      ctx.lineage.replace(e, [made], 'resorted');
      return made;
    };
    const made = changeAll(drawing, place);
    if (count === 0 && gone === 0 && layers.size === drawing.layers.length) return drawing;
    if (drawing.layers.some((l) => l.name === '0') && !layers.has('0')) layers.set('0', old.get('0')!);
    const words = [...counts].slice(0, 8).map(([name, many]) => `${name} ${many}`);
    tellChange(ctx, 'layers', count, because('layers-charted', { counts: words.join(', ') }));
    if (gone > 0)
      ctx.ledger.add({
        carryOver: 'layers',
        action: 'dropped',
        onPurpose: true,
        count: gone,
        reason: 'unchosen-left-behind',
      });
    if (plan.idle.length > 0)
      ctx.leave(because('chart-rows-idle', { rows: plan.idle.join(', ') }), undefined, plan.idle.length);
    for (const l of drawing.layers) {
      const to = plan.to.get(layerKey(drawing, l.name));
      if (to !== undefined && layers.get(layerKey(drawing, to))?.locked && !l.locked)
        ctx.leave(because('chart-onto-locked', { layer: to }));
    }
    return { ...made, layers: [...layers.values()] };
  },
});

/** What a chart does to the layers of a drawing: where each goes, which rows take none, which layers none takes. */
export interface LayerChart {
  /** By the key of a layer. */
  to: Map<string, string>;
  idle: string[];
  untaken: string[];
}

/** Reads a chart against the layers of a drawing. `rest`: where those go that no row takes. */
export function chartOf(drawing: Drawing, chart: readonly ChartRow[], rest: string | null): LayerChart {
  const rows = chart
    .filter((r) => r.from.trim() !== '' && r.to.trim() !== '')
    .map((r) => ({ ...r, taken: 0, fits: rowPattern(r.from) }));
  const out: LayerChart = { to: new Map(), idle: [], untaken: [] };
  // What is a new name already is not charted again, so that twice is once.
  const targets = new Set(rows.filter((r) => !r.to.includes('*')).map((r) => layerKey(drawing, r.to)));
  for (const { name } of drawing.layers) {
    const key = layerKey(drawing, name);
    if (key === '0' && !rows.some((r) => r.from === '0')) continue;
    if (targets.has(key) && !rows.some((r) => r.from === name)) continue;
    const row = rows.find((r) => r.fits(name) !== null);
    if (row) {
      row.taken++;
      out.to.set(key, newName(row.to, row.fits(name)!));
    } else if (rest !== null && name !== rest) out.to.set(key, rest);
    else if (rest === null) out.untaken.push(name);
  }
  out.idle = rows.filter((r) => r.taken === 0).map((r) => r.from);
  return out;
}

/** What each `*` of a pattern stands for in a name; `null` where it does not fit. Capitals do not count. */
function rowPattern(pattern: string): (name: string) => string[] | null {
  const parts = pattern.split('*').map((t) => t.replace(/[.+?^${}()|[\]\\]/g, '\\$&'));
  const test = new RegExp(`^${parts.join('(.*)')}$`, 'is');
  return (name) => test.exec(name)?.slice(1) ?? null;
}

/** The new name of a row: each `*` in it is what the one of the same place stood for. */
function newName(to: string, stood: readonly string[]): string {
  let i = 0;
  return to.replace(/\*/g, () => stood[i++] ?? '').slice(0, 255);
}

/** A layer without what belongs to its record alone. */
function withoutRecord({ key: _k, rest: _r, ...layer }: Layer): Layer {
  return layer;
}
