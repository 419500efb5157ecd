import type { ReactNode } from 'react';
import { NavLink } from 'react-router';
import { useJobs, useRecipes } from '../api/hooks';

/** The pages of the workshop side by side: what outlives a job. */
export function WorkshopHead({ aside }: { aside?: ReactNode }) {
  const jobs = useJobs();
  const recipes = useRecipes();
  const pages = [
    ['/', 'Jobs', jobs.data?.filter((j) => !j.archived).length],
    ['/recipes', 'Recipes', recipes.data?.length],
  ] as const;
  return (
    <div className="mb-5 flex items-end gap-6 border-b border-rule">
      <nav aria-label="Pages of the workshop" className="flex gap-6">
        {pages.map(([to, words, n]) => (
          <NavLink
            key={to}
            to={to}
            end
            className={({ isActive }) =>
              `-mb-px border-b-2 pb-1 text-xl tracking-tight ${isActive ? 'border-ink font-semibold' : 'border-transparent text-quiet hover:text-ink'}`
            }
          >
            {words} <span className="num text-sm font-normal text-quiet">{n ?? ''}</span>
          </NavLink>
        ))}
      </nav>
      <div className="mb-1.5 ml-auto">{aside}</div>
    </div>
  );
}
