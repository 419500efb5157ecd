import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { refOf, resolveRef, runSteps } from '../../src/index.js';
import { drawingOf, dxf, fonts, read, svg } from '../helpers.js';

const circle = (x: number, key?: string): Entity =>
  ({ kind: 'circle', centre: [x, 0, 0], radius: 30, ...(key && { key }) }) as unknown as Entity;
const at = (d: Drawing, ref: string): number | undefined => {
  const e = resolveRef(ref, d);
  return e?.kind === 'circle' ? e.centre[0] : undefined;
};

describe('what was picked', () => {
  it('is found again when entities come before it, whatever numbers they take', () => {
    const before = read(
      dxf([
        0,
        'LINE',
        5,
        '20',
        8,
        'A',
        10,
        0,
        20,
        0,
        11,
        9,
        21,
        0,
        0,
        'CIRCLE',
        5,
        '21',
        8,
        'A',
        10,
        50,
        20,
        0,
        40,
        30,
      ]),
    );
    const after = read(
      dxf([
        0,
        'LINE',
        5,
        '30',
        8,
        'A',
        10,
        0,
        20,
        5,
        11,
        9,
        21,
        5,
        0,
        'LINE',
        5,
        '20',
        8,
        'A',
        10,
        0,
        20,
        0,
        11,
        9,
        21,
        0,
        0,
        'CIRCLE',
        5,
        '21',
        8,
        'A',
        10,
        50,
        20,
        0,
        40,
        30,
      ]),
    );
    const ref = refOf(before.entities[1]!, before);
    expect(before.entities[1]!.id).not.toBe(after.entities[2]!.id);
    expect(at(after, ref)).toBe(50);
  });
  it('goes by its shape when handles were given anew, and by its handle when it was redrawn', () => {
    const before = drawingOf([circle(10, '21'), circle(50, '22')]);
    const ref = refOf(before.entities[1]!, before);
    expect(at(drawingOf([circle(50, '21'), circle(10, '22')]), ref)).toBe(50);
    expect(at(drawingOf([circle(10, '21'), circle(55, '22')]), ref)).toBe(55);
  });
  it('is nothing rather than a guess: gone, of another kind, doubled, or known by its line alone', () => {
    const before = drawingOf([circle(10, '21'), circle(50, '22')]);
    const ref = refOf(before.entities[1]!, before);
    expect(resolveRef(ref, drawingOf([circle(10, '21')]))).toBeNull();
    expect(
      resolveRef(ref, drawingOf([{ kind: 'line', start: [0, 0, 0], end: [1, 0, 0], key: '22' } as never])),
    ).toBeNull();
    // Two of the same shape are told apart by their keys; without any, they are not.
    expect(at(drawingOf([circle(50, '21'), circle(50, '22')]), ref)).toBe(50);
    const bare = drawingOf([circle(50)]);
    expect(resolveRef(refOf(bare.entities[0]!, bare), drawingOf([circle(50), circle(50)]))).toBeNull();
    const one = read(svg('<circle cx="20" cy="20" r="5"/>'), 'a.svg');
    const other = read(svg('<circle cx="70" cy="70" r="9"/>'), 'a.svg');
    expect(resolveRef(refOf(one.entities[0]!, one), other)).toBeNull();
    for (const bad of ['', '2', 'circle/xyz/1', '__proto__/00000000/x']) expect(resolveRef(bad, before)).toBeNull();
  });
  it('is followed where it was moved, if nothing else had its shape and no key says otherwise', () => {
    const wide = { kind: 'circle', centre: [0, 0, 0], radius: 77 } as unknown as Entity;
    const before = drawingOf([circle(10), wide]);
    const ref = refOf(before.entities[1]!, before);
    const moved = { ...wide, centre: [5e5, 3, 0] } as Entity;
    expect(at(drawingOf([moved, circle(10)]), ref)).toBe(5e5);
    expect(resolveRef(ref, drawingOf([moved, { ...moved, centre: [9, 9, 0] } as Entity]))).toBeNull();
    // One of two alike may have gone: which one is left is not told.
    const two = drawingOf([circle(10), circle(50)]);
    expect(resolveRef(refOf(two.entities[1]!, two), drawingOf([circle(90)]))).toBeNull();
    const keyed = drawingOf([{ ...wide, key: '21' } as Entity]);
    expect(resolveRef(refOf(keyed.entities[0]!, keyed), drawingOf([{ ...moved, key: '99' } as Entity]))).toBeNull();
  });
  it('lettering follows its curve into the next revision, and says so when it cannot', () => {
    const before = drawingOf([circle(10, '21'), circle(500, '22')]);
    const curve = refOf(before.entities[1]!, before);
    const step = {
      id: 's',
      step: 'lettering-on-curve',
      on: true,
      params: { text: 'HH', along: 'curve', curve, height: 5 },
    };
    const set = (d: Drawing): ReturnType<typeof runSteps> => runSteps(d, [step], { fonts: fonts() });
    const later = set(drawingOf([circle(200, '23'), circle(10, '21'), circle(500, '22')]));
    const letters = later.drawing.entities.slice(3);
    expect(letters.length).toBeGreaterThan(0);
    for (const e of letters) if (e.kind === 'path') expect(e.path.data[0]).toBeGreaterThan(400);
    const gone = set(drawingOf([circle(10, '21')]));
    expect(gone.drawing.entities.length).toBe(1);
    expect(gone.ledger).toMatchObject([
      { action: 'dropped', onPurpose: false, reason: expect.stringMatching(/pick it again/) as string },
    ]);
    // A plan of before kept a number, which means nothing any more.
    const old = runSteps(before, [{ ...step, params: { ...step.params, curve: 2 } }], { fonts: fonts() });
    expect(old.drawing.entities.length).toBe(2);
  });
});
