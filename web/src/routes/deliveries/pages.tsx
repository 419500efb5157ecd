import { NavLink } from 'react-router';

/** What is seen of the deliveries of a job, side by side. */
export function DeliveryPages({ job }: { job: string }) {
  const pages = [
    [`/jobs/${job}/deliveries`, 'Sets'],
    [`/jobs/${job}/deliveries/tracker`, 'Tracker'],
    [`/jobs/${job}/deliveries/corrections`, 'Corrections'],
  ] as const;
  return (
    <nav aria-label="Views of the deliveries" className="mb-4 flex gap-5 text-sm">
      {pages.map(([to, words]) => (
        <NavLink
          key={to}
          to={to}
          end
          className={({ isActive }) => (isActive ? 'font-semibold' : 'text-quiet hover:text-ink')}
        >
          {words}
        </NavLink>
      ))}
    </nav>
  );
}
