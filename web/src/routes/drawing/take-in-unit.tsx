import { useCallback } from 'react';
import type { UnitName, UnitSibling, UnitSuggestion, UnitVerdict } from '@scalaria/core';
import { COMMON_UNITS, UNITS, conversion, traitsOf, unitVerdict } from '@scalaria/core';
import { useJob } from '../../api/hooks';
import { Button } from '../../parts/button';
import { Choice, NumberField, Select } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';
import { settledLength, sizeIn } from './take-in-math';

const PPI = [72, 90, 96] as const;

/** Which unit: every candidate with the size the whole drawing would have. */
export function useUnitSection(): BookSection | null {
  const { drawing } = useDrawing();
  const { claims, intake } = drawing;
  const settled = settledLength(claims, intake);
  const known = traitsOf(claims.format).statesTrueSize;
  const evidence = useUnitEvidence();
  const stated = claims.unit && claims.unit.unit !== 'px' ? (claims.unit.unit as UnitName) : null;
  const verdict = known || !evidence ? null : unitVerdict(evidence, stated);
  const contested = verdict !== null && stated !== null && intake.unit === null;
  const how = intake.unit === null ? ', as the file states' : ', chosen';
  return {
    id: 'unit',
    title: known ? 'True size' : 'Unit',
    said: !settled.unit
      ? 'undecided'
      : contested
        ? `the file states ${stated}; the evidence is for ${verdict.units[0]}`
        : `${settled.scale === 1 ? settled.unit : `1 unit = ${plainNumber(settled.scale)} ${settled.unit}`}${how}`,
    open: !settled.unit || contested,
    body: () => <UnitChoice evidence={evidence ?? []} verdict={verdict} />,
  };
}

/** What in the drawing, and in its siblings of the job, is evidence for a unit. */
function useUnitEvidence(): UnitSuggestion[] | null {
  const { drawing } = useDrawing();
  const { data } = useJob(drawing.jobId);
  const others: UnitSibling[] = (data?.drawings ?? []).flatMap((d) =>
    d.id === drawing.id || d.unit === null ? [] : [{ name: d.name, unit: d.unit as UnitName, size: d.extent }],
  );
  const said = JSON.stringify(others);
  const ask = useCallback((w: Asking) => w.unitEvidence(JSON.parse(said) as UnitSibling[]), [said]);
  return useAsked(ask);
}

function UnitChoice({ evidence, verdict }: { evidence: readonly UnitSuggestion[]; verdict: UnitVerdict | null }) {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const settled = settledLength(claims, intake);
  const pixels = claims.unit?.unit === 'px';
  const known = traitsOf(claims.format).statesTrueSize;
  const rest = UNITS.filter((u) => !COMMON_UNITS.includes(u.name));
  const other = settled.unit && !COMMON_UNITS.includes(settled.unit) ? settled.unit : null;
  const choose = (unit: UnitName): void => decide({ unit }, `unit ${unit}`);
  return (
    <>
      <p className="mb-1 text-sm text-quiet">
        {settled.unit && (
          <>
            1 drawing unit ={' '}
            <span className="num">
              {plainNumber(settled.scale)} {settled.unit}
            </span>
            .{' '}
          </>
        )}
        {known
          ? 'The true size stays; a unit only sets what it is counted in.'
          : 'A unit says what the numbers in the file mean; the numbers stay.'}
      </p>
      {pixels && (
        <div className="mb-2 flex flex-wrap items-end gap-x-4 gap-y-1" role="group" aria-label="Pixels per inch">
          {PPI.map((p) => (
            <Choice
              key={p}
              name="ppi"
              checked={intake.pxPerInch === p}
              onChange={() => decide({ pxPerInch: p }, `${p} px per inch`)}
            >
              <span className="num">{p}</span>
            </Choice>
          ))}
          <NumberField
            label="px per inch"
            value={intake.pxPerInch}
            above={0}
            width="w-20"
            onChange={(v) => decide({ pxPerInch: v }, `${v} px per inch`)}
          />
        </div>
      )}
      {!known && <UnitEvidence found={evidence} verdict={verdict} onTake={choose} taken={settled.unit} />}
      <div role="radiogroup" aria-label="Unit">
        {COMMON_UNITS.map((u) => (
          <Choice
            key={u}
            name="unit"
            checked={settled.unit === u}
            disabled={pixels && !intake.pxPerInch}
            onChange={() => choose(u)}
          >
            <span className="w-6 shrink-0 font-medium">{u}</span>
            <span className="num flex-1 text-right text-xs whitespace-nowrap">
              {sizeWords(sizeIn(claims, intake, u))}
            </span>
            <span className="num w-[114px] shrink-0 text-right text-xs whitespace-nowrap text-quiet">
              {everyday(sizeIn(claims, intake, u), u)}
            </span>
          </Choice>
        ))}
      </div>
      <div className="mt-2">
        <Select
          label="Another unit"
          value={other ?? ''}
          options={[['', 'choose …'], ...rest.map((u) => [u.name, `${u.name} – ${u.title}`] as [string, string])]}
          onChange={(v) => v && choose(v as UnitName)}
        />
        {other && (
          <span className="num ml-3">
            {sizeWords(sizeIn(claims, intake, other))} {other}
          </span>
        )}
      </div>
    </>
  );
}

