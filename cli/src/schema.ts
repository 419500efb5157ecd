import type { JsonSchema } from '@scalaria/core';
import {
  claimsSchema,
  findingsSchema,
  ledgerSchema,
  manifestSchema,
  notesSchema,
  partFindingsSchema,
  partRowsSchema,
  proofSchema,
  schemaParts,
} from '@scalaria/core';

const { object, array, string, boolean } = schemaParts;

const failure = object({ message: string, where: string, remedy: string }, ['where', 'remedy']);
const fileResult = (fields: Record<string, JsonSchema>): JsonSchema =>
  object({ ok: boolean, error: failure, ...fields }, ['error', ...Object.keys(fields).filter((k) => k !== 'file')]);

/** The schema of everything that `--json` prints. Later versions only add to it. */
export const outputSchema: JsonSchema = {
  $schema: 'http://json-schema.org/draft-07/schema#',
  title: 'Output of the scalaria command',
  oneOf: [
    object({
      command: { const: 'inspect' },
      files: array(fileResult({ file: string, claims: claimsSchema, findings: findingsSchema, ledger: ledgerSchema })),
    }),
    object({
      command: { const: 'convert' },
      files: array(
        fileResult({ file: string, written: string, notes: notesSchema, ledger: ledgerSchema, proof: proofSchema }),
      ),
    }),
    object({
      command: { const: 'parts' },
      files: array(
        fileResult({
          file: string,
          unit: string,
          rows: partRowsSchema,
          findings: partFindingsSchema,
          twice: array(string),
        }),
      ),
    }),
    object({
      command: { const: 'deliver' },
      into: string,
      /** Files that were there already, the very same. */
      unchanged: array(string),
      errors: array(object({ file: string, message: string, where: string, remedy: string }, ['where', 'remedy'])),
      manifest: manifestSchema,
    }),
    object({
      command: { const: 'verify' },
      folder: string,
      ok: boolean,
      missing: array(string),
      changed: array(string),
      extra: array(string),
      sums: array(string),
    }),
    object({ command: { const: 'prove' }, ok: boolean, a: string, b: string, proof: proofSchema, error: failure }, [
      'proof',
      'error',
    ]),
  ],
};
