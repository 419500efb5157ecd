import type { UnitName } from '@scalaria/core';
import { COMMON_UNITS, UNITS, conversion, traitsOf } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Choice, NumberField, Section, Select } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';
import { settledLength, sizeIn } from './take-in-math';

const PPI = [72, 90, 96] as const;

/** Which unit: every candidate with the size the whole drawing would have. */
export function UnitSection() {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const settled = settledLength(claims, intake);
  const pixels = claims.unit?.unit === 'px';
  const known = traitsOf(claims.format).statesTrueSize;
  const rest = UNITS.filter((u) => !COMMON_UNITS.includes(u.name));
  const other = settled.unit && !COMMON_UNITS.includes(settled.unit) ? settled.unit : null;
  const choose = (unit: UnitName): void => decide({ unit }, `unit ${unit}`);
  return (
    <Section
      title={known ? 'True size' : 'Unit'}
      aside={
        <span className={`text-sm ${settled.unit ? 'text-quiet' : 'text-alarm'}`}>
          {settled.unit ? `1 unit counts as ${plainNumber(settled.scale)} ${settled.unit}` : 'undecided'}
        </span>
      }
    >
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
      {!known && <UnitEvidence onTake={choose} taken={settled.unit} />}
      <div role="radiogroup" aria-label="Unit">
        {COMMON_UNITS.map((u) => (
          <Choice
            key={u}
            name="unit"
            checked={settled.unit === u}
            disabled={pixels && !intake.pxPerInch}
            onChange={() => choose(u)}
          >
            <span className="w-8 font-medium">{u}</span>
            <span className="num flex-1 text-right text-sm whitespace-nowrap">
              {sizeWords(sizeIn(claims, intake, u), u)}
            </span>
            <span className="num w-[112px] text-right text-sm whitespace-nowrap text-quiet">
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
        {other && <span className="num ml-3">{sizeWords(sizeIn(claims, intake, other), other)}</span>}
      </div>
    </Section>
  );
}

const ask = (w: Asking) => w.unitEvidence();

/** What in the drawing speaks for which unit. A suggestion: it is taken only by a click. */
function UnitEvidence({ onTake, taken }: { onTake: (u: UnitName) => void; taken: UnitName | null }) {
  const found = useAsked(ask) ?? [];
  const [best, second] = found;
  if (!best || best.score < 1 || !best.reasons.some((r) => r.weight >= 0.5)) return null;
  const sure = best.score - Math.max(0, second?.score ?? 0);
  const words = sure >= 2 ? 'Much speaks for' : sure >= 0.8 ? 'More speaks for' : 'Slightly more speaks for';
  return (
    <div className="mb-2 border-l-2 border-act pl-2 text-sm" data-testid="unit-evidence">
      <p className="flex items-baseline justify-between gap-2">
        <span>
          {words} <b>{best.unit}</b>
        </span>
        {taken !== best.unit && (
          <Button look="quiet" onClick={() => onTake(best.unit)}>
            Take {best.unit}
          </Button>
        )}
      </p>
      <ul>
        {best.reasons.slice(0, 4).map((r) => (
          <li key={r.text} className={r.weight < 0 ? 'text-alarm' : 'text-quiet'}>
            {r.weight < 0 ? 'but ' : ''}
            {r.text}
          </li>
        ))}
      </ul>
      <details>
        <summary className="cursor-pointer text-quiet">What speaks for the others</summary>
        <ul>
          {found!
            .slice(1)
            .filter((s) => s.reasons.length > 0)
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

const sizeWords = (s: { width: number; height: number } | null, u: string): string =>
  s ? `${plainNumber(s.width, 4)} × ${plainNumber(s.height, 4)} ${u}` : '–';

/** The same size in a unit that one can picture: metres, or millimetres below a metre. */
function everyday(s: { width: number; height: number } | null, u: UnitName): string {
  if (!s) return '';
  const mm = [s.width, s.height].map((v) => v * conversion(u, 'mm'));
  const [k, unit] = Math.max(...mm) >= 1000 ? [1000, 'm'] : [1, 'mm'];
  return unit === u ? '' : `${plainNumber(mm[0]! / k, 3)} × ${plainNumber(mm[1]! / k, 3)} ${unit}`;
}
