import type { RefObject } from 'react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Alike, CurveFacts, EntityRef, Scene, Snap } from '@scalaria/core';
import { useAction } from '../../../parts/actions';
import type { Goal } from '../../../viewport/viewport';
import { useDrawing } from '../drawing-context';

/** What the pointer does: selects, draws a frame, measures; or what the station asks for. */
export type Tool = 'select' | 'frame' | 'distance' | 'path' | 'angle' | 'curve' | 'ask';
export type Place = { x: number; y: number; snapped: Snap['kind'] | null };

/** What was measured last, in shown coordinates. */
export interface Measured {
  tool: 'distance' | 'path' | 'angle' | 'curve';
  points: Place[];
  /** No more points are waited for. */
  done: boolean;
  curve: CurveFacts | null;
  /** Where a curve was pointed at, and how far around. */
  at?: { x: number; y: number; reach: number };
}

/** What a station asks to be pointed at instead. */
export interface Asked {
  words: string;
  /** A place, snapped to what is near; or an entity, by its id. */
  onPlace?: (p: Place) => void;
  onItem?: (ref: EntityRef) => void;
  /** A frame, its corners in order. */
  onFrame?: (x0: number, y0: number, x1: number, y1: number) => void;
}

export interface Tools {
  tool: Tool;
  setTool: (t: Tool) => void;
  touching: boolean;
  setTouching: (t: boolean) => void;
  ask: (a: Asked | null) => void;
  asked: Asked | null;
  measured: Measured | null;
  clearMeasured: () => void;
  finishPath: () => void;
  hover: Place | null;
  selected: ReadonlySet<number>;
  select: (ids: Iterable<number>) => void;
  hiddenIds: ReadonlySet<number>;
  hideSelected: () => void;
  isolateSelected: () => void;
  showAll: () => void;
  selectAlike: (what: Alike) => void;
  goTo: Goal | null;
  setGoTo: (g: Goal | null) => void;
  zoomToSelected: () => void;
  /** Selects objects and goes to where they lie; `false` where none of them is in the drawing in sight. */
  lead: (ids: readonly number[]) => Promise<boolean>;
  onPick: (x: number, y: number, reach: number, add: boolean) => void;
  onHover: (x: number, y: number, reach: number) => void;
  onFrame: (x0: number, y0: number, x1: number, y1: number, add: boolean) => void;
  /** What of the drawing is in sight: it changes with every move and makes nothing anew. */
  sight: RefObject<Sight | null>;
  onSight: (sight: Sight) => void;
}

export type Sight = NonNullable<Scene['bounds']>;

const NONE: ReadonlySet<number> = new Set();
const MEASURING: readonly Tool[] = ['distance', 'path', 'angle', 'curve'];

