import { filesNamedBy, foundAmong, pathTail } from '../analysis/named-files.js';
import type { Absorbed } from '../drawing/absorb.js';
import { absorb } from '../drawing/absorb.js';
import type { Block, Drawing, Layer } from '../drawing/drawing.js';
import { isDrafting, layerKey } from '../drawing/drawing.js';
import { namePattern } from '../drawing/name-pattern.js';
import type { Reason } from '../drawing/reasons.js';
import { because } from '../drawing/reasons.js';
import { transformDrawing } from '../drawing/transform.js';
import { conversion } from '../drawing/units.js';
import { checkStop } from '../formats/format.js';
import type { Affine } from '../geometry/affine.js';
import { IDENTITY, scaling } from '../geometry/affine.js';
import type { Vec3 } from '../geometry/vector.js';
import { isSame } from '../geometry/tolerance.js';
import { p } from '../parameters/parameter.js';
import { exampleDrawing, sketch } from './example.js';
import type { GivenReference, PlannedStep, StepContext } from './step.js';
import { defineStep } from './step.js';

/** Whether a plan takes references in, so that they have to be at hand. */
export const takesReferencesIn = (plan: readonly PlannedStep[]): boolean =>
  plan.some((s) => s.on && s.step === takeReferencesIn.id);

/** References in references are followed so deep. */
const MOST_DEEP = 8;

/** Takes the contents of reference drawings into the drawing, so that nothing has to travel with it. */
export const takeReferencesIn = defineStep({
  id: 'take-references-in',
  title: 'Take references in',
  summary:
    'Reference drawings of the job become blocks of the drawing, where they are placed, so that the file shows all by itself.',
  carries: ['links'],
  group: 'blocks',
  example: {
    drawing: exampleDrawing(
      [
        {
          kind: 'insert',
          block: 'POST',
          at: [0, 0, 0],
          scale: [1, 1, 1],
          rotation: 0,
          columns: 2,
          rows: 1,
          columnSpacing: 30,
          rowSpacing: 0,
          attributes: [],
        },
        sketch.line(-4, 0, 44, 0),
      ],
      { blocks: new Map([['post', { name: 'POST', base: [0, 0, 0], entities: [], reference: 'post.dxf' }]]) },
    ),
    references: () => [
      {
        name: 'post.dxf',
        drawing: exampleDrawing([sketch.chain([0, 0, 8, 0, 8, 22, 0, 22], true), sketch.circle(4, 26, 4)])(),
      },
    ],
  },
  params: {
    named: p.text({
      title: 'References named',
      description: '* stands for any letters; several names apart by commas',
      default: '*',
      maxLength: 2000,
    }),
    layers: p.choice({
      title: 'Their layers',
      default: 'apart',
      choices: { apart: 'Get the name of the reference before theirs', same: 'Become those of the same name' },
    }),
    units: p.choice({
      title: 'Where units differ',
      default: 'asPlaced',
      choices: { asPlaced: 'As large as they are placed', converted: 'Converted to the unit of the drawing' },
    }),
  },
  run(drawing, params, ctx) {
    const wanted = namePattern(params.named);
    const given = ctx.references ?? [];
    let now = drawing;
    for (let depth = 0; depth < MOST_DEEP; depth++) {
      const before = now;
      for (const [key, block] of before.blocks) {
        if (block.reference === undefined || block.entities.length > 0 || !wanted(pathTail(block.reference))) continue;
        checkStop(ctx);
        now = takenIn(now, key, given, params, ctx);
      }
      if (now === before) break;
    }
    for (const f of filesNamedBy(now))
      if (f.kind === 'drawing' && f.places > 0 && wanted(f.name) && !hasContent(now, f.path))
        ctx.leave(because('reference-missing', { name: f.name }), undefined, f.places);
    return now;
  },
});

const hasContent = (drawing: Drawing, path: string): boolean =>
  [...drawing.blocks.values()].some((b) => b.reference === path && b.entities.length > 0);

