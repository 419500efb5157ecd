import { RECIPE_SETS } from '../sets/recipe.js';
import { PLACES, YARDSTICK_KINDS } from '../yardsticks/yardstick.js';
import { NAME_FIELDS } from '../delivery/names.js';
import { PURPOSES } from '../checks/purposes.js';
import { CARRY_OVERS } from '../drawing/ledger.js';
import { FORMAT_CATALOGUE } from '../formats/catalogue.js';
import { INTAKE_FIELDS, NO_DECISIONS } from '../intake/decisions.js';
import { UNIT_NAMES } from '../drawing/units.js';
import type { JsonSchema } from '../parameters/json-schema.js';
import { PART_FIELDS } from '../parts/fields.js';
import { jsonSchemaOf } from '../parameters/json-schema.js';

/** JSON Schemas (draft 7) of the plain data that leaves the core: stored, sent over HTTP, printed by the command. */
const object = (properties: Record<string, JsonSchema>, optional: readonly string[] = []): JsonSchema => ({
  type: 'object',
  properties,
  required: Object.keys(properties).filter((k) => !optional.includes(k)),
  additionalProperties: false,
});
const array = (items: JsonSchema): JsonSchema => ({ type: 'array', items });
const nullable = (schema: JsonSchema): JsonSchema => ({ anyOf: [schema, { type: 'null' }] });
const number = { type: 'number' };
const integer = { type: 'integer' };
const string = { type: 'string' };
const boolean = { type: 'boolean' };
const counts = { type: 'object', additionalProperties: integer };
const unitName = { enum: [...UNIT_NAMES] };
const bounds = nullable(object({ minX: number, minY: number, maxX: number, maxY: number }));

export const intakeSchema: JsonSchema = { ...jsonSchemaOf(INTAKE_FIELDS), required: Object.keys(NO_DECISIONS) };

export const stepsSchema: JsonSchema = {
  type: 'array',
  maxItems: 200,
  items: object(
    {
      id: { type: 'string', minLength: 1, maxLength: 64 },
      step: { type: 'string', minLength: 1, maxLength: 64 },
      on: boolean,
      params: { type: 'object', maxProperties: 100 },
      version: { type: 'integer', minimum: 1 },
    },
    ['version'],
  ),
};

/** What is asked of the parts in a file. */
const ofParts = {
  numbered: boolean,
  parts: { type: 'array', minItems: 1, maxItems: 10_000, items: { type: 'string', minLength: 1, maxLength: 60 } },
};

/** What a file is called, without its ending. */
const fileName = { type: 'string', minLength: 1, maxLength: 120 };

/** A target: for each format, what can be asked of its writer. */
const targets = Object.values(FORMAT_CATALOGUE).map((format) =>
  object(
    {
      format: { const: format.id },
      version: { enum: [...format.versions] },
      unit: nullable(unitName),
      unitless: boolean,
      name: fileName,
      ...ofParts,
      options: jsonSchemaOf(format.options),
    },
    ['unitless', 'name', 'numbered', 'parts'],
  ),
);
export const targetSchema: JsonSchema = { anyOf: targets };

/** The same as it is asked for: `targetFault` says in words what is wrong with version and options. */
export const targetAskedSchema: JsonSchema = object(
  {
    format: { enum: Object.keys(FORMAT_CATALOGUE) },
    version: string,
    unit: nullable(unitName),
    unitless: boolean,
    name: fileName,
    ...ofParts,
    options: { type: 'object', maxProperties: 100 },
  },
  ['unitless', 'name', 'numbered', 'parts', 'options'],
);

/** What was decided about the findings of a drawing. */
export const reviewSchema: JsonSchema = object(
  {
    purpose: { enum: Object.keys(PURPOSES) },
    aside: {
      type: 'object',
      maxProperties: 2000,
      additionalProperties: { type: 'string', minLength: 1, maxLength: 300 },
    },
  },
  ['purpose', 'aside'],
);