/** Selecting, hiding and measuring in the drawing that is in sight. `of` changes when another one is. */
export function useTools(of: unknown, hiddenLayers: ReadonlySet<string>): Tools {
  const { worker } = useDrawing();
  const [tool, setToolOnly] = useState<Tool>('select');
  const [asked, setAsked] = useState<Asked | null>(null);
  const [touching, setTouching] = useState(false);
  const [measured, setMeasured] = useState<Measured | null>(null);
  const [hover, setHover] = useState<Place | null>(null);
  const [selected, setSelected] = useState<ReadonlySet<number>>(NONE);
  const [hiddenIds, setHiddenIds] = useState<ReadonlySet<number>>(NONE);
  const [goTo, setGoTo] = useState<Goal | null>(null);
  const sight = useRef<Sight | null>(null);
  const onSight = useCallback((s: Sight) => void (sight.current = s), []);

  // Ids mean nothing in another drawing.
  useEffect(() => {
    setSelected(NONE);
    setHiddenIds(NONE);
    setMeasured(null);
  }, [of]);
  useEffect(() => void worker?.hide([...hiddenLayers], [...hiddenIds]), [worker, of, hiddenLayers, hiddenIds]);

  const setTool = useCallback((t: Tool) => {
    setToolOnly(t);
    setHover(null);
    if (t !== 'ask') setAsked(null);
    if (MEASURING.includes(t)) setMeasured(null);
  }, []);
  const ask = useCallback(
    (a: Asked | null) => {
      setAsked(a);
      setTool(a ? 'ask' : 'select');
      if (a) setAsked(a);
    },
    [setTool],
  );
  const select = useCallback((ids: Iterable<number>) => setSelected(new Set(ids)), []);
  const stop = (): void => {
    if (tool === 'select' || tool === 'frame') setSelected(NONE);
    else if (measured?.tool === 'path' && !measured.done && measured.points.length > 1) return finishPath();
    setTool('select');
    if (measured && !measured.done) setMeasured(null);
  };
  const finishPath = (): void => {
    setMeasured((m) => m && { ...m, done: true });
    setToolOnly('select');
    setHover(null);
  };

  const count = useRef(0);
  const find = async (x: number, y: number, reach: number): Promise<Place> => {
    const from = measured && !measured.done ? measured.points[measured.points.length - 1] : undefined;
    const s = worker ? await worker.snap(x, y, reach, from && { x: from.x, y: from.y }) : null;
    return s ? { x: s.x, y: s.y, snapped: s.kind } : { x, y, snapped: null };
  };
  const onHover = (x: number, y: number, reach: number): void => {
    if (tool === 'select' || tool === 'frame' || tool === 'curve' || asked?.onItem || asked?.onFrame) return;
    const n = ++count.current;
    void find(x, y, reach).then((p) => n === count.current && setHover(p));
  };
  const onPick = (x: number, y: number, reach: number, add: boolean): void => {
    if (!worker) return;
    if (tool === 'select' || tool === 'frame') {
      void worker.itemAt(x, y, reach).then((id) => {
        if (id === null) return add ? undefined : setSelected(NONE);
        setSelected((old) => {
          if (!add) return new Set([id]);
          const next = new Set(old);
          if (!next.delete(id)) next.add(id);
          return next;
        });
      });
      return;
    }
    if (tool === 'curve') {
      void worker
        .curveAt(x, y, reach)
        .then((curve) => setMeasured(curve && { tool: 'curve', points: [], done: true, curve, at: { x, y, reach } }));
      return;
    }
    if (tool === 'ask' && asked?.onItem) {
      void worker.refAt(x, y, reach).then((ref) => ref && asked.onItem?.(ref));
      return;
    }
    void find(x, y, reach).then((p) => {
      if (tool === 'ask') return asked?.onPlace?.(p);
      setMeasured((m) => withPoint(m, tool as 'distance' | 'path' | 'angle', p));
    });
  };
  const onFrame = (x0: number, y0: number, x1: number, y1: number, add: boolean): void => {
    if (tool === 'ask' && asked?.onFrame) return asked.onFrame(x0, y0, x1, y1);
    void worker
      ?.itemsWithin(x0, y0, x1, y1, touching)
      .then((ids) => setSelected((old) => new Set(add ? [...old, ...ids] : ids)));
  };

  const hideSelected = (): void => {
    setHiddenIds(new Set([...hiddenIds, ...selected]));
    setSelected(NONE);
  };
  const isolateSelected = (): void => {
    void worker?.allInSight().then((all) => {
      setHiddenIds(new Set([...hiddenIds, ...all.filter((id) => !selected.has(id))]));
    });
  };
  const zoomToSelected = (): void => {
    if (selected.size > 0) void worker?.boxOf([...selected]).then((b) => b && setGoTo({ ...b }));
  };
  const lead = async (ids: readonly number[]): Promise<boolean> => {
    const box = ids.length > 0 ? await worker?.boxOf([...ids]) : null;
    if (!box) return false;
    select(ids);
    setGoTo({ ...box });
    return true;
  };
  const selectAlike = (what: Alike): void => void worker?.alike([...selected], what).then(select);

  const any = selected.size > 0;
  useAction('Select', 's', () => setTool('select'));
  useAction('Select by a frame', 'f', () => setTool('frame'));
  useAction('Measure a distance', 'm', () => setTool('distance'));
  useAction('Measure a path and the area in it', 'p', () => setTool('path'));
  useAction('Measure an angle', 'a', () => setTool('angle'));
  useAction('Measure a curve: radius, length, area', 'r', () => setTool('curve'));
  useAction(any ? 'Zoom to selection' : '', 'z', zoomToSelected);
  useAction(any ? 'Hide selection' : '', 'h', hideSelected);
  useAction(any ? 'Show only selection' : '', 'o', isolateSelected);
  useAction(hiddenIds.size > 0 ? 'Show hidden objects' : '', 'u', () => setHiddenIds(NONE));
  useAction('Stop measuring, select nothing', 'Esc', stop, false);
  useAction(tool === 'path' ? 'Remove the last point of the path' : '', 'Backspace', () => {}, false);
  const latest = useRef(stop);
  const ends = useRef(finishPath);
  useEffect(() => {
    latest.current = stop;
    ends.current = finishPath;
  });
  const drawing = tool === 'path';
  useEffect(() => {
    const press = (e: KeyboardEvent): void => {
      // An open dialog or menu takes the key for itself.
      if (
        e.key === 'Escape' &&
        !e.defaultPrevented &&
        !document.querySelector('[role=dialog],[role=listbox],[role=menu]')
      )
        latest.current();
      if (e.key === 'Backspace' && drawing && !(e.target instanceof HTMLInputElement))
        setMeasured((m) => m && { ...m, points: m.points.slice(0, -1) });
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [drawing]);

  return useMemo(
    () => ({
      tool,
      setTool,
      touching,
      setTouching,
      ask,
      asked,
      measured,
      clearMeasured: () => setMeasured(null),
      finishPath,
      hover,
      selected,
      select,
      hiddenIds,
      hideSelected,
      isolateSelected,
      showAll: () => setHiddenIds(NONE),
      selectAlike,
      goTo,
      setGoTo,
      zoomToSelected,
      lead,
      onPick,
      onHover,
      onFrame,
      sight,
      onSight,
    }),
    // The functions are made anew with what they close over.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [tool, touching, asked, measured, hover, selected, hiddenIds, goTo, worker],
  );
}

/** A measurement with one more point; a finished one begins anew. */
function withPoint(m: Measured | null, tool: 'distance' | 'path' | 'angle', p: Place): Measured {
  const going = m && m.tool === tool && !m.done ? m.points : [];
  const points = [...going, p];
  const wanted = { distance: 2, angle: 3, path: Infinity }[tool];
  // A path that comes back to where it began is whole.
  const first = going[0];
  const back = tool === 'path' && going.length > 2 && first?.x === p.x && first.y === p.y;
  return { tool, points, done: back || points.length >= wanted, curve: null };
}
