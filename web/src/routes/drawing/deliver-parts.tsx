import { Link } from 'react-router';
import { useJobParts } from '../../api/hooks';
import { Button } from '../../parts/button';
import { Tick } from '../../parts/field';
import { useDrawing } from './drawing-context';

/** Which parts go into the file, and whether each of them must have a number; nothing where the drawing has no list of parts. */
export function DeliverParts({
  chosen,
  numbered,
  onNumbered,
  onWhole,
}: {
  /** The numbers of the parts that are written alone; `null` for the whole drawing. */
  chosen: readonly string[] | null;
  numbered: boolean;
  onNumbered: (on: boolean) => void;
  onWhole: () => void;
}) {
  const { drawing } = useDrawing();
  const { data } = useJobParts(drawing.jobId);
  const own = data?.drawings.find((d) => d.id === drawing.id && d.listed);
  if (!own && !chosen) return null;
  const out = own?.rows.filter((r) => r.leftOut !== null) ?? [];
  return (
    <div className="mt-3 border-l-2 border-ink pl-2" data-testid="parts-asked">
      {chosen ? (
        <p>
          {chosen.length === 1 ? `Part ${chosen[0]} alone` : `Parts ${chosen.join(', ')} alone`}, at its place and size.{' '}
          <Button look="quiet" onClick={onWhole}>
            Write the whole drawing
          </Button>
        </p>
      ) : (
        <>
          <Tick checked={numbered} onChange={onNumbered}>
            Each part needs a number of its own
          </Tick>
          <p className="text-sm text-quiet">
            {numbered
              ? `Without one nothing is written. ${out.length > 0 ? `Left out: ${out.map((r) => r.number || 'one without a number').join(', ')}. ` : ''}`
              : 'All parts are written, those that are left out too. '}
            <Link className="text-act underline" to={`/jobs/${drawing.jobId}/parts`}>
              Parts of the job
            </Link>
          </p>
        </>
      )}
    </div>
  );
}
