import { UserError } from '../errors.js';
import type { Drawing } from '../drawing/drawing.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { Ledger } from '../drawing/ledger.js';
import type { Stage } from '../drawing/lineage.js';
import { Stages } from '../drawing/lineage.js';
import type { Work } from '../formats/format.js';
import { Stopped, checkStop } from '../formats/format.js';
import type { IntakeDecisions } from '../intake/decisions.js';
import { wholeDecisions } from '../intake/decisions.js';
import { takeIn } from '../intake/intake.js';
import { tellMissingFiles, tellMissingLetters } from '../intake/missing.js';
import type { GivenPicture } from '../intake/pictures.js';
import { withPictures } from '../intake/pictures.js';
import { mapOfStages, withUnder } from '../intake/under.js';
import { canonicalText } from '../parameters/canonical.js';
import { STEPS, runStep } from '../steps/index.js';
import type { GivenReference, PlannedStep, Step } from '../steps/step.js';
import type { FontBook } from '../text/fonts.js';

/** What a job gives to drawings that ask for it by name. */
export interface GivenFiles {
  fonts?: FontBook;
  pictures?: readonly GivenPicture[];
  references?: readonly GivenReference[];
}

/** A drawing after intake and steps, and what was done on the way. */
export interface Prepared {
  drawing: Drawing;
  ledger: LedgerRow[];
  stages: readonly Stage[];
}

/** A step that could not be run: what is wrong with it, and which it is. */
export class StepFailed extends UserError {
  override name = 'StepFailed';
  constructor(
    readonly step: string,
    cause: UserError,
  ) {
    super(cause.code, cause.message);
  }
}

/** What one link of the chain made of the drawing before it. */
interface Link {
  key: string;
  drawing: Drawing;
  ledger: readonly LedgerRow[];
  stages: readonly Stage[];
}

/**
 * From a source to what is prepared of it, link by link: the decisions, then each step. What the last run made is kept, and a
 * run that begins alike begins where they part: whoever asks for the strip, the scene and the findings of one plan has it
 * worked out once, and who changes the last step has only that run again. What a link makes follows from its key and the
 * links before it alone, so that nothing else has to be compared.
 */
export class Pipeline {
  private chain: Link[] = [];
  /** How many links were worked out anew, over all runs. */
  worked = 0;

  /** `given`: the fonts, pictures and reference drawings of the job; with others it is another pipeline. */
  constructor(
    private readonly source: Drawing,
    private readonly given: GivenFiles = {},
    private readonly among: readonly Step[] = STEPS,
  ) {}

  /** Throws as `takeIn` does, and `StepFailed`; what was worked out until then stays. */
  run(decisions: IntakeDecisions, steps: readonly PlannedStep[], work?: Work): Prepared {
    const plan = steps.filter((s) => s.on);
    this.link(0, canonicalText(wholeDecisions(decisions)), () => this.takenIn(decisions));
    plan.forEach((planned, i) => {
      // Its id goes with it, since rows say by whom they are.
      const key = canonicalText(planned);
      this.link(i + 1, key, (before) => {
        checkStop(work);
        try {
          return runStep(before, planned, { ...work, ...this.given }, this.among);
        } catch (e) {
          throw e instanceof UserError && !(e instanceof Stopped) ? new StepFailed(planned.id, e) : e;
        }
      });
    });
    // Links beyond the plan stay: who looks at the drawing as it is after a step comes back to the last.
    const own = this.chain.slice(0, plan.length + 1);
    const ledger = own.flatMap((l) => l.ledger);
    const done = new Stages(this.chain[plan.length]!.drawing);
    const stages = own.flatMap((l) => l.stages);
    const { under } = wholeDecisions(decisions);
    if (under?.delivered) {
      const put = new Ledger('intake');
      const map = mapOfStages(this.source, stages);
      done.run('Picture under the drawing', (from, lineage) =>
        withUnder(from, under, map, this.given.pictures ?? [], put, lineage),
      );
      ledger.push(...put.rows);
    }
    const { drawing } = done;
    // A step may have taken in what the source only names.
    const missing = new Ledger('intake');
    tellMissingFiles(drawing, missing);
    return {
      drawing,
      ledger: [...ledger, ...missing.rows],
      stages: [...stages, ...done.list],
    };
  }

  private link(at: number, key: string, make: (before: Drawing) => Omit<Link, 'key'>): void {
    if (this.chain[at]?.key === key) return;
    this.chain.length = Math.min(this.chain.length, at);
    const made = make(at === 0 ? this.source : this.chain[at - 1]!.drawing);
    this.worked++;
    this.chain[at] = { key, drawing: made.drawing, ledger: made.ledger, stages: made.stages };
  }

  private takenIn(decisions: IntakeDecisions): Omit<Link, 'key'> {
    const held = new Ledger('intake');
    const stages = new Stages(this.source);
    stages.run('Pictures', (from, lineage) => withPictures(from, this.given.pictures ?? [], held, lineage));
    const taken = takeIn(stages.drawing, decisions);
    stages.follow(taken);
    const lacking = new Ledger('intake');
    if (this.given.fonts) tellMissingLetters(stages.drawing, this.given.fonts, lacking);
    const ledger = [...held.rows, ...taken.ledger, ...lacking.rows];
    return { drawing: stages.drawing, ledger, stages: stages.list };
  }
}

/** The drawing after intake and steps, once. `pictures`: those of the job, which it may name. */
export const prepare = (
  source: Drawing,
  decisions: IntakeDecisions,
  steps: readonly PlannedStep[],
  work: Work & GivenFiles = {},
): Prepared => {
  const { fonts, pictures, references, ...rest } = work;
  const given = { ...(fonts && { fonts }), ...(pictures && { pictures }), ...(references && { references }) };
  return new Pipeline(source, given).run(decisions, steps, rest);
};
