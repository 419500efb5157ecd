import { Link } from 'react-router';
import { Frame } from '../parts/frame';

export function NotFound({ what = 'page' }: { what?: string }) {
  return (
    <Frame>
      <div className="grid h-full place-items-center">
        <p>
          This {what} is not here (any more).{' '}
          <Link className="text-act underline" to="/">
            To the jobs
          </Link>
        </p>
      </div>
    </Frame>
  );
}
