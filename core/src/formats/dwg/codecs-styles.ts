import type { Codec } from './codec.js';
import type { DimVariable } from './dim-variables.js';
import { DIM_HANDLES, DIM_VARIABLES, DIM_WEIGHTS, OLD_DIM_SIZES, OLD_DIM_VARIABLES } from './dim-variables.js';
import type { Fields } from './fields.js';
import { HARD_POINTER, NONE } from './fields.js';
import { entryName } from './codecs-tables.js';

/** Whether a version has a variable. */
const has = (f: Fields, [, , , , since = 0]: DimVariable): boolean => f.v >= since;

function variable(f: Fields, [, kind, code, standard]: DimVariable): void {
  const at = code === 0 ? NONE : code;
  switch (kind) {
    case 'b':
      return void f.b(at, standard);
    case 'bs':
      return void f.bs(at, standard);
    case 'rc':
      return void f.rc(at, standard);
    case 'bd':
      return void f.bd(at, standard);
    case 't':
      return void f.t(at, '');
    case 'colour':
      return void f.colour(at, NONE, standard);
    default:
      return void f.h(at, HARD_POINTER);
  }
}

/** DIMSTYLE (Open Design Specification). Values that are the standard ones are left out of the tags. */
export const DIMSTYLE: Codec = (f) => {
  entryName(f, 'AcDbDimStyleTableRecord');
  if (f.v < 2000) {
    for (const v of OLD_DIM_VARIABLES) variable(f, v);
    for (const v of OLD_DIM_SIZES) variable(f, v);
  } else {
    for (const v of [...DIM_VARIABLES, ...DIM_WEIGHTS]) if (has(f, v)) variable(f, v);
  }
  f.b(70, 0);
  f.h(NONE, HARD_POINTER);
  if (f.v < 2000) f.h(340, HARD_POINTER);
  else for (const v of DIM_HANDLES) if (has(f, v)) variable(f, v);
};