/** Lines of a parts list as they are told to programs. Lengths and areas in the drawing's unit. */
export const partRowsSchema = array(
  object({
    number: string,
    name: string,
    kind: string,
    material: string,
    thickness: string,
    grain: string,
    side: string,
    length: number,
    width: number,
    area: number,
    cutLength: number,
    holes: array(object({ diameter: nullable(number), count: integer, through: integer, blind: integer })),
    quantity: integer,
    mirrored: integer,
    marks: integer,
    labels: array(string),
  }),
);

/** What is wrong with parts, and where. */
export const partFindingsSchema = array(
  object({ code: string, words: string, kind: string, layer: string, x: number, y: number, called: string }),
);

const word = (maxLength: number): JsonSchema => ({ type: 'string', maxLength });

/** What files of a set are called, piece by piece. */
export const namingSchema: JsonSchema = {
  type: 'array',
  minItems: 1,
  maxItems: 40,
  items: {
    anyOf: [
      object({ what: { const: 'text' }, text: word(120) }),
      object({
        what: { const: 'field' },
        field: { enum: Object.keys(NAME_FIELDS) },
        letters: { enum: ['asIs', 'capitals', 'small'] },
        spaces: { enum: ['asIs', 'underscores', 'hyphens', 'none'] },
      }),
      object({
        what: { const: 'number' },
        series: word(60),
        digits: { type: 'integer', minimum: 1, maximum: 12 },
        first: { type: 'integer', minimum: 0, maximum: 1e9 },
      }),
    ],
  },
};

/** A file of a set as its manifest tells of it. */
const digest = { name: word(300), sha256: { type: 'string', pattern: '^[0-9a-f]{64}$' } };
const notWritten = array(object({ source: string, why: string }));

/** A manifest, as it is read again to be held against a folder. */
export const manifestSchema: JsonSchema = object(
  {
    manifest: { const: 1 },
    recipe: nullable(object({ title: string, sha256: string })),
    files: array(
      object(
        {
          ...digest,
          bytes: integer,
          format: string,
          version: string,
          unit: string,
          width: number,
          height: number,
          x: number,
          y: number,
          layers: array(object({ name: string, objects: integer })),
          outlines: integer,
          holes: integer,
          texts: integer,
          cutLength: number,
          source: object({ ...digest, revision: integer }, ['revision']),
          parts: nullable(array(string)),
          proof: { enum: ['holds', 'holds with exceptions', 'does not hold'] },
          ledger: object({ kept: integer, changed: integer, approximated: integer, dropped: integer }),
          asked: nullable(string),
          piece: nullable(string),
          material: string,
          thickness: string,
          prepared: integer,
          yardsticks: object({ holds: integer, fails: integer, undecided: integer }),
          unchanged: boolean,
          picture: nullable(object(digest)),
          beside: array(object(digest)),
          names: array(string),
        },
        ['piece', 'material', 'thickness', 'prepared', 'yardsticks', 'unchanged', 'picture', 'beside', 'names'],
      ),
    ),
    failed: notWritten,
    leftOut: notWritten,
    expected: integer,
    void: array(object({ series: string, number: integer })),
    objects: object({ prepared: integer, written: integer, leftOut: integer }),
    parts: object({ listed: integer, inFiles: integer, leftOut: integer }),
  },
  ['void', 'objects', 'parts'],
);

/** Features of known size that are bound to no place. */
const generalKinds = Object.keys(PLACES).filter((k) => PLACES[k as keyof typeof PLACES] === 0);
const yardstick = {
  id: word(60),
  title: word(200),
  expected: { type: ['number', 'string'] },
  unit: unitName,
  tolerance: { type: 'number', minimum: 0 },
  source: word(300),
  diameter: number,
  words: word(2000),
};
const place = object({ x: number, y: number, u: number, v: number, shape: object({ across: number, part: number }) }, [
  'shape',
]);
export const yardsticksSchema: JsonSchema = {
  type: 'array',
  maxItems: 200,
  items: object(
    {
      ...yardstick,
      what: { enum: Object.keys(YARDSTICK_KINDS) },
      places: { type: 'array', maxItems: 3, items: place },
    },
    ['diameter', 'words'],
  ),
};

const needed = object(digest);

