import { describe, expect, it } from 'vitest';
import type { Drawing, GivenReference, Kept } from '../../src/index.js';
import {
  DRAFTING_DEFAULT,
  NO_DECISIONS,
  boundsOf,
  newLayer,
  plannedStep,
  prepare,
  readDrawing,
  runStep,
  stepById,
  transformDrawing,
  walk,
} from '../../src/index.js';
import { scaling } from '../../src/geometry/affine.js';
import { provePrepared } from '../../src/proof/prepared.js';
import { demoFile, dxf, fonts, hop, risks } from '../helpers.js';
import { chain, circle, drawn, insert, line } from './judge.js';

/** A drawing that places a reference at so many places. */
const host = (...inserts: never[]): Drawing => {
  const d = drawn(...inserts, line(0, 0, 1, 0, { layer: 'OWN' }));
  d.blocks.set('street', { name: 'STREET', base: [0, 0, 0], entities: [], reference: 'C:\\ref\\Street.dwg' });
  return d;
};
const street = (...entities: never[]): GivenReference => ({ name: 'street.dxf', drawing: drawn(...entities) });
const take = (d: Drawing, references: GivenReference[], params: Kept = {}) => {
  const made = runStep(d, plannedStep(stepById('take-references-in')!, 's', params), { fonts: fonts(), references });
  const proof = provePrepared(d, made.drawing, made.stages, fonts());
  return {
    ...made,
    against: [...proof.unexplained, ...proof.displaced].map((x) => x.what),
    codes: made.ledger.map((r) => r.code),
  };
};
const seenLayers = (d: Drawing): string[] => {
  const out: string[] = [];
  walk(d, ({ entity, resolved }) => void (entity.kind !== 'insert' && out.push(resolved.layer)));
  return out;
};

