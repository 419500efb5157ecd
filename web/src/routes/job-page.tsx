import type { DragEvent } from 'react';
import { useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { decoded } from '@scalaria/core';
import type { ApiError } from '../api/client';
import { makeJson, sendJson } from '../api/client';
import { useBin, useJob, usePicturesOf } from '../api/hooks';
import { paths } from '../api/paths';
import type { DrawingRow, PictureRow } from '../api/types';
import { Button } from '../parts/button';
import { Frame } from '../parts/frame';
import { InlineSelect, SearchField } from '../parts/list-tools';
import { NameDialog } from '../parts/name-dialog';
import { useNotice } from '../parts/notice';
import { fileSize, plainNumber } from '../parts/numbers';
import { DeletedInJob } from './deleted';
import type { CoordinateText } from './coordinates-dialog';
import { CoordinatesDialog } from './coordinates-dialog';
import { DrawingCard } from './drawing-card';
import { JobHead } from './job-head';
import { NotFound } from './not-found';
import { UploadList } from './upload-list';
import { TAKEN, isCoordinateText, useUploads } from './uploads';

type Order = 'taken' | 'newest' | 'name' | 'size';

const ORDERS: Record<Order, [string, (a: DrawingRow, b: DrawingRow) => number]> = {
  taken: ['being taken in', (a, b) => a.createdAt.localeCompare(b.createdAt)],
  newest: ['the newest first', (a, b) => b.createdAt.localeCompare(a.createdAt)],
  name: ['name', (a, b) => a.name.localeCompare(b.name, 'en', { numeric: true })],
  size: ['size, the largest first', (a, b) => b.size - a.size],
};

export function JobPage() {
  const { job: id } = useParams();
  const go = useNavigate();
  const { data, error, mutate } = useJob(id!);
  const pictures = usePicturesOf(id!);
  const bin = useBin(id!);
  const renew = (): void => void Promise.all([mutate(), pictures.mutate(), bin.mutate()]);
  const uploads = useUploads(id!, renew, data?.drawings);
  const [sought, setSought] = useState('');
  const [order, setOrder] = useState<Order>('taken');
  const [renaming, setRenaming] = useState<DrawingRow | null>(null);
  const [over, setOver] = useState(false);
  /** Texts that wait to be looked at, one after the other. */
  const [texts, setTexts] = useState<CoordinateText[]>([]);
  const picker = useRef<HTMLInputElement>(null);
  const notice = useNotice();
  if (error) return <NotFound what="job" />;

  const drop = (e: DragEvent): void => {
    e.preventDefault();
    setOver(false);
    take([...e.dataTransfer.files]);
  };
  /** Drawings and pictures go on their way; text is looked at before. */
  const take = (files: File[]): void => {
    const asked = files.filter((f) => isCoordinateText(f.name));
    uploads.add(files.filter((f) => !asked.includes(f)));
    for (const file of asked)
      file
        .arrayBuffer()
        .then((bytes) => setTexts((l) => [...l, { name: file.name, text: decoded(new Uint8Array(bytes)) }]))
        .catch(() => notice({ text: `“${file.name}” could not be read.`, alarm: true }));
  };
  const change = async (path: string, what: object, said?: string, back?: object): Promise<void> => {
    try {
      await sendJson('PATCH', path, what);
      renew();
      if (said) notice({ text: said, ...(back && { undo: () => void change(path, back) }) });
    } catch (e) {
      notice({ text: (e as Error).message, alarm: true });
    }
  };
  const remove = (d: DrawingRow): void =>
    void change(paths.drawing(d.id), { deleted: true }, `“${d.name}” is deleted. It is listed under Deleted.`, {
      deleted: false,
    });
  /** A drawing of its own with a step that traces it; the one that is there already is opened. */
  const tracePicture = async (p: PictureRow): Promise<void> => {
    try {
      const made = await makeJson<DrawingRow>(paths.pictureDrawing(p.id), {});
      await mutate();
      go(`/drawings/${made.id}/prepare`);
    } catch (e) {
      const x = e as ApiError;
      if (x.same) go(`/drawings/${x.same}/prepare`);
      else notice({ text: `${x.message} ${x.remedy ?? ''}`, alarm: true });
    }
  };
  const removePicture = (p: PictureRow): void =>
    void change(paths.picture(p.id), { deleted: true }, `“${p.name}” is taken out of the job.`, { deleted: false });
  const drawings = data?.drawings ?? [];
  const shown = drawings
    .filter((d) => d.name.toLowerCase().includes(sought.trim().toLowerCase()))
    .sort(ORDERS[order][1]);
  const empty = data !== undefined && drawings.length === 0 && uploads.list.length === 0;

  return (
    <Frame crumbs={<span className="truncate text-ink">{data?.job.name}</span>}>
      <div
        className={`h-full overflow-y-auto ${over ? 'bg-wash' : ''}`}
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
        onDrop={drop}
      >
        <div className="mx-auto max-w-6xl px-6 py-6">
          <JobHead
            job={id!}
            aside={
              <span className="flex gap-3">
                <Button onClick={() => setTexts((l) => [...l, { name: 'coordinates.txt', text: '' }])}>
                  Coordinates …
                </Button>
                <Button look="main" onClick={() => picker.current?.click()}>
                  Take in drawings
                </Button>
              </span>
            }
          />
          <input
            ref={picker}
            type="file"
            multiple
            accept={TAKEN}
            className="sr-only"
            aria-label="Drawings to take in"
            tabIndex={-1}
            onChange={(e) => {
              take([...(e.target.files ?? [])]);
              e.target.value = '';
            }}
          />
          <div
            className={`mb-5 grid place-items-center border border-dashed px-4 text-center ${empty ? 'min-h-[55vh]' : 'py-3'} ${over ? 'border-ink' : 'border-ink/50 text-quiet'}`}
          >
            <p className={empty ? 'max-w-md text-lg text-ink' : ''}>
              Drop DXF, DWG, SVG or PDF files here, coordinates as text, and PNG or JPEG pictures that they use or that
              are to be traced.
              {empty && (
                <span className="mt-3 block text-sm text-quiet">
                  Each becomes a drawing of this job. Its bytes are kept as they are; unit, layers and origin are
                  decided next.
                </span>
              )}
            </p>
          </div>
          <UploadList uploads={uploads} />
          {drawings.length > 1 && (
            <div className="mb-4 flex flex-wrap items-center gap-4">
              <SearchField label="Search the drawings" className="w-64 bg-sheet" value={sought} onChange={setSought} />
              <InlineSelect
                lead="in order of"
                label="Order of the drawings"
                value={order}
                options={(Object.keys(ORDERS) as Order[]).map((k) => [k, ORDERS[k][0]] as const)}
                onChange={setOrder}
              />
              <span className="num text-sm text-quiet">
                {shown.length === drawings.length
                  ? `${drawings.length} drawings`
                  : `${shown.length} of ${drawings.length}`}
              </span>
            </div>
          )}
          {drawings.length > 0 && shown.length === 0 && <p>No drawing is called like that.</p>}
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(260px,1fr))] gap-5" aria-label="Drawings">
            {shown.map((d) => (
              <DrawingCard key={d.id} drawing={d} onRename={() => setRenaming(d)} onDelete={() => remove(d)} />
            ))}
          </ul>
          {(pictures.data?.pictures.length ?? 0) > 0 && (
            <>
              <h2 className="mt-8 mb-3 text-lg font-semibold">Pictures</h2>
              <ul className="grid grid-cols-[repeat(auto-fill,minmax(200px,1fr))] gap-4" aria-label="Pictures">
                {pictures.data!.pictures.map((p) => (
                  <li key={p.id} className="border border-rule bg-sheet">
                    <img
                      src={paths.pictureFile(p.id)}
                      alt=""
                      className="h-28 w-full border-b border-rule bg-sheet object-contain"
                    />
                    <p className="truncate px-3 pt-1.5 font-medium" title={p.name}>
                      {p.name}
                    </p>
                    <div className="flex items-baseline justify-between gap-2 px-3 pb-1.5">
                      <p className="num text-sm text-quiet">
                        {plainNumber(p.width)} × {plainNumber(p.height)} px
                        {p.pxPerInch !== null && ` · ${plainNumber(Math.round(p.pxPerInch))} px/in`} ·{' '}
                        {fileSize(p.size)}
                      </p>
                      <Button
                        look="quiet"
                        className="ml-auto text-sm"
                        onClick={() => void tracePicture(p)}
                        aria-label={`Trace ${p.name}`}
                      >
                        Trace
                      </Button>
                      <Button
                        look="quiet"
                        className="text-sm"
                        onClick={() => removePicture(p)}
                        aria-label={`Take out ${p.name}`}
                      >
                        Take out
                      </Button>
                    </div>
                  </li>
                ))}
              </ul>
            </>
          )}
          <DeletedInJob job={id!} onBack={renew} />
        </div>
      </div>
      <CoordinatesDialog
        given={texts[0] ?? null}
        onClose={() => setTexts((l) => l.slice(1))}
        onTake={(file, said) => {
          uploads.add([file], said);
          setTexts((l) => l.slice(1));
        }}
      />
      <NameDialog
        open={renaming !== null}
        title="Rename drawing"
        button="Rename"
        initial={renaming?.name ?? ''}
        onClose={() => setRenaming(null)}
        onName={async (name) => {
          await change(paths.drawing(renaming!.id), { name }, `“${renaming!.name}” is called “${name}” now.`, {
            name: renaming!.name,
          });
          setRenaming(null);
        }}
      />
    </Frame>
  );
}
