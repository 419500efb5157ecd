import { useState } from 'react';
import { Link } from 'react-router';
import type { PartChange } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Section, TextField } from '../../parts/field';
import type { TableRow } from './rows';

const WORDS = [
  ['name', 'Name'],
  ['kind', 'Kind'],
  ['material', 'Material'],
  ['thickness', 'Thickness'],
  ['quantity', 'Quantity'],
  ['grain', 'Grain, °'],
  ['side', 'Side'],
] as const;
type Word = (typeof WORDS)[number][0];

/** What all of them say; empty where they differ. */
const common = (rows: readonly TableRow[], of: (r: TableRow) => string): string => {
  const first = of(rows[0]!);
  return rows.every((r) => of(r) === first) ? first : '';
};

/** What the ticked parts are: set for all of them at once. */
export function ChosenSection({
  rows,
  onChange,
}: {
  rows: readonly TableRow[];
  onChange: (change: PartChange, said: string) => void;
}) {
  const [reason, setReason] = useState('');
  if (rows.length === 0)
    return (
      <Section title="Ticked parts">
        <p className="text-sm text-quiet">
          Tick parts in the table to say what they are, leave them out, or write them alone.
        </p>
      </Section>
    );
  const words = rows.length === 1 ? `part ${rows[0]!.number}`.trim() : `${rows.length} parts`;
  const offersOf = (word: Word): string[] => [...new Set(rows.map((r) => String(r[word])).filter(Boolean))];
  const isOut = rows.every((r) => r.leftOut !== null);
  const drawings = [...new Set(rows.map((r) => r.drawing.id))];
  const own = rows.filter((r) => r.number !== '' && r.leftOut === null);
  return (
    <Section title={rows.length === 1 ? 'Ticked part' : `${rows.length} ticked parts`}>
      <div className="flex flex-wrap gap-x-3 gap-y-2">
        {rows.length === 1 && (
          <TextField
            label="Number"
            width="w-24"
            maxLength={60}
            value={rows[0]!.number}
            onChange={(number) =>
              onChange(
                { number },
                number.trim() === '' ? 'The number is taken back.' : `The part has the number ${number.trim()}.`,
              )
            }
          />
        )}
        {WORDS.map(([word, title]) => (
          <TextField
            key={word}
            label={title}
            width={word === 'name' ? 'w-40' : 'w-[88px]'}
            value={common(rows, (r) => String(r[word]))}
            offers={offersOf(word).length > 1 ? offersOf(word) : []}
            onChange={(v) =>
              onChange({ words: { [word]: v.trim() } }, `${title} of ${words}: ${v.trim() || 'as in the drawing'}.`)
            }
          />
        ))}
      </div>
      <p className="mt-1 text-xs text-quiet">Empty fields differ among these parts, or leave it to the drawing.</p>
      <div className="mt-3 flex flex-wrap items-end gap-2">
        {isOut ? (
          <Button onClick={() => onChange({ leftOut: null }, `Taken in again: ${words}.`)}>Take in again</Button>
        ) : (
          <>
            <TextField
              label="Leave out, because"
              live
              width="w-44"
              maxLength={300}
              value={reason}
              onChange={setReason}
            />
            <Button
              disabled={reason.trim() === ''}
              onClick={() => {
                onChange({ leftOut: reason.trim() }, `Left out: ${words}.`);
                setReason('');
              }}
            >
              Leave out
            </Button>
          </>
        )}
      </div>
      {own.length > 0 && (
        <p className="mt-3 text-sm">
          {drawings.length === 1 ? (
            <Link
              className="text-act underline-offset-2 hover:underline"
              to={`/drawings/${drawings[0]}/deliver?parts=${encodeURIComponent(own.map((r) => r.number).join('\n'))}`}
            >
              Write {own.length === 1 ? `part ${own[0]!.number}` : `these ${own.length} parts`} alone
            </Link>
          ) : (
            <span className="text-quiet">Parts of one drawing can be written alone.</span>
          )}
        </p>
      )}
    </Section>
  );
}
