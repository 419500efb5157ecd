import { Link } from 'react-router';
import { Frame } from '../parts/frame';

export function NotFound({ what = 'page' }: { what?: string }) {
  return (
    <Frame>
      <div className="grid h-full place-items-center">
        <div>
          <h1>This {what} does not exist.</h1>
          <Link className="text-act underline" to="/">
            To the jobs
          </Link>
        </div>
      </div>
    </Frame>
  );
}
