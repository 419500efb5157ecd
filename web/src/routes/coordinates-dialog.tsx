import { useEffect, useRef, useState } from 'react';
import * as Comlink from 'comlink';
import type { CoordinateChoices, UnitName } from '@scalaria/core';
import { COMMON_UNITS } from '@scalaria/core';
import { Button } from '../parts/button';
import { Choice, Select } from '../parts/field';
import { Modal } from '../parts/modal';
import { plainNumber } from '../parts/numbers';
import { Working } from '../parts/progress';
import type { CoordinatesRead, CoordinatesWorker } from '../workers/coordinates.worker';
import type { Given } from './uploads';

/** A text to look at: a file’s, or an empty one to paste into. */
export interface CoordinateText {
  name: string;
  text: string;
}

/** Text beyond this is not put into the field; it is read and shown all the same. */
const EDITABLE = 500_000;
/** A text that is being typed is read when it rests for so long, in ms. */
const REST = 200;

/** Shows coordinates as they are read, asks what they leave open, and takes them in only when every line can be read. */
export function CoordinatesDialog({
  given,
  onClose,
  onTake,
}: {
  given: CoordinateText | null;
  onClose: () => void;
  onTake: (file: File, said: Given) => void;
}) {
  return (
    <Modal open={given !== null} onClose={onClose} title="Coordinates" wide>
      {given && <Body key={given.name + given.text.length} given={given} onClose={onClose} onTake={onTake} />}
    </Modal>
  );
}

/** Reads a text in a worker of its own; a newer text takes the place of one that is still being read. */
function useRead(text: string, choices: CoordinateChoices): { read: CoordinatesRead | null; fault: string | null } {
  const worker = useRef<Comlink.Remote<CoordinatesWorker> | null>(null);
  const [state, setState] = useState<{ read: CoordinatesRead | null; fault: string | null }>({
    read: null,
    fault: null,
  });
  useEffect(() => {
    const thread = new Worker(new URL('../workers/coordinates.worker.ts', import.meta.url), { type: 'module' });
    worker.current = Comlink.wrap<CoordinatesWorker>(thread);
    return () => thread.terminate();
  }, []);
  const { decimal, third } = choices;
  useEffect(() => {
    let live = true;
    const timer = setTimeout(() => {
      worker.current
        ?.read(text, { ...(decimal && { decimal }), ...(third && { third }) })
        .then((read) => live && setState({ read, fault: null }))
        .catch((e: unknown) => live && setState({ read: null, fault: e instanceof Error ? e.message : String(e) }));
    }, REST);
    return () => {
      live = false;
      clearTimeout(timer);
    };
  }, [text, decimal, third]);
  return state;
}

function Body({
  given,
  onClose,
  onTake,
}: {
  given: CoordinateText;
  onClose: () => void;
  onTake: (file: File, said: Given) => void;
}) {
  const [text, setText] = useState(given.text);
  const [name, setName] = useState(given.name);
  const [choices, setChoices] = useState<CoordinateChoices>({});
  const [unit, setUnit] = useState<UnitName | ''>('');
  const { read, fault } = useRead(text, choices);
  const editable = given.text.length <= EDITABLE;
  const empty = text.trim() === '';
  const waits = whyNot(read, empty, name);
  const take = (): void => {
    const file = new File([text], /\.\w+$/.test(name.trim()) ? name.trim() : `${name.trim()}.txt`);
    onTake(file, { ...choices, ...(unit && { unit }) } as Given);
  };
  return (
    <div className="grid gap-5 md:grid-cols-2">
      <div className="flex min-w-0 flex-col gap-3">
        <label className="block">
          <span className="text-xs text-quiet">Name of the drawing</span>
          <input
            value={name}
            maxLength={200}
            onChange={(e) => setName(e.target.value)}
            className="w-full border border-ink/60 bg-sheet px-2 py-1"
          />
        </label>
        <label className="flex min-h-0 flex-col">
          <span className="text-xs text-quiet">
            {editable ? 'x and y in each line, an empty line before the next outline' : 'Its first lines'}
          </span>
          <textarea
            value={editable ? text : text.slice(0, 4000)}
            readOnly={!editable}
            spellCheck={false}
            rows={12}
            onChange={(e) => setText(e.target.value)}
            placeholder={'-3  10\n3  10\n3  190\n-3  190'}
            className="num w-full resize-y border border-ink/60 bg-sheet px-2 py-1 text-sm"
          />
        </label>
        {read && <Open read={read} choices={choices} onChange={setChoices} />}
        {read && <UnitAsked read={read} unit={unit} onChange={setUnit} />}
      </div>
      <div className="flex min-w-0 flex-col gap-3">
        <Shown read={empty ? null : read} />
        {fault && (
          <p className="text-alarm" role="alert">
            {fault}
          </p>
        )}
        {!read && !fault && <Working label="Reading the text" />}
        {read && !empty && read.wrong.length > 0 && <Wrong read={read} />}
      </div>
      <div className="flex items-baseline justify-end gap-3 md:col-span-2">
        {waits && <span className="mr-auto text-sm text-quiet">{waits}</span>}
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={waits !== null} onClick={take}>
          Take in
        </Button>
      </div>
    </div>
  );
}

