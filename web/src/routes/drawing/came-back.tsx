import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { ApiError, sendBytes } from '../../api/client';
import { paths } from '../../api/paths';
import type { ReturnedFile } from '../../api/types';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import { counted, plainNumber } from '../../parts/numbers';
import { Working } from '../../parts/progress';

const objects = (n: number): string => counted(n, 'object');

/** A file that comes back from its receiver: its objects get the layers back that they left. */
export function CameBackSection({ delivery }: { delivery: string }) {
  const picker = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState<{ name: string; stop: AbortController } | null>(null);
  const [found, setFound] = useState<ReturnedFile | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const take = async (file: File): Promise<void> => {
    const stop = new AbortController();
    setBusy({ name: file.name, stop });
    setFault(null);
    setFound(null);
    try {
      setFound(await sendBytes<ReturnedFile>(paths.returned(delivery, file.name), file, stop.signal));
    } catch (e) {
      const x = e as ApiError;
      if (!stop.signal.aborted) setFault([x.message, x.remedy].filter(Boolean).join(' '));
    } finally {
      setBusy(null);
    }
  };
  const came = found?.came;
  return (
    <Section title="Come back">
      {!found && !busy && (
        <p className="text-sm text-quiet">
          When the receiver sends this file back, its objects are found again and get their own layers and colours.
        </p>
      )}
      {busy ? (
        <div className="flex items-center gap-3 text-sm">
          <span className="min-w-0 flex-1">
            <Working label={`“${busy.name}” is taken in`} />
          </span>
          <Button look="quiet" onClick={() => busy.stop.abort()}>
            Stop
          </Button>
        </div>
      ) : (
        <Button className="mt-2" onClick={() => picker.current?.click()}>
          Take in what came back
        </Button>
      )}
      <input
        ref={picker}
        type="file"
        accept=".dxf,.dwg,.svg"
        className="sr-only"
        tabIndex={-1}
        aria-label="File that came back"
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          e.target.value = '';
          if (file) void take(file);
        }}
      />
      {fault && (
        <p className="mt-2 text-sm text-alarm" role="alert">
          {fault}
        </p>
      )}
      {found && (
        <div className="mt-2 text-sm" role="status" data-testid="came-back">
          {came && (
            <>
              <p>
                {objects(came.byPlace + came.byHandle)} on their own layers again: {plainNumber(came.byPlace)} found by
                place, {plainNumber(came.byHandle)} by handle.
              </p>
              <p>
                {objects(came.gone)} gone, {plainNumber(came.fresh)} new
                {came.charted > 0 && `, of them ${plainNumber(came.charted)} by the chart backwards`}.
              </p>
              {came.undecided.map((u) => (
                <p key={u.layer} className="text-alarm">
                  {objects(u.objects)} on {u.layer} undecided
                  {u.from.length > 1 && (
                    <span className="text-quiet">: it stood for {u.from.slice(0, 6).join(', ')}</span>
                  )}
                </p>
              ))}
              {came.beyond > 0 && (
                <p className="text-alarm">{objects(came.beyond)} more than one step can hold stay where they are.</p>
              )}
            </>
          )}
          <Link className="text-act hover:underline" to={`/drawings/${found.drawing.id}/prepare`}>
            Open {found.drawing.name}
          </Link>
        </div>
      )}
    </Section>
  );
}
