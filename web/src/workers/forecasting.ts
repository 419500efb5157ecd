import type { CarryOverSummary, IntakeDecisions, LedgerRow, PictureFrame, PlannedStep, Target } from '@scalaria/core';
import { UserError, deliver, pictureFrame, readSource, summarise, traitsOf } from '@scalaria/core';
import { held, loadFonts, pipeline } from './held';

/** What would become of a drawing, were it written now. */
export interface Forecast {
  strip: CarryOverSummary[];
  rows: LedgerRow[];
  /** How large the file is, in bytes. */
  bytes: number;
}

/** A drawing of more objects than these is only looked ahead for when that is asked for. */
const MOST_UNASKED = 30_000;
/** A picture of more pixels than these likewise. */
const MOST_PIXELS_UNASKED = 10_000_000;

async function frameOf(target: Target): Promise<PictureFrame | string | null> {
  if (!held.prepared || !traitsOf(target.format).pixels) return null;
  try {
    return pictureFrame(held.prepared, target, await loadFonts());
  } catch (e) {
    if (e instanceof UserError) return e.message;
    throw e;
  }
}

/** Writes the drawing and keeps nothing but what the writer had to say. */
export const forecasting = {
  /** Whether looking ahead is quick enough to be done unasked: neither many objects nor many pixels. */
  async isQuick(target: Target): Promise<boolean> {
    if ((held.source?.entities.length ?? 0) > MOST_UNASKED) return false;
    const frame = await frameOf(target);
    return frame === null || typeof frame === 'string' || frame.width * frame.height <= MOST_PIXELS_UNASKED;
  },

  /** How large a picture would be, in pixels, and what it would show; `null` for other formats, a sentence for one that cannot be made. */
  pictureFrame: (target: Target): Promise<PictureFrame | string | null> => frameOf(target),

  /** `template`: the file that the target names. A sentence where the target cannot be written. */
  async forecast(
    decisions: IntakeDecisions,
    steps: PlannedStep[],
    target: Target,
    template?: { bytes: ArrayBuffer; name: string },
  ): Promise<Forecast | string> {
    if (!held.source) throw new Error('no drawing is open');
    const prepared = (await pipeline()).run(decisions, steps);
    const like = template && (await readSource(new Uint8Array(template.bytes), template.name)).drawing;
    try {
      const made = deliver(prepared.drawing, target, 'forecast', await loadFonts(), like ? { template: like } : {});
      const rows = [...held.reading, ...prepared.ledger, ...made.ledger];
      return { strip: summarise(held.source, decisions, rows), rows, bytes: made.bytes.length };
    } catch (e) {
      if (e instanceof UserError && e.code !== 'stopped') return e.message;
      throw e;
    }
  },
};