/** A recipe: every part optional, and so is every field of the parts. */
export const recipeSchema: JsonSchema = object(
  {
    recipe: { const: 2 },
    title: word(120),
    receiver: word(120),
    note: word(4000),
    basedOn: object({ title: word(120), why: { ...word(1000), minLength: 1 } }),
    ownSteps: { enum: ['before', 'aside'] },
    intake: { ...intakeSchema, required: [] },
    steps: stepsSchema,
    // Options may lie flat, as in recipes of before.
    target: { type: 'object', maxProperties: 100 },
    parts: jsonSchemaOf(PART_FIELDS),
    naming: namingSchema,
    ...Object.fromEntries(Object.entries(RECIPE_SETS).map(([name, fields]) => [name, jsonSchemaOf(fields)])),
    yardsticks: {
      type: 'array',
      maxItems: 200,
      items: object({ ...yardstick, what: { enum: generalKinds } }, ['diameter', 'words']),
    },
    template: needed,
  },
  [
    ...['title', 'receiver', 'note', 'basedOn', 'ownSteps', 'intake', 'steps', 'target', 'parts', 'naming'],
    ...['yardsticks', 'template', ...Object.keys(RECIPE_SETS)],
  ],
);

export const ledgerSchema = array(
  object(
    {
      carryOver: { enum: [...CARRY_OVERS] },
      action: { enum: ['kept', 'changed', 'approximated', 'dropped'] },
      code: string,
      args: { type: 'object', additionalProperties: { type: ['string', 'number'] } },
      reason: string,
      count: integer,
      onPurpose: boolean,
      by: string,
      deviation: object({ value: number, unit: string }),
      becomes: object({ from: string, to: string, gone: integer, entities: integer }),
      added: { type: 'object', additionalProperties: number },
      filled: { type: 'object', additionalProperties: number },
      recoloured: { type: 'object', additionalProperties: string },
      renamed: object({ from: string, to: string, of: { enum: ['block'] } }, ['of']),
      ids: array({ type: 'array', items: integer, minItems: 2, maxItems: 2 }),
    },
    ['code', 'args', 'deviation', 'becomes', 'added', 'filled', 'recoloured', 'renamed'],
  ),
);

/** What a reader had to say of a file. */
export const notesSchema = array(
  object({ text: string, where: string, count: integer, severity: { enum: ['note', 'warning'] }, endsHere: boolean }, [
    'where',
    'endsHere',
  ]),
);

export const claimsSchema = object(
  {
    format: string,
    version: string,
    unit: nullable(object({ unit: { enum: [...UNIT_NAMES, 'px'] }, factor: number })),
    bounds,
    page: nullable(object({ x: number, y: number, width: number, height: number })),
    pageOf: object({ number: integer, of: integer }),
    entities: integer,
    kinds: counts,
    layers: array(
      object({
        name: string,
        count: integer,
        colour: nullable(string),
        off: boolean,
        frozen: boolean,
        locked: boolean,
        kinds: counts,
      }),
    ),
    fonts: array(object({ name: string, count: integer })),
    colours: array(object({ hex: string, count: integer })),
    blocks: integer,
    sheets: array(string),
    pictures: array(string),
    references: array(string),
    notes: notesSchema,
  },
  ['pictures', 'references', 'pageOf'],
);

export const findingsSchema = array(
  object(
    {
      check: string,
      severity: { enum: ['note', 'warning', 'error'] },
      message: string,
      at: nullable(object({ x: number, y: number })),
      size: nullable(number),
      layer: nullable(string),
      ids: array(integer),
      span: number,
    },
    ['span'],
  ),
);

export const proofSchema = object({
  holds: boolean,
  unit: string,
  items: array(
    object(
      {
        id: string,
        carryOver: { enum: [...CARRY_OVERS] },
        title: string,
        state: { enum: ['kept', 'changed', 'undecided', 'atRisk', 'lost'] },
        expected: string,
        found: string,
        explanation: string,
        at: object({ x: number, y: number }),
        shows: object({ kind: string, layer: string }, ['kind', 'layer']),
        count: integer,
        about: { enum: ['source'] },
      },
      ['at', 'shows', 'count', 'about'],
    ),
  ),
});

export const schemaParts = { object, array, nullable, number, integer, string, boolean };
