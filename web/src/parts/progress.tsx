/** A progress bar drawn as a scale bar: segments fill, light and dark in turn. */
export function Progress({ value, label }: { value: number; label: string }) {
  const n = 10;
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(value * 100)}
      className="flex h-2 w-full border border-ink"
    >
      {Array.from({ length: n }, (_, i) => (
        <span key={i} className="relative flex-1">
          <span
            className={`absolute inset-y-0 left-0 ${i % 2 ? 'bg-quiet/60' : 'bg-ink'}`}
            style={{ width: `${Math.min(1, Math.max(0, value * n - i)) * 100}%` }}
          />
        </span>
      ))}
    </div>
  );
}

/** Something that runs and cannot tell how far it has come: the segments fill and empty in turn. */
export function Working({ label }: { label: string }) {
  return (
    <div role="progressbar" aria-label={label} className="flex h-2 w-full border border-ink">
      {Array.from({ length: 10 }, (_, i) => (
        <span
          key={i}
          className={`flex-1 motion-safe:animate-pulse ${i % 2 ? 'bg-quiet/60' : 'bg-ink'}`}
          style={{ animationDelay: `${i * 90}ms` }}
        />
      ))}
    </div>
  );
}
