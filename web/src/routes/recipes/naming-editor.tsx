import type { NameField, NamePiece } from '@scalaria/core';
import { NAME_FIELDS, fieldPiece, planSet, sourceFactsNone, textPiece } from '@scalaria/core';
import type { Recipe } from '@scalaria/core';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { Button } from '../../parts/button';
import { NumberField, Select, TextField } from '../../parts/field';

const LETTERS = { asIs: 'as they are', capitals: 'capitals', small: 'small letters' } as const;
const SPACES = { asIs: 'blanks stay', underscores: 'blanks as _', hyphens: 'blanks as -', none: 'no blanks' } as const;

/** What files are called, piece by piece, with an example that follows. */
export function NamingEditor({
  recipe,
  pieces,
  ending,
  onChange,
}: {
  recipe: Recipe;
  pieces: readonly NamePiece[];
  /** With the point. */
  ending: string;
  onChange: (pieces: NamePiece[]) => void;
}) {
  const set = (i: number, piece: NamePiece): void => onChange(pieces.with(i, piece) as NamePiece[]);
  const move = (i: number, by: 1 | -1): void => {
    const next = [...pieces];
    [next[i], next[i + by]] = [next[i + by]!, next[i]!];
    onChange(next);
  };
  const [short, long] = examples(recipe, pieces);
  return (
    <div>
      {pieces.length === 0 && (
        <p className="text-sm text-quiet">Files are called after their drawing and what they hold of it.</p>
      )}
      <ol aria-label="Pieces of the name">
        {pieces.map((p, i) => (
          <li
            key={i}
            className="flex flex-wrap items-end gap-x-3 gap-y-1 border-b border-rule py-1.5"
            data-piece={p.what}
          >
            <span className="num w-5 pb-1.5 text-sm text-quiet">{i + 1}</span>
            {p.what === 'text' && (
              <TextField
                label="Fixed"
                value={p.text}
                width="w-32"
                maxLength={120}
                live
                onChange={(text) => set(i, textPiece(text))}
              />
            )}
            {p.what === 'field' && (
              <>
                <Select
                  label="Says"
                  value={p.field}
                  options={Object.entries(NAME_FIELDS) as [NameField, string][]}
                  onChange={(field) => set(i, { ...p, field })}
                />
                <Select
                  label="Letters"
                  value={p.letters}
                  options={Object.entries(LETTERS) as [typeof p.letters, string][]}
                  onChange={(letters) => set(i, { ...p, letters })}
                />
                <Select
                  label="Blanks"
                  value={p.spaces}
                  options={Object.entries(SPACES) as [typeof p.spaces, string][]}
                  onChange={(spaces) => set(i, { ...p, spaces })}
                />
              </>
            )}
            {p.what === 'number' && (
              <>
                <TextField
                  label="Series"
                  value={p.series}
                  width="w-28"
                  maxLength={60}
                  onChange={(series) => set(i, { ...p, series: series.trim() || 'files' })}
                />
                <NumberField
                  label="Digits"
                  value={p.digits}
                  width="w-14"
                  faultIn={(v) => (Number.isInteger(v) && v >= 1 && v <= 12 ? null : '1 to 12')}
                  onChange={(digits) => set(i, { ...p, digits })}
                />
                <NumberField
                  label="First of all"
                  value={p.first}
                  width="w-20"
                  faultIn={(v) => (Number.isInteger(v) && v >= 0 ? null : 'A whole number')}
                  onChange={(first) => set(i, { ...p, first })}
                />
              </>
            )}
            <span className="ml-auto flex pb-1">
              <Tool label={`Piece ${i + 1} further ahead`} disabled={i === 0} onClick={() => move(i, -1)}>
                <ArrowUp size={14} aria-hidden />
              </Tool>
              <Tool label={`Piece ${i + 1} further back`} disabled={i === pieces.length - 1} onClick={() => move(i, 1)}>
                <ArrowDown size={14} aria-hidden />
              </Tool>
              <Tool label={`Take piece ${i + 1} away`} onClick={() => onChange(pieces.filter((_, k) => k !== i))}>
                <X size={14} aria-hidden />
              </Tool>
            </span>
          </li>
        ))}
      </ol>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button onClick={() => onChange([...pieces, textPiece('-')])}>Add fixed words</Button>
        <Button onClick={() => onChange([...pieces, fieldPiece('drawing')])}>Add what is known</Button>
        <Button onClick={() => onChange([...pieces, { what: 'number', series: 'files', digits: 3, first: 1 }])}>
          Add a running number
        </Button>
      </div>
      <p className="mt-2 text-sm" aria-live="polite" data-testid="name-example">
        <span className="text-quiet">For example </span>
        <span className="num">
          {short}
          {ending}
        </span>
        {long !== short && (
          <>
            <span className="text-quiet"> or </span>
            <span className="num">
              {long}
              {ending}
            </span>
          </>
        )}
      </p>
    </div>
  );
}

const Tool = ({
  label,
  ...rest
}: {
  label: string;
  disabled?: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) => (
  <button type="button" aria-label={label} title={label} className="p-1 hover:bg-wash disabled:opacity-30" {...rest} />
);

/** Names of two made-up files: one of which little is known, and one of which everything is. */
function examples(recipe: Recipe, naming: readonly NamePiece[]): [string, string] {
  const by = String(recipe.split?.['by'] ?? 'drawing');
  const part = (number: string, more: object) => ({
    ...{ number, name: '', kind: '', material: '', thickness: '', leftOut: null },
    ...more,
  });
  const parts = [
    part('07', {}),
    part('08', { name: 'Counter front', kind: 'panel', material: 'birch plywood', thickness: '18 mm' }),
  ];
  const facts = {
    ...sourceFactsNone('mm'),
    ...{
      objects: 2,
      groups: [
        { name: 'Frame', objects: 1 },
        { name: 'Glazing bars', objects: 1 },
      ],
    },
    sheets: [
      { name: 'Plan', objects: 1 },
      { name: 'Details of the roof', objects: 1 },
    ],
    layers: [
      { name: 'CUT', objects: 1 },
      { name: 'Engraved lettering', objects: 1 },
    ],
  };
  const plain = {
    recipe: 2 as const,
    split: { by },
    ...(recipe.receiver && { receiver: recipe.receiver }),
    ...(recipe.target && { target: recipe.target }),
  };
  try {
    const sources = [{ id: 'a', name: 'Front elevation', revision: 2, facts, parts }];
    const { files } = planSet(
      sources,
      { ...plain, ...(naming.length > 0 && { naming }) },
      { job: 'Kestrel Row', date: '2026-03-14' },
    );
    return [files[0]?.name ?? '', files[files.length - 1]?.name ?? ''];
  } catch {
    return ['', ''];
  }
}
