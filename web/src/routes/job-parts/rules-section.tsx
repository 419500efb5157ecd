import { useState } from 'react';
import { Link } from 'react-router';
import type { Kept } from '@scalaria/core';
import { PART_FIELDS, lengthWithUnit, spaceUnitOf } from '@scalaria/core';
import type { DrawingParts, JobParts } from '../../api/types';
import { ParameterForm } from '../../forms/parameter-form';
import { Button } from '../../parts/button';
import { Section, Tick } from '../../parts/field';

const said = (d: DrawingParts): string => {
  if (!d.listed) return '';
  if (d.state === 'working') return 'being found …';
  const n = d.rows.reduce((sum, r) => sum + r.quantity, 0);
  return d.state === 'failed' ? 'not found' : n === 1 ? '1 part' : `${n} parts`;
};

/** The drawings whose outlines are parts. */
export function DrawingsSection({
  parts,
  onListed,
}: {
  parts: JobParts;
  onListed: (drawing: string, on: boolean) => void;
}) {
  return (
    <Section title="Drawings with parts">
      <ul>
        {parts.drawings.map((d) => (
          <li key={d.id}>
            <div className="flex items-baseline gap-2">
              <Tick
                className="flex min-w-0 items-baseline gap-1.5"
                checked={d.listed}
                onChange={(on) => onListed(d.id, on)}
              >
                <span className="truncate">{d.name}</span>
              </Tick>
              <span className="num ml-auto shrink-0 text-sm text-quiet" role="status">
                {said(d)}
              </span>
            </div>
            {d.fault && (
              <p className="ml-5 text-sm text-alarm">
                {d.fault}{' '}
                <Button look="quiet" onClick={() => onListed(d.id, true)}>
                  Try again
                </Button>
              </p>
            )}
            {d.listed && d.findings.length > 0 && (
              <p className="ml-5 border-l-2 border-alarm pl-2 text-sm">
                {d.findings.length === 1 ? '1 object' : `${d.findings.length} objects`} in no part, or not plainly in
                one.{' '}
                <Link className="text-act underline" to={`/drawings/${d.id}/parts`}>
                  See where
                </Link>
              </p>
            )}
            {d.gone.length > 0 && (
              <p className="ml-5 text-sm text-quiet">Gone, and not given again: {d.gone.join(', ')}</p>
            )}
          </li>
        ))}
      </ul>
    </Section>
  );
}

/** How parts are found and numbered, kept with the job. */
export function RulesSection({ rules, unit, onKeep }: { rules: Kept; unit: string; onKeep: (rules: Kept) => void }) {
  const [open, setOpen] = useState(false);
  const [values, setValues] = useState<Kept | null>(null);
  const now = values ?? rules;
  return (
    <Section
      title="How parts are found"
      aside={
        <Button look="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'Close' : 'Change'}
        </Button>
      }
    >
      {!open && (
        <p className="text-sm text-quiet">
          Each outermost outline is a part, with its holes, its marks and its labels
          {Object.keys(rules).length > 0 ? ', by the rules of this job.' : '.'}
        </p>
      )}
      {open && (
        <>
          <ParameterForm
            params={PART_FIELDS}
            values={now}
            unit={unit}
            help={{ lengths: (v) => lengthWithUnit(v, spaceUnitOf(unit)) }}
            onChange={setValues}
          />
          <div className="mt-3 flex gap-2">
            <Button
              look="main"
              disabled={values === null}
              onClick={() => {
                onKeep(now);
                setValues(null);
              }}
            >
              Find parts so
            </Button>
            {values !== null && <Button onClick={() => setValues(null)}>Leave</Button>}
          </div>
        </>
      )}
    </Section>
  );
}
