import { useRef, useState } from 'react';
import { Link } from 'react-router';
import type { ApiError } from '../../api/client';
import { paths } from '../../api/paths';
import { upload } from '../../api/client';
import type { DrawingDetail } from '../../api/types';
import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import { useNotice } from '../../parts/notice';
import { Progress } from '../../parts/progress';
import { DRAWINGS_TAKEN } from '../uploads';
import { useDrawing } from './drawing-context';

/** Which upload of the drawing is at hand; takes a newer one in, and leads to the comparison with an earlier one. */
export function RevisionSection() {
  const { drawing, refresh } = useDrawing();
  const picker = useRef<HTMLInputElement>(null);
  const notice = useNotice();
  const [sending, setSending] = useState<{ done: number; cancel: () => void } | null>(null);
  const [fault, setFault] = useState<ApiError | null>(null);
  const take = async (file: File): Promise<void> => {
    setFault(null);
    const sent = upload<DrawingDetail>(paths.revisions(drawing.id, file.name), file, (done) =>
      setSending((s) => s && { ...s, done }),
    );
    setSending({ done: 0, cancel: sent.cancel });
    try {
      const { revision } = await sent.done;
      await refresh();
      notice({ text: `Revision ${revision} is taken in; the decisions were taken over.` });
    } catch (e) {
      setFault(e as ApiError);
    } finally {
      setSending(null);
    }
  };
  return (
    <Section
      title={`Revision ${drawing.revision}`}
      aside={
        drawing.revision > 1 ? (
          <Link to={`/drawings/${drawing.id}/revisions`} className="text-act hover:underline">
            Compare with an earlier one
          </Link>
        ) : (
          <span className="text-sm text-quiet">the first</span>
        )
      }
    >
      {sending ? (
        <div className="flex items-center gap-3">
          <div className="flex-1">
            <Progress value={sending.done} label="Sending the new revision" />
          </div>
          <Button look="quiet" onClick={sending.cancel}>
            Stop
          </Button>
        </div>
      ) : (
        <Button onClick={() => picker.current?.click()}>Take in a newer file of it</Button>
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
    </Section>
  );
}