/** Why the text cannot be taken in yet, or `null`. */
export function whyNot(read: CoordinatesRead | null, empty: boolean, name: string): string | null {
  if (empty) return 'Paste or type coordinates.';
  if (!read) return 'Being read …';
  if (read.open.includes('decimal')) return 'Say which sign comes before decimals.';
  if (read.wrong.length > 0)
    return `${read.wrong.length + read.moreWrong === 1 ? 'A line' : `${read.wrong.length + read.moreWrong} lines`} cannot be read: nothing is taken in half.`;
  if (read.open.includes('third')) return 'Say what the third number is.';
  if (read.outlines === 0) return 'There are no coordinates in it.';
  return name.trim() === '' ? 'Give the drawing a name.' : null;
}

/** What the text leaves open, or left open before it was said. */
function Open({
  read,
  choices,
  onChange,
}: {
  read: CoordinatesRead;
  choices: CoordinateChoices;
  onChange: (c: CoordinateChoices) => void;
}) {
  const decimal = read.open.includes('decimal') || choices.decimal !== undefined;
  const third = read.columns === 3 && !read.open.includes('decimal');
  return (
    <>
      {decimal && (
        <fieldset>
          <legend className="text-sm font-semibold">The commas can be read in two ways</legend>
          <Choice
            name="decimal"
            checked={choices.decimal === 'point'}
            onChange={() => onChange({ ...choices, decimal: 'point' })}
          >
            Commas part the numbers
          </Choice>
          <Choice
            name="decimal"
            checked={choices.decimal === 'comma'}
            onChange={() => onChange({ ...choices, decimal: 'comma' })}
          >
            Commas stand before decimals
          </Choice>
        </fieldset>
      )}
      {third && (
        <fieldset>
          <legend className="text-sm font-semibold">The third number</legend>
          <p className="text-sm text-quiet">{read.evidence}</p>
          <Choice
            name="third"
            checked={(choices.third ?? read.third) === 'bulge'}
            onChange={() => onChange({ ...choices, third: 'bulge' })}
          >
            How the edge bulges: the tangent of a quarter of its angle
          </Choice>
          <Choice
            name="third"
            checked={(choices.third ?? read.third) === 'height'}
            onChange={() => onChange({ ...choices, third: 'height' })}
          >
            A height
          </Choice>
        </fieldset>
      )}
    </>
  );
}

/** Each unit with the size that all of it would have in it. */
function UnitAsked({
  read,
  unit,
  onChange,
}: {
  read: CoordinatesRead;
  unit: UnitName | '';
  onChange: (u: UnitName | '') => void;
}) {
  const { box } = read.preview;
  const size = box && `${short(box.maxX - box.minX)} × ${short(box.maxY - box.minY)}`;
  const later = read.unit ? `as the text states: ${read.unit}` : 'decided later, by evidence';
  return (
    <Select
      label="Unit"
      value={unit}
      options={[['', later], ...COMMON_UNITS.map((u) => [u, size ? `${size} ${u}` : u] as const)]}
      onChange={onChange}
    />
  );
}

const short = (v: number): string => plainNumber(Number(v.toPrecision(6)));

function Shown({ read }: { read: CoordinatesRead | null }) {
  const box = read?.preview.box;
  const size = box ? Math.max(box.maxX - box.minX, box.maxY - box.minY) || 1 : 1;
  const pad = size * 0.05;
  return (
    <figure className="m-0">
      <svg
        role="img"
        aria-label="The outlines as they are read"
        className="h-64 w-full border border-rule bg-sheet text-ink"
        viewBox={
          box
            ? `${box.minX - pad} ${-box.maxY - pad} ${box.maxX - box.minX + 2 * pad} ${box.maxY - box.minY + 2 * pad}`
            : '0 0 1 1'
        }
      >
        {read && (
          <path
            d={read.preview.d}
            fill="currentColor"
            fillOpacity={0.08}
            fillRule="evenodd"
            stroke="currentColor"
            strokeWidth={1.25}
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
      <figcaption className="num text-sm text-quiet" role="status">
        {read && box
          ? `${counted(read.outlines, 'outline')}, ${counted(read.preview.points, 'point')}, ${short(box.maxX - box.minX)} × ${short(box.maxY - box.minY)}${read.preview.shown < read.preview.points ? `, of which ${plainNumber(read.preview.shown)} points are shown` : ''}`
          : 'Nothing to show yet'}
      </figcaption>
    </figure>
  );
}

const counted = (n: number, what: string): string => `${plainNumber(n)} ${what}${n === 1 ? '' : 's'}`;

function Wrong({ read }: { read: CoordinatesRead }) {
  return (
    <div role="alert">
      <h3 className="text-sm font-semibold text-alarm">Lines that cannot be read</h3>
      <table className="w-full text-left text-sm">
        <tbody>
          {read.wrong.slice(0, 12).map((w) => (
            <tr key={`${w.line}-${w.reason}`} className="border-b border-rule align-baseline">
              <td className="num pr-3 text-right">{w.line}</td>
              <td className="num max-w-32 truncate pr-3">{w.text}</td>
              <td>{w.reason}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {read.wrong.length + read.moreWrong > 12 && (
        <p className="text-sm text-quiet">and {plainNumber(read.wrong.length + read.moreWrong - 12)} more</p>
      )}
    </div>
  );
}
