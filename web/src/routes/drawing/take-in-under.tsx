import { useRef, useState } from 'react';
import type { IntakeDecisions, PicturePlace, UnitName } from '@scalaria/core';
import {
  conversion,
  placedByCorners,
  placedByDistance,
  placedByPairs,
  placedBySize,
  placedByWorldFile,
  readPlaceWords,
  readWorldFile,
  sizeOfPlace,
} from '@scalaria/core';
import { usePicturesOf } from '../../api/hooks';
import type { PictureRow } from '../../api/types';
import { Button } from '../../parts/button';
import { NumberField, Select, Tick } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { plainNumber } from '../../parts/numbers';
import { useDrawing } from './drawing-context';
import { settledLength } from './take-in-math';
import type { Tools } from './view/use-tools';

type Under = NonNullable<IntakeDecisions['under']>;
type Point = { x: number; y: number };

/** A picture of the job under the drawing while it is worked on. */
export function useUnderSection(tools: Tools): BookSection {
  const { under } = useDrawing().drawing.intake;
  return {
    id: 'under',
    title: 'Picture under the drawing',
    said: under ? `${under.picture}, ${under.delivered ? 'delivered with it' : 'not delivered'}` : 'none',
    body: () => <UnderBody tools={tools} />,
  };
}

/** Asks for places one after the other, each with its words; all of them are told at the end. */
function pointAt(tools: Tools, words: readonly string[], done: (points: Point[]) => void, had: Point[] = []): void {
  const [now] = words;
  if (now === undefined) {
    tools.ask(null);
    return done(had);
  }
  tools.ask({ words: now, onPlace: ({ x, y }) => pointAt(tools, words.slice(1), done, [...had, { x, y }]) });
}

function UnderBody({ tools }: { tools: Tools }) {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const { data } = usePicturesOf(drawing.jobId);
  const pictures = data?.pictures ?? [];
  const under = intake.under ?? null;
  const settled = settledLength(claims, intake);
  const choose = (name: string): void => {
    const p = pictures.find((one) => one.name === name);
    if (!p) return decide({ under: null }, 'no picture under the drawing');
    decide(
      { under: { ...firstPlace(p, claims.bounds, settled), ...named(p), opacity: 50, delivered: false } },
      `${p.name} under the drawing`,
    );
  };
  const missing = under && data && !pictures.some((p) => p.name.toLowerCase() === under.picture.toLowerCase());
  return (
    <>
      {pictures.length === 0 && !under ? (
        <p className="text-sm text-quiet">The job has no pictures: drop a PNG or JPEG on its page.</p>
      ) : (
        <Select
          label="Picture"
          value={under?.picture ?? ''}
          options={[
            ['', 'none'],
            ...pictures.map((p) => [p.name, p.name] as const),
            ...(missing ? [[under.picture, `${under.picture}, missing`] as const] : []),
          ]}
          onChange={choose}
        />
      )}
      {missing && (
        <p className="mt-1 text-sm text-alarm" role="alert">
          “{under.picture}” is not among the pictures of the job: drop it on the job’s page.
        </p>
      )}
      {under && <Placing key={under.picture} tools={tools} under={under} settled={settled} />}
    </>
  );
}

const named = (p: PictureRow): Pick<Under, 'picture' | 'width' | 'height'> => ({
  picture: p.name,
  width: p.width,
  height: p.height,
});

/** Where a picture lies at first: as large as it says it is, else as wide as the drawing, from the lower left of that on. */
export function firstPlace(
  p: Pick<PictureRow, 'width' | 'height' | 'pxPerInch'>,
  bounds: { minX: number; minY: number; maxX: number } | null,
  settled: { unit: UnitName | null; scale: number },
): PicturePlace {
  const at = bounds ? { x: bounds.minX, y: bounds.minY } : { x: 0, y: 0 };
  const wide = bounds && bounds.maxX > bounds.minX ? bounds.maxX - bounds.minX : p.width;
  const stated = p.pxPerInch && settled.unit ? conversion('in', settled.unit) / p.pxPerInch / settled.scale : null;
  return placedBySize(at, [p.width, p.height], stated ?? wide / p.width);
}

