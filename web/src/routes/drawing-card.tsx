import { Link } from 'react-router';
import { paths } from '../api/paths';
import type { DrawingRow } from '../api/types';
import { CardMenu } from '../parts/card-menu';
import { fileSize, plainNumber } from '../parts/numbers';
import { Thumbnail } from '../parts/thumbnail';

/** A drawing of a job: its picture, what it is, and what can be done to it as a whole. */
export function DrawingCard({
  drawing: d,
  onRename,
  onDelete,
}: {
  drawing: DrawingRow;
  onRename: () => void;
  onDelete: () => void;
}) {
  return (
    <li className="card relative border border-rule bg-sheet hover:border-ink">
      <Link to={`/drawings/${d.id}`} className="block">
        <div className="h-40 border-b border-rule bg-sheet">
          <Thumbnail src={paths.drawingPicture(d.id)} />
        </div>
        <p className="truncate px-3 pt-2 pr-10 font-medium" title={d.name}>
          {d.name}
        </p>
        <p className="num px-3 text-sm text-quiet">
          {d.format.toUpperCase()} {d.version} · {plainNumber(d.entities)} {d.entities === 1 ? 'object' : 'objects'}
        </p>
        <p className="num px-3 pb-2 text-sm text-quiet">
          {d.unit ?? <span className="text-alarm">no unit yet</span>} · {fileSize(d.size)}
          {d.revision > 1 && ` · revision ${d.revision}`} ·{' '}
          {new Date(d.createdAt).toLocaleDateString('en-GB', { dateStyle: 'medium' })}
        </p>
      </Link>
      <CardMenu
        of={d.name}
        at="top-[10.4rem]"
        acts={[
          ['Rename', onRename],
          ['Delete', onDelete],
        ]}
      />
    </li>
  );
}
