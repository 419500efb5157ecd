import type { ReactNode } from 'react';
import { NavLink } from 'react-router';
import { useJob } from '../api/hooks';
import { plainNumber } from '../parts/numbers';

/** The name of a job with its pages side by side, each with how far it is. */
export function JobHead({ job, aside }: { job: string; aside?: ReactNode }) {
  const { data } = useJob(job);
  const pages = [
    { to: `/jobs/${job}`, words: 'Drawings', said: data ? String(data.drawings.length) : '' },
    { to: `/jobs/${job}/parts`, words: 'Parts', said: data?.parts == null ? '' : plainNumber(data.parts) },
    { to: `/jobs/${job}/deliveries`, words: 'Deliveries', said: data && data.sets > 0 ? plainNumber(data.sets) : '' },
  ];
  return (
    <>
      <div className="mb-2 flex items-baseline gap-4">
        <h1 className="text-2xl font-semibold tracking-tight">{data?.job.name}</h1>
        <div className="ml-auto">{aside}</div>
      </div>
      <nav aria-label="Pages of the job" className="mb-5 flex gap-6 border-b border-rule">
        {pages.map(({ to, words, said }) => (
          <NavLink
            key={to}
            to={to}
            end={to === `/jobs/${job}`}
            className={({ isActive }) =>
              `-mb-px border-b-2 pb-1 ${isActive ? 'border-ink font-semibold' : 'border-transparent text-quiet hover:text-ink'}`
            }
          >
            {words} <span className="num text-sm font-normal text-quiet">{said}</span>
          </NavLink>
        ))}
      </nav>
    </>
  );
}
