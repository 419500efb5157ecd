import type { Infer } from '../parameters/parameter.js';
import { p } from '../parameters/parameter.js';
import type { DepthSources } from './hole-depth.js';

/** Where it is said whether holes go through, in the order in which it is asked. */
export const DEPTH_SOURCES = {
  sheet: p.optional(p.length({ title: 'Sheets are so thick', default: 0, above: 0 }), 'as drawn'),
  attribute: p.text({ title: 'Attribute that holds the depth', default: 'DEPTH', maxLength: 255 }),
  throughColour: p.optional(p.colour({ title: 'Through in one colour', default: '#000000' }), 'none'),
  blindColour: p.optional(p.colour({ title: 'Not through in one colour', default: '#000000' }), 'none'),
  throughLayers: p.text({ title: 'Through on layers named', default: '', maxLength: 2000, suggest: 'layers' }),
  blindLayers: p.text({ title: 'Not through on layers named', default: '', maxLength: 2000, suggest: 'layers' }),
};

export const depthSources = (o: Infer<typeof DEPTH_SOURCES>): DepthSources => ({ ...o, sheet: o.sheet ?? 0 });
