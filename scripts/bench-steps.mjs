// node scripts/bench-steps.mjs FILE [step]: what each step takes on a drawing, beside reading it; and how soon each one stops.
// JSON lines. A step that takes longer than two minutes is stopped, and said to.
import { readFileSync } from 'node:fs';
import {
  STEPS,
  FontBook,
  NO_DECISIONS,
  partsBook,
  plannedStep,
  prepare,
  readDrawing,
  runStep,
} from '../core/dist/index.js';

const [, , file, only] = process.argv;
const MOST_MS = 120_000;
const bytes = readFileSync(file);
const read = () => {
  const began = performance.now();
  const { drawing } = readDrawing(bytes, file);
  return { drawing, ms: performance.now() - began };
};
// The second time: machines run faster once they are warm, and steps come after reading.
read();
const { drawing, ms: reading } = read();
const prepared = prepare(drawing, { ...NO_DECISIONS, unit: drawing.unit ? null : 'mm' }, []).drawing;
const tell = (row) => console.log(JSON.stringify(row));
tell({ step: 'read', ms: Math.round(reading), objects: drawing.entities.length });
const given = { fonts: new FontBook([]) };

/** Runs a step and asks it to stop after so long: what it took, and how much longer it went on. */
function run(planned, stopAfter) {
  const from = performance.now();
  const work = {
    ...given,
    signal: {
      get aborted() {
        return performance.now() - from > stopAfter;
      },
    },
  };
  try {
    const made = runStep(prepared, planned, work);
    const changed = made.ledger.reduce((n, r) => n + (r.action === 'kept' ? 0 : r.count), 0);
    return { ms: performance.now() - from, changed };
  } catch (e) {
    return { ms: performance.now() - from, fault: e.message };
  }
}

for (const step of STEPS) {
  if (only && step.id !== only) continue;
  const planned = plannedStep(step, 's', exampleFor(step));
  const { ms, changed = 0, fault } = run(planned, MOST_MS);
  const stopped = fault?.startsWith('stopped');
  const late = stopped ? ms - MOST_MS : ms > 300 ? Math.max(0, run(planned, ms / 3).ms - ms / 3) : 0;
  tell({
    step: step.id,
    ms: Math.round(ms),
    times: Number((ms / reading).toFixed(2)),
    changed,
    late: Math.round(late),
    ...(fault && { fault }),
  });
}

// Finding parts, comparing and numbering them is no step, but is asked for as often.
if (!only || only === 'parts') {
  // A drawing of its own: what is known of the other would not be worked out again.
  const { drawing: again } = read();
  const from = performance.now();
  const { rows, findings } = partsBook(again, {});
  const ms = performance.now() - from;
  const parts = rows.reduce((n, r) => n + r.quantity, 0);
  tell({
    step: 'parts',
    ms: Math.round(ms),
    times: Number((ms / reading).toFixed(2)),
    parts,
    kinds: rows.length,
    findings: findings.length,
  });
}

/** Parameters with which a step has something to do on any drawing. */
function exampleFor(step) {
  if (step.id === 'chart-layers') return { chart: [{ from: '*', to: 'A-*' }] };
  if (step.id === 'map-colours') return { by: 'index' };
  if (step.id === 'replace-fonts') return { chart: [{ from: '*', to: 'Spline Sans' }] };
  if (step.id === 'keep-layers') return { names: 'A*' };
  if (step.id === 'turn-and-mirror') return { turn: 90 };
  if (step.id === 'set-true-size') return { measured: 1, actual: 2 };
  if (step.id === 'crop') return { corner: { x: 0, y: 0 }, opposite: { x: 1000, y: 1000 } };
  if (step.id === 'build-regions' || step.id === 'share-edges') return { within: 0.01 };
  if (step.id === 'sort-by-rule')
    return {
      by: 'rules',
      rules: [
        { role: 'hole', to: 'HOLES' },
        { role: 'outer', areaBelow: 2400, to: 'SMALL' },
        { role: 'outer', to: 'LARGE' },
      ],
    };
  return {};
}
