import { NavLink, useLocation } from 'react-router';
import { CHECKS, settleUnit } from '@scalaria/core';
import type { DeliveryRow, DrawingDetail } from '../../api/types';

/** The stations in their order, with the last part of their address. */
export const STATIONS = [
  { path: 'take-in', name: 'Take in' },
  { path: 'check', name: 'Check' },
  { path: 'prepare', name: 'Prepare' },
  { path: 'deliver', name: 'Deliver' },
  { path: 'prove', name: 'Prove' },
] as const;

/** What the newest file is worth: one of an older revision proves nothing about the drawing as it is now. */
function proven(latest: DeliveryRow | undefined, revision: number): [boolean, string] {
  if (!latest) return [false, 'nothing yet'];
  if (latest.revision < revision) return [false, `of revision ${latest.revision}`];
  const { holds = false, lost = 0, whole = true } = latest.verdict ?? {};
  if (!holds) return [false, 'does not hold'];
  return [true, lost > 0 || !whole ? 'holds, but …' : 'holds'];
}

/** The journey: five stations down a line, each with how far the drawing has come. */
export function Stations({
  drawing,
  deliveries,
}: {
  drawing: DrawingDetail | undefined;
  deliveries: DeliveryRow[] | undefined;
}) {
  const { pathname } = useLocation();
  const settled = drawing ? settleUnit(drawing.claims as Parameters<typeof settleUnit>[0], drawing.intake) : null;
  const done = deliveries?.filter((d) => d.state === 'done') ?? [];
  const on = drawing?.steps.filter((s) => s.on).length ?? 0;
  const latest = done[0];
  const words: Record<string, [boolean, string]> = {
    'take-in': [settled !== null, settled ? `unit ${settled.unit}` : 'no unit yet'],
    check: [false, CHECKS.length === 1 ? '1 check' : `${CHECKS.length} checks`],
    prepare: [on > 0, on === 1 ? '1 step' : `${on} steps`],
    deliver: [done.length > 0, done.length === 1 ? '1 file' : `${done.length} files`],
    prove: proven(latest, drawing?.revision ?? 0),
  };
  return (
    <nav aria-label="Stations" className="border-r border-rule py-4 max-md:border-r-0 max-md:border-b max-md:py-0">
      <ol className="max-md:flex max-md:overflow-x-auto">
        {STATIONS.map(({ path, name }, i) => {
          const [reached, said] = words[path]!;
          const here = pathname.includes(`/${path}`);
          return (
            <li key={path} className="relative max-md:min-w-0 max-md:flex-1">
              {i < 4 && (
                <span className="absolute top-[26px] left-[26px] h-full w-px bg-ink/50 max-md:hidden" aria-hidden />
              )}
              <NavLink
                to={path}
                className={`relative flex items-start gap-2.5 py-3 pr-2 pl-4 max-md:px-2 max-md:py-1.5 ${here ? 'bg-wash' : 'hover:bg-wash'}`}
              >
                <span
                  className={`num grid size-[21px] shrink-0 place-items-center border border-ink text-xs ${reached ? 'bg-ink text-paper' : 'bg-paper'}`}
                >
                  {i + 1}
                </span>
                <span className="min-w-0">
                  <span className={`block leading-tight ${here ? 'font-semibold' : ''}`}>{name}</span>
                  <span className="block truncate text-xs text-quiet max-md:hidden" title={said}>
                    {said}
                  </span>
                </span>
              </NavLink>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
