import type { Target } from '../delivery/target.js';
import type { Kept, Parameter, ParameterSet } from '../parameters/parameter.js';
import { stepById } from '../steps/index.js';
import type { PlannedStep } from '../steps/step.js';
import type { Yardstick } from '../yardsticks/yardstick.js';
import { PLACES } from '../yardsticks/yardstick.js';
import type { Recipe } from './recipe.js';

/** What was done on a drawing and cannot be a rule for others, and why. */
export interface NotARule {
  readonly what: string;
  readonly why: string;
}

/**
 * A recipe from what was done on one drawing: its steps and its target. What names objects of that drawing, or another drawing of its
 * job, is no rule and stays behind, told. The recipe's steps then stand for the drawing's own.
 */
export function recipeOf(
  title: string,
  steps: readonly PlannedStep[],
  target: Target | null,
  yardsticks: readonly Yardstick[] = [],
): { recipe: Recipe; behind: NotARule[] } {
  const behind: NotARule[] = [];
  const rules = steps.filter((s) => {
    const step = stepById(s.step);
    if (!s.on || !step) return false;
    const names = namesObjects(step.params, s.params);
    if (names) behind.push({ what: step.title, why: `it names ${names} of this drawing` });
    return !names;
  });
  const general = yardsticks.filter((y) => {
    const free = PLACES[y.what] === 0;
    if (!free) behind.push({ what: y.title, why: 'it is bound to a place of this drawing' });
    return free;
  });
  const { name: _name, parts: _parts, ...rest } = target ?? ({} as Partial<Target>);
  return {
    recipe: {
      recipe: 2,
      title,
      ownSteps: 'aside',
      ...(rules.length > 0 && { steps: rules }),
      ...(target && { target: rest }),
      ...(general.length > 0 && { yardsticks: general.map(({ places: _p, ...y }) => y) }),
    },
    behind,
  };
}

/** What of a drawing is named by parameters, in words; `null` where they are rules alone. */
function namesObjects(set: ParameterSet, kept: Kept): string | null {
  for (const [name, one] of Object.entries(set)) {
    const found = namedIn(one, kept[name]);
    if (found) return found;
  }
  return null;
}

function namedIn(one: Parameter, value: unknown): string | null {
  if (value === undefined || value === null) return null;
  const some = (v: unknown): boolean => Array.isArray(v) && v.length > 0;
  switch (one.kind) {
    case 'picked':
      return some(value) ? 'picked objects' : null;
    case 'selection': {
      const { only, inside } = value as { only?: unknown; inside?: unknown };
      return some(only) || some(inside) ? 'picked objects' : null;
    }
    case 'drawing':
      return 'another drawing';
    case 'file':
      return 'a file';
    case 'group':
      return namesObjects(one.params, value as Kept);
    case 'optional':
      return namedIn(one.of, value);
    case 'list':
      return (value as readonly unknown[]).reduce<string | null>((found, v) => found ?? namedIn(one.item, v), null);
    default:
      return null;
  }
}
