import type { Length } from '@scalaria/core';

/** What a form asks of the page around it: names to offer, and an entity to be picked in the drawing. */
export interface FormHelp {
  fonts?: readonly string[];
  layers?: readonly string[];
  /** The layers with how many objects lie on each. */
  layerCounts?: readonly { name: string; count?: number }[];
  /** The layers of the template that the drawing is written with, and its name. */
  agreed?: { of: string; names: readonly string[] };
  /** Drawings and files of the job, by id, with what they are called. */
  drawings?: readonly (readonly [string, string])[];
  files?: readonly (readonly [string, string])[];
  /** The colours of the drawing, for charts of colours. */
  colours?: readonly { hex: string; count: number }[];
  /** What else conditions may ask for, such as where the drawing came from. */
  context?: Readonly<Record<string, string>>;
  /** The parameter that waits for a click in the drawing. */
  picking?: string | null;
  onPick?: (name: string) => void;
  /** How what was picked is told of. */
  picked?: (ref: string) => string | null;
  /** How a length typed by a person is kept: as a plain number if nothing is said. */
  lengths?: (value: number) => Length;
}
