import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Finding } from '@scalaria/core';
import { sendJson } from '../../api/client';
import { paths } from '../../api/paths';
import type { CorrectionRow } from '../../api/types';
import { Button } from '../../parts/button';
import { Modal } from '../../parts/modal';
import { useNotice } from '../../parts/notice';
import { useDrawing } from './drawing-context';

/** Asks the author of a source to mend what nobody else can. */
export function AskAuthor({
  finding: f,
  unit,
  onClose,
}: {
  finding: Finding;
  unit: string | null;
  onClose: () => void;
}) {
  const { drawing } = useDrawing();
  const notice = useNotice();
  const go = useNavigate();
  const [sending, setSending] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const send = async (measured: string, proposed: string): Promise<void> => {
    setSending(true);
    try {
      const across = f.span ?? (f.size ? f.size * 6 : null);
      const asked = {
        ...{ drawing: drawing.id, check: f.check, what: f.message, layer: f.layer ?? '', at: f.at, measured, proposed },
        across: across && across > 0 ? across : null,
      };
      await sendJson<CorrectionRow[]>('PATCH', paths.corrections(drawing.jobId), { asked: [asked] });
      onClose();
      notice({
        text: 'It stands among the corrections of this job, with a picture of its place.',
        act: { words: 'Look', run: () => void go(`/jobs/${drawing.jobId}/deliveries/corrections`) },
      });
    } catch (e) {
      setFault((e as Error).message);
      setSending(false);
    }
  };
  return (
    <Modal open onClose={onClose} title="Ask the author">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const data = new FormData(e.currentTarget);
          void send(String(data.get('measured') ?? ''), String(data.get('proposed') ?? ''));
        }}
      >
        <p>{f.message}</p>
        <label className="mt-3 block">
          <span className="block text-xs text-quiet">Measured{unit && `, in ${unit}`}</span>
          <input
            name="measured"
            maxLength={300}
            defaultValue={f.size === null ? '' : String(Number(f.size.toPrecision(7)))}
            className="num w-full border border-ink/60 bg-sheet px-2 py-1"
          />
        </label>
        <label className="mt-2 block">
          <span className="block text-xs text-quiet">What it should be</span>
          <textarea
            name="proposed"
            rows={2}
            maxLength={1000}
            className="w-full border border-ink/60 bg-sheet px-2 py-1"
          />
        </label>
        <p className="mt-1 text-sm text-quiet">It is ticked off by itself once a revision no longer has it.</p>
        {fault && <p className="mt-1 text-sm text-alarm">{fault}</p>}
        <div className="mt-4 flex justify-end gap-3">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={sending}>
            Ask
          </Button>
        </div>
      </form>
    </Modal>
  );
}
