import type { DecisionName, IntakeDecisions, Kept, ParameterSet } from '@scalaria/core';
import { DECISIONS, DECISION_TABLE, decidedOf, isDrafting, wholeDecisions } from '@scalaria/core';
import { ParameterForm } from '../../forms/parameter-form';
import type { BookSection } from '../../parts/fold-list';
import { useDrawing } from './drawing-context';

/** Decisions with a section of their own; all others are laid out from what they say of their fields. */
const OWN: readonly DecisionName[] = [
  'encoding',
  'page',
  'unit',
  'correction',
  'layers',
  'window',
  'under',
  'kinds',
  'plane',
  'origin',
];
/** Decisions that only artwork asks for. */
const ARTWORK: readonly DecisionName[] = ['art'];
/** Decisions that only coordinates as text ask for. */
const NUMBERS: readonly DecisionName[] = ['numbers'];

/** The sections of decisions that have no form of their own. */
export function useFieldSections(): BookSection[] {
  const { drawing } = useDrawing();
  const decided = decidedOf(drawing.intake);
  const isText = drawing.claims.format === 'coordinates';
  const hasArt = !isText && !isDrafting(drawing.claims);
  const asked = (n: DecisionName): boolean =>
    !OWN.includes(n) && (hasArt || !ARTWORK.includes(n)) && (isText || !NUMBERS.includes(n));
  return DECISIONS.filter(asked).map((name) => ({
    id: name,
    title: DECISION_TABLE[name].title,
    said: decided.find((d) => d.name === name)?.words ?? 'as usual',
    body: () => <Fields name={name} />,
  }));
}

function Fields({ name }: { name: DecisionName }) {
  const { drawing, decide } = useDrawing();
  const { title } = DECISION_TABLE[name];
  const fields: ParameterSet = DECISION_TABLE[name].fields;
  const whole = wholeDecisions(drawing.intake) as unknown as Kept;
  const tell = (field: string, value: unknown): void =>
    decide({ [field]: value } as Partial<IntakeDecisions>, title.toLowerCase());
  return (
    <>
      {Object.entries(fields).map(([field, one]) =>
        one.kind === 'group' ? (
          <ParameterForm
            key={field}
            params={one.params}
            values={whole[field] as Kept}
            unit={null}
            onChange={(v) => tell(field, v)}
          />
        ) : (
          <ParameterForm
            key={field}
            params={{ [field]: one }}
            values={{ [field]: whole[field]! }}
            unit={null}
            onChange={(v) => tell(field, v[field])}
          />
        ),
      )}
    </>
  );
}
