import { KINDS } from '../drawing/kinds.js';
import { UNIT_NAMES } from '../drawing/units.js';
import type { Parameter, ParameterSet } from './parameter.js';
import { MOST_PICKED } from './parameter.js';

export type JsonSchema = { readonly [key: string]: unknown };

/** JSON Schema (draft 7) of a set of parameters as they are kept, any of which may be missing. It accepts what `faultsOf` does. */
export const jsonSchemaOf = (set: ParameterSet): JsonSchema => ({
  type: 'object',
  properties: Object.fromEntries(Object.entries(set).map(([name, one]) => [name, schemaOf(one)])),
  additionalProperties: false,
});

const COLOUR = { type: 'string', pattern: '^#[0-9a-fA-F]{6}$' };
const name = { type: 'string', maxLength: 1000 };
const closed = (properties: Record<string, JsonSchema>): JsonSchema => ({
  type: 'object',
  properties,
  required: Object.keys(properties),
  additionalProperties: false,
});
const length = (number: JsonSchema): JsonSchema => ({
  anyOf: [number, closed({ value: number, unit: { enum: [...UNIT_NAMES] } })],
});
const nullable = (schema: JsonSchema): JsonSchema => ({ anyOf: [schema, { type: 'null' }] });

function schemaOf(one: Parameter): JsonSchema {
  switch (one.kind) {
    case 'length':
    case 'area':
    case 'angle':
    case 'number': {
      const number = {
        type: one.kind === 'number' && one.whole ? 'integer' : 'number',
        ...(one.above !== undefined && { exclusiveMinimum: one.above }),
        ...(one.atLeast !== undefined && { minimum: one.atLeast }),
        ...(one.atMost !== undefined && { maximum: one.atMost }),
      };
      return one.kind === 'length' || one.kind === 'area' ? length(number) : number;
    }
    case 'yesNo':
      return { type: 'boolean' };
    case 'text':
      return { type: 'string', maxLength: one.maxLength };
    case 'font':
      return name;
    case 'choice':
      return { enum: Object.keys(one.choices) };
    case 'colour':
      return COLOUR;
    case 'point':
      return closed({ x: length({ type: 'number' }), y: length({ type: 'number' }) });
    case 'picked':
      return { type: 'array', maxItems: one.atMost, items: name };
    case 'layers':
      return closed({
        mode: { enum: ['visible', 'all', 'chosen'] },
        names: { type: 'array', items: { type: 'string' }, maxItems: 100000 },
      });
    case 'selection': {
      const colour = { anyOf: [COLOUR, { const: '' }] };
      const kinds = { type: 'array', items: { enum: Object.keys(KINDS) } };
      const pattern = { type: 'string', maxLength: 2000 };
      const size = length({ type: 'number', minimum: 0 });
      const refs = (maxItems: number): JsonSchema => ({ type: 'array', maxItems, items: name });
      const first = { layers: pattern, kinds, stroke: colour, fill: colour };
      const later = { group: pattern, smallest: size, largest: size, inside: refs(1), only: refs(MOST_PICKED) };
      return { ...closed({ ...first, ...later }), required: Object.keys(first) };
    }
    case 'drawing':
    case 'file':
      return nullable({ type: 'string', maxLength: 4096 });
    case 'list':
      return { type: 'array', maxItems: one.atMost, items: schemaOf(one.item) };
    case 'chart': {
      const side = one.of === 'colour' ? COLOUR : name;
      return { type: 'array', maxItems: one.atMost, items: closed({ from: side, to: side }) };
    }
    case 'group':
      return jsonSchemaOf(one.params);
    case 'optional':
      return nullable(schemaOf(one.of));
    default:
      return one satisfies never;
  }
}
