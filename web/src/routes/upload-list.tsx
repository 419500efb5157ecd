import { Link } from 'react-router';
import { X } from 'lucide-react';
import { Button } from '../parts/button';
import { Progress, Working } from '../parts/progress';
import type { useUploads } from './uploads';

/** Files on their way into a job: how far each has come, what stopped it, and the way to stop it. */
export function UploadList({ uploads }: { uploads: ReturnType<typeof useUploads> }) {
  if (uploads.list.length === 0) return null;
  return (
    <ul className="mb-6 divide-y divide-rule border-y border-rule" aria-label="Files being taken in">
      {uploads.list.map((u) => (
        <li key={u.key} className="flex items-center gap-4 py-2" data-upload={u.state}>
          <span className="w-64 shrink-0 truncate font-medium">{u.name}</span>
          <div className="min-w-0 flex-1">
            {u.state === 'sending' && <Progress value={u.progress} label={`Sending ${u.name}`} />}
            {u.state === 'reading' && (
              <span className="flex items-center gap-3 text-quiet">
                being read …
                <span className="w-40">
                  <Working label={`Reading ${u.name}`} />
                </span>
              </span>
            )}
            {u.state === 'named' && (
              <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm" role="alert">
                <span>The job has a drawing of this name.</span>
                <Button look="quiet" onClick={() => uploads.answer(u.key, 'revision')}>
                  A new revision of it
                </Button>
                <Button look="quiet" onClick={() => uploads.answer(u.key, 'own')}>
                  Another drawing
                </Button>
              </div>
            )}
            {u.state === 'same' && (
              <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm" role="alert">
                <span>{u.error?.message}</span>
                <Link className="text-act hover:underline" to={`/drawings/${u.of!.id}`}>
                  Open that one
                </Link>
                <Button look="quiet" onClick={() => uploads.answer(u.key, 'own')}>
                  Take it in once more
                </Button>
              </div>
            )}
            {u.state === 'failed' && (
              <div className="text-sm text-alarm" role="alert">
                <p>
                  {u.error?.message}
                  {u.error?.where && ` Where: ${u.error.where}.`}
                </p>
                {u.error?.remedy && <p className="text-ink">{u.error.remedy}</p>}
              </div>
            )}
          </div>
          <button
            type="button"
            className="p-1 hover:bg-wash"
            aria-label={u.state === 'sending' || u.state === 'reading' ? `Stop ${u.name}` : `Dismiss ${u.name}`}
            onClick={() => uploads.remove(u.key)}
          >
            <X size={16} aria-hidden />
          </button>
        </li>
      ))}
    </ul>
  );
}