function Placing({ tools, under, settled }: { tools: Tools; under: Under; settled: ReturnType<typeof settledLength> }) {
  const { decide } = useDrawing();
  const [pair, setPair] = useState<[Point, Point] | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const pixels = [under.width, under.height] as const;
  const { size, perPixel } = sizeOfPlace(under, pixels);
  const unit = settled.unit ?? 'units';
  const put = (place: PicturePlace | null, words: string): void => {
    if (!place) return setSaid('The two points are one: point at two that lie apart.');
    setPair(null);
    decide({ under: { ...under, ...place } }, words);
  };
  const asking = tools.tool === 'ask' && tools.asked?.onPlace !== undefined;
  const byDistance = (): void =>
    pointAt(
      tools,
      ['Click the first of two points of the picture.', 'Click the second point of the picture.'],
      ([a, b]) => setPair([a!, b!]),
    );
  const byPairs = (): void =>
    pointAt(
      tools,
      [
        'Click a point of the picture.',
        'Click where it lies in the drawing.',
        'Click another point of the picture.',
        'Click where that lies in the drawing.',
      ],
      ([a, to, b, till]) => put(placedByPairs(under, [a!, b!], [to!, till!]), 'picture laid onto two points'),
    );
  const byCorners = (): void =>
    pointAt(
      tools,
      ['lower left', 'lower right', 'upper right', 'upper left'].map(
        (c) => `Click where the ${c} corner of the picture lies.`,
      ),
      ([a, b, c, d]) => {
        const { place, off } = placedByCorners([a!, b!, c!, d!]);
        const worst = off / Math.min(...sizeOfPlace(place, pixels).perPixel);
        put(place, 'picture laid onto four corners');
        setSaid(`The corners are met within ${short(worst)} px.`);
      },
    );
  const byFile = async (given: File): Promise<void> => {
    const text = await given.text();
    const six = readWorldFile(text);
    const words = six ? null : readPlaceWords(text);
    if (six) return put(placedByWorldFile(six, pixels), `placed by ${given.name}`);
    const [left, upper, right, lower] = words?.corners ?? [];
    if ([left, upper, right, lower].some((v) => !Number.isFinite(v)))
      return setSaid(
        `“${given.name}” is no file that says a place: six lines of numbers, or the JSON beside a picture.`,
      );
    put(
      { at: { x: left!, y: lower! }, right: { x: right!, y: lower! }, up: { x: left!, y: upper! } },
      `placed by ${given.name}`,
    );
  };
  return (
    <div className="mt-2 flex flex-col gap-2">
      <p className="num text-sm" data-testid="under-size">
        {short(size[0] * settled.scale)} × {short(size[1] * settled.scale)} {unit}, 1 px ={' '}
        {short(perPixel[0] * settled.scale)} {unit}
      </p>
      <div className="flex flex-wrap gap-2">
        {asking ? (
          <Button onClick={() => tools.ask(null)}>Stop</Button>
        ) : (
          <>
            <Button onClick={byDistance}>Two points and their distance</Button>
            <Button onClick={byPairs}>Onto two points of the drawing</Button>
            <Button onClick={byCorners}>Four corners</Button>
            <Button onClick={() => file.current?.click()}>By a file beside it …</Button>
          </>
        )}
      </div>
      <input
        ref={file}
        type="file"
        accept=".pgw,.jgw,.tfw,.wld,.json"
        className="sr-only"
        tabIndex={-1}
        aria-label="File that says where the picture lies"
        onChange={(e) => {
          const [given] = e.target.files ?? [];
          e.target.value = '';
          if (given) void byFile(given);
        }}
      />
      {pair && (
        <NumberField
          label="They are apart by"
          value={null}
          unit={unit}
          above={0}
          onChange={(d) =>
            put(placedByDistance(under, pair[0], pair[1], d / settled.scale), `picture scaled by ${d} ${unit}`)
          }
        />
      )}
      {said && (
        <p className="text-sm text-quiet" role="status">
          {said}
        </p>
      )}
      <NumberField
        label="Seen at"
        unit="%"
        value={under.opacity}
        faultIn={(v) => (v < 5 || v > 100 ? 'It is from 5 to 100' : null)}
        onChange={(opacity) => decide({ under: { ...under, opacity } }, `picture seen at ${opacity} %`)}
      />
      <Tick
        className="flex items-center gap-1.5 text-sm"
        checked={under.delivered}
        onChange={(delivered) =>
          decide({ under: { ...under, delivered } }, delivered ? 'picture delivered' : 'picture not delivered')
        }
      >
        delivered with the drawing
      </Tick>
    </div>
  );
}

const short = (v: number): string => plainNumber(Number(v.toPrecision(5)));
