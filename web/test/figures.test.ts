import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { plainNumber, typedNumber } from '../src/parts/numbers';
import { angles, areas, lengths, otherUnit } from '../src/routes/drawing/view/figures';
import { TAKEN, jobAddress } from '../src/routes/uploads';

describe('lengths and areas in two units at once', () => {
  it('inches beside millimetres, millimetres beside inches and feet', () => {
    expect(lengths({ unit: 'mm', scale: 1 }, 25.4)).toEqual(['25.4 mm', '1 in']);
    expect(lengths({ unit: 'in', scale: 1 }, 0.5)).toEqual(['0.5 in', '12.7 mm']);
    expect(lengths({ unit: 'ft', scale: 1 }, 1)).toEqual(['1 ft', '304.8 mm']);
    // A survey foot is 1200/3937 m: 304.8006096 mm.
    expect(lengths({ unit: 'ft-us', scale: 1 }, 1)).toEqual(['1 ft-us', '304.8006 mm']);
    // Millimetres drawn at a tenth of their size.
    expect(lengths({ unit: 'mm', scale: 10 }, 2.54)).toEqual(['25.4 mm', '1 in']);
  });
  it('areas by the square of the factor: 1 in² is 645.16 mm²', () => {
    expect(areas({ unit: 'in', scale: 1 }, 1)).toEqual(['1 in²', '645.16 mm²']);
    expect(areas({ unit: 'mm', scale: 10 }, 6.4516)).toEqual(['645.16 mm²', '1 in²']);
  });
  it('without a unit, units; without a plain one, its name', () => {
    expect(lengths({ unit: null, scale: 1 }, 12345.678)).toEqual(['12\u2009345.68 units']);
    expect(areas({ unit: null, scale: 2 }, 3)).toEqual(['12 square units']);
    expect(lengths({ unit: 'px', scale: 1 }, 96)).toEqual(['96 px']);
  });
  it('every unit has one of the other family', () => {
    for (const u of ['mm', 'cm', 'm', 'km'] as const) expect(otherUnit(u)).toBe('in');
    for (const u of ['in', 'ft', 'yd', 'mi', 'ft-us'] as const) expect(otherUnit(u)).toBe('mm');
  });
});

describe('angles', () => {
  it('in degrees, and in degrees, minutes and seconds', () => {
    expect(angles(30)).toEqual(['30°', '30° 0′ 0″']);
    // 0.5125° = 30′ 45″
    expect(angles(12.5125)).toEqual(['12.5125°', '12° 30′ 45″']);
    expect(angles(-0.25)).toEqual(['−0.25°', '−0° 15′ 0″']);
  });
  it('never show 60 minutes or seconds, and add up to what they came from', () => {
    fc.assert(
      fc.property(fc.double({ min: -360, max: 360, noNaN: true }), (degrees) => {
        const [d, m, s] = /^−?(\d+)° (\d+)′ ([\d.]+)″$/.exec(angles(degrees)[1]!)!.slice(1).map(Number) as [
          number,
          number,
          number,
        ];
        expect(m).toBeLessThan(60);
        expect(s).toBeLessThan(60);
        // To a tenth of a second.
        expect(Math.abs(d + m / 60 + s / 3600 - Math.abs(degrees))).toBeLessThan(0.06 / 3600);
      }),
    );
  });
});

describe('numbers for people', () => {
  it('are read back as they were shown, whatever their size', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e11, max: 1e11, noNaN: true }), fc.integer({ min: 3, max: 12 }), (v, digits) => {
        const shown = plainNumber(v, digits);
        fc.pre(!shown.includes('e'));
        const back = typedNumber(shown)!;
        expect(back).toBe(Number(v.toPrecision(digits)) || 0);
      }),
    );
  });
  it('as a person types them; anything else is none', () => {
    expect(['1 234,5', ' -0.5', '+3', '.25', '1e3', '−7'].map(typedNumber)).toEqual([1234.5, -0.5, 3, 0.25, 1000, -7]);
    for (const text of ['', '1,2,3', '12 mm', '0x10', 'Infinity', '--1', '1e999']) expect(typedNumber(text)).toBeNull();
  });
});

describe('where a dropped file goes', () => {
  it('pictures beside the drawings, their names kept whole', () => {
    expect(jobAddress('7', 'Kestrel Row.PNG')).toBe('/api/jobs/7/pictures?name=Kestrel%20Row.PNG');
    expect(jobAddress('7', 'scan.jpeg')).toContain('/pictures?');
    for (const name of ['plan.dwg', 'png.dxf', 'sketch.png.svg', 'noending'])
      expect(jobAddress('7', name)).toContain('/drawings?');
    expect(jobAddress('7', '../a&b?.dxf')).toBe('/api/jobs/7/drawings?name=..%2Fa%26b%3F.dxf');
    for (const ending of ['.dxf', '.dwg', '.svg', '.svgz', '.png', '.jpg', '.jpeg'])
      expect(TAKEN.split(',')).toContain(ending);
  });
});