function takenIn(
  drawing: Drawing,
  key: string,
  given: readonly GivenReference[],
  params: { layers: 'apart' | 'same'; units: 'asPlaced' | 'converted' },
  ctx: StepContext,
): Drawing {
  const block = drawing.blocks.get(key)!;
  const path = block.reference!;
  const found = foundAmong({ kind: 'drawing', path, name: pathTail(path), places: 1 }, given);
  if (!found) return drawing;
  if (isDrafting(found.drawing) !== isDrafting(drawing)) {
    ctx.leave(because('reference-of-other-kind', { name: found.name }));
    return drawing;
  }
  ctx.look();
  const map = scaleTo(drawing, found, params.units, ctx);
  const scaled = map === IDENTITY ? found.drawing : transformDrawing(found.drawing, map);
  const stem = found.name.replace(/\.[a-z0-9]+$/i, '');
  const apart = (name: string): string => `${stem}-${name}`.slice(0, 255);
  const layer = params.layers === 'same' ? (name: string): string => name : apart;
  const seen = withSeenLayers(drawing, block, layer);
  const { drawing: made, entities, blocks, ...lost } = absorb(seen, scaled, { layer, apart });
  const { reference: _r, flags: _f, ...plain } = block;
  const whole: Block = { ...plain, base: baseOf(scaled), entities: [...entities] };
  const added = [...entities, ...blocks.flatMap((b) => made.blocks.get(b)!.entities)];
  ctx.lineage.add(added, 'reference-taken-in');
  ctx.ledger.add({
    carryOver: 'links',
    action: 'changed',
    onPurpose: true,
    count: entities.length,
    reason: because('reference-taken-in', { name: found.name, count: entities.length }),
  });
  tellLost(found.name, lost, ctx);
  return { ...made, blocks: new Map(made.blocks).set(key, whole) };
}

/** What of a reference could not come along. */
function tellLost(name: string, lost: Pick<Absorbed, 'unread' | 'withData' | 'simplified'>, ctx: StepContext): void {
  const row = (count: number, action: 'dropped' | 'approximated', reason: Reason): void => {
    if (count > 0) ctx.ledger.add({ carryOver: 'links', action, count, reason });
  };
  row(lost.unread, 'dropped', because('unread-left-in-reference', { name }));
  row(lost.withData, 'dropped', because('extended-left-in-reference', { name }));
  row(lost.simplified, 'approximated', because('linetypes-simplified-in-reference', { name }));
}

/** How a reference is scaled to be of the drawing's unit; told where units differ and it is not. */
function scaleTo(drawing: Drawing, { name, drawing: from }: GivenReference, how: string, ctx: StepContext): Affine {
  const [a, b] = [drawing.unit, from.unit];
  if (!a || !b || a.unit === 'px' || b.unit === 'px') {
    if (how === 'converted') ctx.leave(because('reference-of-unknown-unit', { name }));
    return IDENTITY;
  }
  const factor = (conversion(b.unit, a.unit) * b.factor) / a.factor;
  if (isSame(factor, 1)) return IDENTITY;
  if (how === 'converted') return scaling(factor, factor, factor);
  ctx.leave(because('reference-in-other-unit', { name, theirs: b.unit, ours: a.unit }));
  return IDENTITY;
}

/** The point that a drawing is placed by ($INSBASE, DXF reference, HEADER). */
function baseOf({ header }: Drawing): Vec3 {
  const said = new Map(header.get('$INSBASE') ?? []);
  const at = (code: number): number => {
    const v = Number(said.get(code) ?? 0);
    return Number.isFinite(v) ? v : 0;
  };
  return [at(10), at(20), at(30)];
}

/**
 * The drawing with the layers of a reference as it shows them: a file keeps them beside its own as “reference|layer”, and how they
 * look there counts before how they look in the reference itself.
 */
function withSeenLayers(drawing: Drawing, { name }: Block, layerName: (name: string) => string): Drawing {
  const prefix = `${name.toLowerCase()}|`;
  if (!drawing.layers.some((l) => l.name.toLowerCase().startsWith(prefix))) return drawing;
  const isTheirs = (l: Layer): boolean => l.name.toLowerCase().startsWith(prefix);
  const own = new Set(drawing.layers.filter((l) => !isTheirs(l)).map((l) => layerKey(drawing, l.name)));
  const layers = drawing.layers.flatMap((l) => {
    if (!isTheirs(l)) return [l];
    const { key: _k, rest: _r, flags: _f, ...plain } = l;
    const seen = { ...plain, name: layerName(l.name.slice(prefix.length)) };
    return own.has(layerKey(drawing, seen.name)) ? [] : [seen];
  });
  return { ...drawing, layers };
}