const SURE: Record<UnitVerdict['sure'], string> = {
  almost: 'Almost certainly',
  probably: 'Probably',
  perhaps: 'Perhaps',
  tie: 'Equally likely:',
};

/** The evidence for a unit. A suggestion: it is taken only by a click. */
function UnitEvidence({
  found,
  verdict,
  onTake,
  taken,
}: {
  found: readonly UnitSuggestion[];
  verdict: UnitVerdict | null;
  onTake: (u: UnitName) => void;
  taken: UnitName | null;
}) {
  if (!verdict) return null;
  const { units, sure, reasons } = verdict;
  return (
    <div className="mb-2 border-l-2 border-act pl-2 text-sm" data-testid="unit-evidence">
      <p className="flex items-baseline justify-between gap-2">
        <span>
          {SURE[sure]} <b>{units.join(' or ')}</b>
        </span>
        {units.length === 1 && taken !== units[0] && (
          <Button look="quiet" onClick={() => onTake(units[0]!)}>
            Use {units[0]}
          </Button>
        )}
      </p>
      <ul>
        {reasons.slice(0, 4).map((r) => (
          <li key={r.text} className={r.weight < 0 ? 'text-alarm' : 'text-quiet'}>
            {r.weight < 0 ? 'but ' : ''}
            {r.text}
          </li>
        ))}
      </ul>
      <details>
        <summary className="cursor-pointer text-quiet">Evidence for other units</summary>
        <ul>
          {found
            .filter((s) => s.unit !== units[0] && s.reasons.length > 0)
            .map((s) => (
              <li key={s.unit}>
                <b>{s.unit}</b>{' '}
                <span className="text-quiet">
                  {s.reasons.map((r) => (r.weight < 0 ? `but ${r.text}` : r.text)).join('; ')}
                </span>
              </li>
            ))}
        </ul>
      </details>
    </div>
  );
}

const sizeWords = (s: { width: number; height: number } | null): string =>
  s ? `${plainNumber(s.width)} × ${plainNumber(s.height)}` : '–';

/** The same size in a unit that one can picture: metres, or millimetres below a metre. */
function everyday(s: { width: number; height: number } | null, u: UnitName): string {
  if (!s) return '';
  const mm = [s.width, s.height].map((v) => v * conversion(u, 'mm'));
  const [k, unit] = Math.max(...mm) >= 1000 ? [1000, 'm'] : [1, 'mm'];
  return unit === u ? '' : `${plainNumber(mm[0]! / k, 3)} × ${plainNumber(mm[1]! / k, 3)} ${unit}`;
}
