import { useRef, useState } from 'react';
import { X } from 'lucide-react';
import type { FontUse } from '@scalaria/core';
import type { ApiError } from '../../api/client';
import { paths } from '../../api/paths';
import { sendBytes, sendJson } from '../../api/client';
import type { FontRow, JobFonts } from '../../api/types';
import { Button } from '../../parts/button';
import type { BookSection } from '../../parts/fold-list';
import { useNotice } from '../../parts/notice';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import { useFontUses } from './use-font-uses';

const EMBEDDING: Record<FontRow['embedding'], string> = {
  free: 'may be put into files',
  editable: 'may be put into files that can be edited',
  viewing: 'may be put into files to be viewed only',
  forbidden: 'its licence forbids putting it into files',
  strokes: 'stroke font, says nothing of a licence',
};
const HOW: Record<FontUse['how'], string> = {
  own: 'found',
  chart: 'by the font chart',
  kind: 'closest match',
  standard: 'substitute',
  unnamed: 'used instead',
};

type GoTo = (at: { x: number; y: number }) => void;

/** Which fonts the drawing asks for, what their letters are taken from, and which are given to the job. */
export function useFontSection(onGoTo: GoTo): BookSection | null {
  const { fonts } = useDrawing();
  const told = useFontUses();
  if (!told || (told.uses.length === 0 && (fonts.given?.fonts.length ?? 0) === 0)) return null;
  const missing = told.uses.filter((u) => u.how !== 'own' && u.how !== 'chart' && u.how !== 'unnamed').length;
  const letters = told.uses.some((u) => u.missing.length > 0);
  return {
    id: 'fonts',
    title: 'Fonts',
    said: letters ? 'letters are missing' : missing === 0 ? 'all found' : `${missing} of ${told.uses.length} missing`,
    open: letters,
    body: () => <Fonts told={told} onGoTo={onGoTo} />,
  };
}

function Fonts({ told, onGoTo }: { told: { uses: FontUse[]; families: string[] }; onGoTo: GoTo }) {
  const { drawing, fonts } = useDrawing();
  const notice = useNotice();
  const input = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState(false);
  const chart = fonts.given?.chart ?? {};
  const asked = (e: unknown): void => {
    const x = e as ApiError;
    notice({ text: `${x.message} ${x.remedy ?? ''}`, alarm: true });
  };
  const keep = async (next: Record<string, string>): Promise<void> => {
    try {
      fonts.refresh(await sendJson<JobFonts>('PUT', paths.fontChart(drawing.jobId), next));
    } catch (e) {
      asked(e);
    }
  };
  const choose = (name: string, family: string): void => {
    const next = Object.fromEntries(Object.entries(chart).filter(([n]) => n.toLowerCase() !== name.toLowerCase()));
    void keep(family === '' ? next : { ...next, [name]: family });
  };
  const give = async (files: FileList): Promise<void> => {
    setSending(true);
    for (const file of files) {
      try {
        await sendBytes(paths.jobFonts(drawing.jobId, file.name), file);
      } catch (e) {
        asked(e);
      }
    }
    setSending(false);
    fonts.refresh();
  };
  return (
    <>
      <ul className="divide-y divide-rule">
        {told.uses.map((u) => (
          <AskedFont
            key={u.asked}
            use={u}
            families={told.families}
            onChoose={(family) => choose(u.asked, family)}
            onGoTo={onGoTo}
          />
        ))}
      </ul>
      {(fonts.given?.fonts.length ?? 0) > 0 && (
        <>
          <h3 className="mt-2 text-xs text-quiet">Given to this job</h3>
          <ul className="text-sm">
            {fonts.given!.fonts.map((f) => (
              <li key={f.id} className="flex items-baseline gap-2">
                <span className="min-w-0 flex-1">
                  {f.family} <span className="num text-quiet">{f.style}</span>
                  <span className={`block text-xs ${f.embedding === 'forbidden' ? 'text-alarm' : 'text-quiet'}`}>
                    {EMBEDDING[f.embedding]}
                  </span>
                </span>
                <button
                  type="button"
                  className="p-0.5 hover:bg-wash"
                  aria-label={`Take out ${f.family} ${f.style}`}
                  onClick={() =>
                    void sendJson('PATCH', paths.font(f.id), { deleted: true })
                      .then(() => {
                        fonts.refresh();
                        notice({ text: `“${f.family}” is taken out. The job lists it under Deleted.` });
                      })
                      .catch(asked)
                  }
                >
                  <X size={14} aria-hidden />
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      <input
        ref={input}
        type="file"
        multiple
        accept=".ttf,.otf,.ttc,.woff,.woff2,.shx"
        className="sr-only"
        aria-label="Font files"
        tabIndex={-1}
        onChange={(e) => {
          if (e.target.files) void give(e.target.files);
          e.target.value = '';
        }}
      />
      <Button look="plain" className="mt-2" disabled={sending} onClick={() => input.current?.click()}>
        {sending ? 'Adding fonts …' : 'Add a font file'}
      </Button>
    </>
  );
}

/** One font that is asked for: where it is used, what its letters are taken from, and what that lacks. */
function AskedFont({
  use: u,
  families,
  onChoose,
  onGoTo,
}: {
  use: FontUse;
  families: readonly string[];
  onChoose: (family: string) => void;
  onGoTo: (at: { x: number; y: number }) => void;
}) {
  return (
    <li className="py-1.5" data-font={u.asked}>
      <div className="flex items-baseline justify-between gap-2">
        <button
          type="button"
          className="truncate text-left font-medium underline-offset-2 hover:underline"
          title={`Go to the first of them, on ${u.layers.join(', ')}`}
          onClick={() => onGoTo(u.at)}
        >
          {u.asked || 'no font named'}
        </button>
        <span className="num shrink-0 text-xs text-quiet">
          {plainNumber(u.texts)} {u.texts === 1 ? 'text' : 'texts'}
        </span>
      </div>
      <div className="flex items-center gap-2 text-sm">
        <label className="sr-only" htmlFor={`font-${u.asked}`}>
          Letters of {u.asked || 'texts without a named font'} are taken from
        </label>
        <select
          id={`font-${u.asked}`}
          className="max-w-44 border border-ink/60 bg-sheet px-1 py-0.5"
          value={u.how === 'chart' ? u.family : ''}
          onChange={(e) => onChoose(e.target.value)}
        >
          <option value="">{u.how === 'chart' ? 'no choice of mine' : u.family}</option>
          {families.map((f) => (
            <option key={f} value={f}>
              {f}
            </option>
          ))}
        </select>
        <span className="text-quiet">{HOW[u.how]}</span>
      </div>
      {u.wider !== null && Math.abs(u.wider) >= 0.005 && (
        <p className="num text-xs">
          runs {Math.abs(u.wider * 100).toFixed(1)} % {u.wider > 0 ? 'wider' : 'narrower'} than in the file
        </p>
      )}
      {u.missing.length > 0 && (
        <p className="text-sm text-alarm">
          No available font has{' '}
          {u.missing.slice(0, 12).map((m) => (
            <button
              key={m.char}
              type="button"
              className="mx-0.5 border border-alarm px-1"
              aria-label={`Go to the first ${m.char}, of ${m.count}`}
              onClick={() => onGoTo(m.at)}
            >
              {m.char}
            </button>
          ))}
          {u.missing.length > 12 && ` and ${u.missing.length - 12} more`}
        </p>
      )}
    </li>
  );
}
