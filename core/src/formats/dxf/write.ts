import { UserError } from '../../errors.js';
import type { Drawing } from '../../drawing/drawing.js';
import { composeRecords } from '../drafting/compose.js';
import { isSealed } from '../drafting/sealed.js';
import { WRITABLE_VERSIONS, abilitiesOf } from '../drafting/versions.js';
import type { WriteOptions, Work, Writing } from '../format.js';
import { joined } from '../joined.js';
import { BinaryTagWriter, TagWriter, binaryHead } from './tag-writer.js';

/**
 * Writes a drawing as DXF, ASCII or binary. From version 2000 on the file is complete: every table, owner and dictionary
 * that the version asks for, with the source's own records when it was a drafting file. What a version cannot say is
 * converted and put in the ledger.
 */
export function writeDxf(source: Drawing, options: WriteOptions, work?: Work): Writing {
  const version = WRITABLE_VERSIONS[options.version ?? '2010'];
  if (!version)
    throw new UserError(
      'unknown-version',
      `DXF version "${options.version}" cannot be written; one of ${Object.keys(WRITABLE_VERSIONS).join(', ')}`,
    );
  const { utf8, r12 } = abilitiesOf(version);
  const { front, tables, body, ledger } = composeRecords(
    source,
    options,
    {
      name: 'DXF',
      version,
      sink: () => (options.binary ? new BinaryTagWriter(utf8, !r12) : new TagWriter(utf8)),
      holds: (_type, raw) => !isSealed(raw),
    },
    work,
  );
  const parts = [...front.pieces(), ...tables.pieces(), ...body.pieces()];
  if (options.binary) parts.unshift(binaryHead());
  return { bytes: joined(parts), ledger: ledger.rows };
}