describe('take references in', () => {
  it('shows what the reference shows, where and as large as it is placed, by its base point', () => {
    const ref = street(chain([10, 10, 30, 10, 30, 20, 10, 20], true));
    const based = {
      ...ref,
      drawing: {
        ...ref.drawing,
        header: new Map([
          [
            '$INSBASE',
            [
              [10, '10'],
              [20, '10'],
              [30, '0'],
            ],
          ],
        ]),
      } as Drawing,
    };
    const made = take(host(insert('STREET', { at: [100, 50, 0], scale: [2, 2, 2], rotation: Math.PI / 2 })), [based]);
    expect(made.against).toEqual([]);
    // 20 × 10 about its lower left corner, doubled, a quarter turn: 20 wide to the left of 100, 40 high.
    const seen = boundsOf({ ...made.drawing, entities: made.drawing.entities.filter((e) => e.kind === 'insert') });
    expect(seen.toJSON()).toMatchObject({ minX: 80, maxX: 100, minY: 50, maxY: 90 });
    expect([...made.drawing.blocks.values()].every((b) => b.reference === undefined)).toBe(true);
    expect(made.codes).toContain('reference-taken-in');
  });
  it('layers get the name of the reference before theirs, or become those of the same name; layer 0 stays', () => {
    const ref = street(
      line(0, 0, 9, 0, { layer: 'KERB' }),
      line(0, 1, 9, 1, { layer: 'OWN' }),
      line(0, 2, 9, 2, { layer: '0' }),
    );
    const apart = take(host(insert('STREET', { layer: 'REFS' })), [ref]).drawing;
    expect(seenLayers(apart)).toEqual(['street-KERB', 'street-OWN', 'REFS', 'OWN']);
    expect(apart.layers.map((l) => l.name)).toEqual(expect.arrayContaining(['street-KERB', 'street-OWN']));
    const same = take(host(insert('STREET', { layer: 'REFS' })), [ref], { layers: 'same' }).drawing;
    expect(seenLayers(same)).toEqual(['KERB', 'OWN', 'REFS', 'OWN']);
    expect(same.layers.filter((l) => l.name === 'OWN')).toHaveLength(1);
  });
  it('layers look as the drawing shows them: what it says of reference|layer counts', () => {
    const d = host(insert('STREET'));
    const seen = { ...newLayer('STREET|KERB'), frozen: true, key: 'A1', flags: 48 };
    const made = take({ ...d, layers: [...d.layers, seen] } as Drawing, [
      street(line(0, 0, 9, 0, { layer: 'KERB' })),
    ]).drawing;
    expect(made.layers.filter((l) => /kerb/i.test(l.name))).toMatchObject([{ name: 'street-KERB', frozen: true }]);
    expect(made.layers.find((l) => l.name === 'street-KERB')!.flags).toBeUndefined();
    expect(seenLayers(made)).toEqual(['OWN']);
  });
  it('records of the same name and meaning are one; of another meaning they get a name of their own', () => {
    const dashed = (scale: number): never =>
      line(0, 0, 9, 0, { look: { ...DRAFTING_DEFAULT, dash: { kind: 'linetype', name: 'DASHED', scale } } });
    const withType = (d: Drawing, pattern: number[]): Drawing => ({
      ...d,
      linetypes: [{ name: 'DASHED', description: '', pattern }],
      textStyles: [{ name: 'NOTES', font: 'x', bigFont: '', fixedHeight: 0, widthFactor: 1, oblique: 0 }],
    });
    const own = withType(host(insert('STREET')), [2, -1]);
    const same = take(own, [{ name: 'street.dxf', drawing: withType(drawn(dashed(1)), [2, -1]) }]).drawing;
    expect(same.linetypes.map((l) => l.name)).toEqual(['DASHED']);
    const other = take(own, [{ name: 'street.dxf', drawing: withType(drawn(dashed(1)), [5, -5]) }]).drawing;
    expect(other.linetypes.map((l) => l.name)).toEqual(['DASHED', 'street-DASHED']);
    expect(other.textStyles).toHaveLength(1);
    expect(other.blocks.get('street')!.entities[0]!.look.dash).toMatchObject({ name: 'street-DASHED' });
  });
  it('what only its own file could hold is told as lost, not as kept', () => {
    const data = line(0, 0, 9, 0, { extended: '1001\nX\n1000\nBay 3\n' });
    const unread = { kind: 'opaque', at: [0, 0, 0], type: 'THING', raw: '' } as never;
    const ref = street(data, unread);
    const dots = { name: 'DOTS', description: '', pattern: [1, -1], complex: 'x' };
    const made = take(host(insert('STREET')), [{ ...ref, drawing: { ...ref.drawing, linetypes: [dots] } as Drawing }]);
    const of = (code: string): unknown => made.ledger.find((r) => r.code === code);
    expect(of('extended-left-in-reference')).toMatchObject({ action: 'dropped', onPurpose: false, count: 1 });
    expect(of('unread-left-in-reference')).toMatchObject({ action: 'dropped', count: 1 });
    expect(of('linetypes-simplified-in-reference')).toMatchObject({ action: 'approximated', count: 1 });
    expect(made.drawing.blocks.get('street')!.entities).toHaveLength(1);
  });
  it('blocks of one name do not get mixed up, and ids stay their own', () => {
    const d = host(insert('STREET'), insert('TREE'));
    d.blocks.set('tree', {
      name: 'TREE',
      base: [0, 0, 0],
      entities: [{ ...drawn(circle(0, 0, 5)).entities[0]!, id: 800 }],
    });
    const inner = drawn(insert('TREE', { at: [50, 0, 0] }));
    inner.blocks.set('tree', {
      name: 'Tree',
      base: [0, 0, 0],
      entities: [{ ...drawn(circle(0, 0, 2)).entities[0]!, id: 9 }],
    });
    const made = take({ ...d, nextId: 900 }, [{ name: 'street.dxf', drawing: inner }]).drawing;
    const radii: number[] = [];
    walk(made, ({ entity }) => void (entity.kind === 'circle' && radii.push(entity.radius)));
    expect(radii.sort()).toEqual([2, 5]);
    const ids = [...made.entities, ...[...made.blocks.values()].flatMap((b) => b.entities)].map((e) => e.id);
    expect(new Set(ids).size).toBe(ids.length);
    expect(Math.max(...ids)).toBeLessThan(made.nextId);
  });
  it('references in references come along; one that refers to itself ends', () => {
    const inner = drawn(insert('LAMP'));
    inner.blocks.set('lamp', { name: 'LAMP', base: [0, 0, 0], entities: [], reference: 'lamp.dwg' });
    const lamp = { name: 'lamp.dxf', drawing: drawn(circle(0, 0, 3)) };
    const made = take(host(insert('STREET')), [{ name: 'street.dxf', drawing: inner }, lamp]);
    expect(boundsOf(made.drawing).toJSON()).toMatchObject({ minX: -3, maxX: 3 });
    expect(made.against).toEqual([]);
    const self = drawn(line(0, 0, 5, 0), insert('STREET'));
    self.blocks.set('street', { name: 'STREET', base: [0, 0, 0], entities: [], reference: 'street.dwg' });
    expect(take(host(insert('STREET')), [{ name: 'street.dxf', drawing: self }]).against).toEqual([]);
  });
  it('units that differ are told, or converted where that is asked', () => {
    const metres = transformDrawing(drawn(line(0, 0, 3000, 0)), scaling(0.001, 0.001, 0.001));
    const ref = { name: 'street.dxf', drawing: { ...metres, unit: { unit: 'm', factor: 1 } } as Drawing };
    const asPlaced = take(host(insert('STREET', { scale: [1000, 1000, 1000] })), [ref]);
    expect(boundsOf(asPlaced.drawing).maxX).toBeCloseTo(3000, 9);
    expect(asPlaced.codes).toContain('reference-in-other-unit');
    const converted = take(host(insert('STREET')), [ref], { units: 'converted' });
    expect(boundsOf(converted.drawing).maxX).toBeCloseTo(3000, 9);
  });
  it('what is not at hand stays a reference, and is told', () => {
    const d = host(insert('STREET'));
    const made = take(d, [{ name: 'other.dxf', drawing: drawn(line(0, 0, 1, 1)) }]);
    expect(made.drawing).toBe(d);
    expect(made.codes).toEqual(['reference-missing']);
  });
  it('missing references are no longer told once a step took them in; the file is whole and proves', () => {
    const source = readDrawing(demoFile('kestrel-row-site-plan.dwg'), 'kestrel-row-site-plan.dwg').drawing;
    const references = [
      { name: 'kestrel-row-street.dxf', drawing: drawn(line(0, -9000, 50000, -9000, { layer: 'KERB' })) },
    ];
    const decided = { ...NO_DECISIONS, unit: 'mm' as const };
    const told = (rows: readonly { code?: string }[]): boolean => rows.some((r) => r.code === 'reference-missing');
    expect(told(prepare(source, decided, [], { fonts: fonts(), references }).ledger)).toBe(true);
    const plan = [plannedStep(stepById('take-references-in')!, 's')];
    const made = prepare(source, decided, plan, { fonts: fonts(), references });
    expect(told(made.ledger)).toBe(false);
    expect(risks(hop(made.drawing, { format: 'dxf' }).proof)).toEqual([]);
    expect(risks(hop(made.drawing, { format: 'dwg' }).proof)).toEqual([]);
  });
  it('a reference read from a file has its own handles and none of the drawing’s', () => {
    const read = readDrawing(dxf([0, 'LINE', 5, '1A', 8, 'K', 10, 0, 20, 0, 11, 9, 21, 0]), 'street.dxf').drawing;
    const made = take(host(insert('STREET')), [{ name: 'street.dxf', drawing: read }]).drawing;
    expect(made.blocks.get('street')!.entities.map((e) => e.key)).toEqual([undefined]);
  });
});
