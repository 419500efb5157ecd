import { useRef, useState } from 'react';
import { Link } from 'react-router';
import type { ApiError } from '../../api/client';
import { paths } from '../../api/paths';
import { STOPPED, upload } from '../../api/client';
import type { DrawingDetail } from '../../api/types';
import { Button } from '../../parts/button';
import type { BookSection } from '../../parts/fold-list';
import { useNotice } from '../../parts/notice';
import { Progress, Working } from '../../parts/progress';
import { DRAWINGS_TAKEN } from '../uploads';
import { useDrawing } from './drawing-context';

/** Which upload of the drawing is at hand; takes a newer one in, and leads to the comparison with an earlier one. */
export function useRevisionSection(): BookSection {
  const { revision } = useDrawing().drawing;
  return {
    id: 'revision',
    title: 'Revision',
    said: revision === 1 ? '1, the first' : String(revision),
    body: () => <Revision />,
  };
}

function Revision() {
  const { drawing } = useDrawing();
  return (
    <>
      {drawing.revision > 1 && (
        <p className="mb-2">
          <Link to={`/drawings/${drawing.id}/revisions`} className="text-act hover:underline">
            Compare with an earlier one
          </Link>
        </p>
      )}
      <NewerFile />
    </>
  );
}

/** Takes in a newer file of the drawing: how far it has come, what stopped it, and the way to stop it. */
export function NewerFile() {
  const { drawing, refresh } = useDrawing();
  const picker = useRef<HTMLInputElement>(null);
  const notice = useNotice();
  const [sending, setSending] = useState<{ name: string; done: number; cancel: () => void } | null>(null);
  const [fault, setFault] = useState<ApiError | null>(null);
  const take = async (file: File): Promise<void> => {
    setFault(null);
    const sent = upload<DrawingDetail>(paths.revisions(drawing.id, file.name), file, (done) =>
      setSending((s) => s && { ...s, done }),
    );
    setSending({ name: file.name, done: 0, cancel: sent.cancel });
    try {
      const { revision } = await sent.done;
      await refresh();
      notice({ text: `Revision ${revision} is in; your decisions still apply.` });
    } catch (e) {
      const x = e as ApiError;
      if (x.message !== STOPPED) setFault(x);
    } finally {
      setSending(null);
    }
  };
  return (
    <>
      {sending ? (
        <div className="flex items-center gap-3 text-sm">
          <div className="min-w-0 flex-1">
            <p className="truncate">
              {sending.name} {sending.done < 1 ? 'is sent …' : 'is read …'}
            </p>
            {sending.done < 1 ? (
              <Progress value={sending.done} label={`Sending ${sending.name}`} />
            ) : (
              <Working label={`Reading ${sending.name}`} />
            )}
          </div>
          <Button look="quiet" onClick={sending.cancel}>
            Stop
          </Button>
        </div>
      ) : (
        <Button onClick={() => picker.current?.click()}>Take in a newer file of this drawing</Button>
      )}
      {fault && (
        <div className="mt-2 text-sm text-alarm" role="alert">
          <p>
            {fault.message}
            {fault.where && ` Where: ${fault.where}.`}
          </p>
          {fault.remedy && <p className="text-ink">{fault.remedy}</p>}
        </div>
      )}
      <input
        ref={picker}
        type="file"
        accept={DRAWINGS_TAKEN}
        className="sr-only"
        aria-label="Newer file of this drawing"
        tabIndex={-1}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file) void take(file);
        }}
      />
    </>
  );
}
