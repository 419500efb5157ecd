// node scripts/bench-steps.mjs FILE: what each step takes on a drawing, beside reading it; and how soon each one stops. JSON lines.
import { readFileSync } from 'node:fs';
import { STEPS, FontBook, NO_DECISIONS, plannedStep, prepare, readDrawing, runStep } from '../core/dist/index.js';

const [, , file, only] = process.argv;
const bytes = readFileSync(file);
const began = performance.now();
const { drawing } = readDrawing(bytes, file);
const reading = performance.now() - began;
const prepared = prepare(drawing, { ...NO_DECISIONS, unit: drawing.unit ? null : 'mm' }, []).drawing;
console.log(JSON.stringify({ step: 'read', ms: Math.round(reading), objects: drawing.entities.length }));
const given = { fonts: new FontBook([]) };
for (const step of STEPS) {
  if (only && step.id !== only) continue;
  const planned = plannedStep(step, 's', EXAMPLES(step));
  const from = performance.now();
  let changed = 0;
  let fault = '';
  try {
    const made = runStep(prepared, planned, given);
    changed = made.ledger.reduce((n, r) => n + (r.action === 'kept' ? 0 : r.count), 0);
  } catch (e) {
    fault = e.message;
  }
  const ms = performance.now() - from;
  // Asked to stop a third of the way: how long it goes on.
  let late = 0;
  if (ms > 300) {
    const stopAt = performance.now() + ms / 3;
    let asked = 0;
    try {
      runStep(prepared, planned, {
        ...given,
        signal: {
          get aborted() {
            const now = performance.now();
            if (now < stopAt) return false;
            asked ||= now;
            return true;
          },
        },
      });
      late = performance.now() - stopAt;
    } catch {
      late = asked - stopAt;
    }
  }
  console.log(
    JSON.stringify({
      step: step.id,
      ms: Math.round(ms),
      times: Number((ms / reading).toFixed(2)),
      changed,
      late: Math.round(late),
      ...(fault && { fault }),
    }),
  );
}

/** Parameters with which a step has something to do on any drawing. */
function EXAMPLES(step) {
  if (step.id === 'chart-layers') return { chart: [{ from: '*', to: 'A-*' }] };
  if (step.id === 'map-colours') return { by: 'index' };
  if (step.id === 'replace-fonts') return { chart: [{ from: '*', to: 'Spline Sans' }] };
  if (step.id === 'keep-layers') return { names: 'A*' };
  if (step.id === 'turn-and-mirror') return { turn: 90 };
  if (step.id === 'set-true-size') return { measured: 1, actual: 2 };
  if (step.id === 'crop') return { corner: { x: 0, y: 0 }, opposite: { x: 1000, y: 1000 } };
  return {};
}
