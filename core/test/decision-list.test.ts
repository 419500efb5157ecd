import { Ajv } from 'ajv';
import { describe, expect, it } from 'vitest';
import type { IntakeDecisions, KeptValue, Parameter, ParameterSet } from '../src/index.js';
import {
  ART_DEFAULT,
  DECISIONS,
  DECISION_TABLE,
  INTAKE_FIELDS,
  NO_DECISIONS,
  copiedDecisions,
  decidedOf,
  decisionOf,
  faultOf,
  intakeSchema,
  takenBack,
  wholeDecisions,
} from '../src/index.js';

const all: IntakeDecisions = {
  encoding: 'windows-1251',
  unit: 'in',
  pxPerInch: 72,
  correction: 2,
  layers: { mode: 'chosen', names: ['CUT', 'ENGRAVE'] },
  layersFrom: 'stroke',
  window: { minX: 0, minY: 10, maxX: 100, maxY: 60, touching: true },
  kinds: { blocks: 'group', dimensions: 'leaveOut', hatches: 'lines' },
  plane: 'flat',
  origin: { mode: 'point', x: 12.5, y: -3 },
  art: { clips: 'whole', patterns: 'colour', gradients: 'mean' },
  fromPage: 3,
  letters: 'outlines',
  pens: 'drawing',
  decimal: 'comma',
  third: 'height',
  under: {
    picture: 'scan.png',
    ...{ width: 300, height: 200, opacity: 40, delivered: true },
    ...{ at: { x: 0, y: 0 }, right: { x: 30, y: 0 }, up: { x: 0, y: 20 } },
  },
};

describe('the list of decisions', () => {
  it('is empty while nothing was decided', () => {
    expect(decidedOf(NO_DECISIONS)).toEqual([]);
    expect(decidedOf({ ...NO_DECISIONS, window: null, plane: 'keep' })).toEqual([]);
  });
  it('says each in words', () => {
    expect(decidedOf(all).map((d) => `${d.title}: ${d.words}`)).toEqual([
      'Text encoding: Cyrillic (windows-1251)',
      'Page of the PDF: page 3, letters as outlines, line widths scale',
      'Numbers of the text: decimals after a comma, third number a height',
      'Unit: in, 72 pixels to the inch',
      'Scale: times 2, by a known size',
      'Layers: 2 chosen, made from stroke',
      'Part: 100 × 50 from 0, 10, with what the frame touches',
      'Picture under the drawing: scan.png, delivered with the drawing',
      'Blocks, dimensions, hatches: blocks as groups, dimensions left out, hatches as lines',
      'Plane: laid flat onto XY',
      'Origin: at 12.5, -3',
      'Clips, patterns, gradients: clipped shapes whole, patterns as one colour, gradients as their mean colour',
    ]);
  });
  it('each can be taken back by itself, and all together leave nothing', () => {
    for (const name of DECISIONS) {
      const left = { ...all, ...takenBack(name) };
      expect(decidedOf(left).map((d) => d.name)).toEqual(DECISIONS.filter((n) => n !== name));
    }
    const none = DECISIONS.reduce((d, name) => ({ ...d, ...takenBack(name) }), all);
    expect(decidedOf(none)).toEqual([]);
  });
  it('copying some leaves the rest of the other drawing as it is', () => {
    const other: IntakeDecisions = { ...NO_DECISIONS, unit: 'mm', correction: 3 };
    const copied = { ...other, ...copiedDecisions(all, ['unit', 'plane']) };
    expect(decidedOf(copied).map((d) => d.words)).toEqual([
      'in, 72 pixels to the inch',
      'times 3, by a known size',
      'laid flat onto XY',
    ]);
  });
  it('what comes of it is what the server takes', () => {
    const valid = new Ajv({ allowUnionTypes: true }).compile(intakeSchema);
    for (const d of [all, { ...NO_DECISIONS, ...copiedDecisions(NO_DECISIONS, DECISIONS) }])
      expect(valid(d), JSON.stringify(valid.errors)).toBe(true);
  });
});

describe('what decisions say of themselves', () => {
  it('every field has a default that means nothing is decided, and one other value that is told and taken back', () => {
    const other = (one: Parameter): KeptValue => {
      switch (one.kind) {
        case 'optional':
          return other(one.of);
        case 'choice':
          return Object.keys(one.choices).find((c) => c !== one.default)!;
        case 'number':
          return Number(one.default) + 1;
        case 'layers':
          return { mode: 'all', names: [] };
        case 'group':
          return Object.fromEntries(Object.entries(one.params).map(([name, inner]) => [name, other(inner)]));
        case 'yesNo':
          return !one.default;
        case 'text':
          return 'another';
        case 'point':
          return { x: 1, y: 2 };
        default:
          throw new Error(`a decision with ${one.kind}: say here what it may be`);
      }
    };
    for (const name of DECISIONS) {
      expect(
        decidedOf(NO_DECISIONS).map((d) => d.name),
        name,
      ).not.toContain(name);
      for (const [field, one] of Object.entries(DECISION_TABLE[name].fields as ParameterSet)) {
        const value = other(one);
        const made = { ...NO_DECISIONS, [field]: value };
        expect(faultOf(INTAKE_FIELDS, { [field]: value }), field).toBeNull();
        expect(
          decidedOf(made).map((d) => d.name),
          field,
        ).toEqual([name]);
        expect(decidedOf({ ...made, ...takenBack(name) }), field).toEqual([]);
        expect(decisionOf(field as keyof typeof made), field).toBe(name);
      }
    }
  });

  it('decisions of before, with fields missing, are whole ones with nothing decided on what came later', () => {
    const old = {
      unit: 'mm',
      pxPerInch: null,
      correction: 1,
      layers: { mode: 'all', names: [] },
      origin: { mode: 'page' },
    } as never;
    const whole = wholeDecisions(old);
    expect(whole).toMatchObject({
      unit: 'mm',
      layersFrom: 'groups',
      window: null,
      plane: 'keep',
      origin: { mode: 'page', x: 0, y: 0 },
    });
    expect(whole.art).toEqual(ART_DEFAULT);
    expect(decidedOf(old).map((d) => d.name)).toEqual(['unit', 'layers', 'origin']);
  });
});
