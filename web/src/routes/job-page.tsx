import type { DragEvent } from 'react';
import { useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { sendJson } from '../api/client';
import { useJob, usePicturesOf } from '../api/hooks';
import { paths } from '../api/paths';
import type { DrawingRow, PictureRow } from '../api/types';
import { Button } from '../parts/button';
import { Frame } from '../parts/frame';
import { useNotice } from '../parts/notice';
import { fileSize, plainNumber } from '../parts/numbers';
import { NotFound } from './not-found';
import { UploadList } from './upload-list';
import { TAKEN, useUploads } from './uploads';

export function JobPage() {
  const { job: id } = useParams();
  const { data, error, mutate } = useJob(id!);
  const pictures = usePicturesOf(id!);
  const uploads = useUploads(id!, () => void Promise.all([mutate(), pictures.mutate()]));
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const notice = useNotice();
  if (error) return <NotFound what="job" />;

  const drop = (e: DragEvent): void => {
    e.preventDefault();
    setOver(false);
    uploads.add([...e.dataTransfer.files]);
  };
  const remove = async (d: DrawingRow, deleted: boolean): Promise<void> => {
    await sendJson('PATCH', paths.drawing(d.id), { deleted });
    await mutate();
    if (deleted) notice({ text: `“${d.name}” is deleted.`, undo: () => void remove(d, false) });
  };

  const removePicture = async (p: PictureRow, deleted: boolean): Promise<void> => {
    await sendJson('PATCH', paths.picture(p.id), { deleted });
    await pictures.mutate();
    if (deleted) notice({ text: `“${p.name}” is taken out of the job.`, undo: () => void removePicture(p, false) });
  };

  return (
    <Frame crumbs={<span className="truncate text-ink">{data?.job.name}</span>}>
      <div
        className="h-full overflow-y-auto"
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
        onDrop={drop}
      >
        <div className="mx-auto max-w-6xl px-6 py-6">
          <div className="mb-5 flex items-baseline gap-4">
            <h1 className="text-2xl font-semibold tracking-tight">{data?.job.name}</h1>
            <Button look="main" className="ml-auto" onClick={() => picker.current?.click()}>
              Take in drawings
            </Button>
            <input
              ref={picker}
              type="file"
              multiple
              accept={TAKEN}
              className="sr-only"
              aria-label="Drawings to take in"
              tabIndex={-1}
              onChange={(e) => {
                uploads.add([...(e.target.files ?? [])]);
                e.target.value = '';
              }}
            />
          </div>
          <p
            className={`mb-5 border border-dashed px-4 py-5 text-center ${over ? 'border-ink bg-wash' : 'border-ink/50 text-quiet'}`}
          >
            Drop DXF, DWG or SVG files here, several at once, and the pictures (PNG, JPEG) that they name.
          </p>
          <UploadList uploads={uploads} />
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(260px,1fr))] gap-5" aria-label="Drawings">
            {data?.drawings.map((d) => (
              <li key={d.id} className="border border-rule bg-sheet hover:border-ink">
                <Link to={`/drawings/${d.id}`} className="block">
                  <div className="h-40 border-b border-rule bg-[#fbf8f1]">
                    <img src={paths.drawingPicture(d.id)} alt="" className="h-full w-full object-contain" />
                  </div>
                  <p className="truncate px-3 pt-2 font-medium">{d.name}</p>
                </Link>
                <div className="flex items-baseline justify-between gap-2 px-3 pb-2">
                  <p className="num text-quiet">
                    {d.format.toUpperCase()} {d.version} · {plainNumber(d.entities)} entities · {fileSize(d.size)} ·{' '}
                    {d.unit ?? 'no unit'}
                  </p>
                  <Button
                    look="quiet"
                    className="text-sm"
                    onClick={() => void remove(d, true)}
                    aria-label={`Delete ${d.name}`}
                  >
                    Delete
                  </Button>
                </div>
              </li>
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
                      className="h-28 w-full border-b border-rule bg-[#fbf8f1] object-contain"
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
                        className="text-sm"
                        onClick={() => void removePicture(p, true)}
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
        </div>
      </div>
    </Frame>
  );
}
