/** JSON Schema for parameters: one flat object of numbers, texts and choices, from which the form is laid out too. */
export interface ParameterSchema {
  type: 'object';
  properties: Record<string, PropertySchema>;
  required: readonly string[];
  additionalProperties: false;
}

/** A parameter that counts only while another has a value. */
export type PropertySchema = { when?: Readonly<Record<string, string>> } & (
  | {
      type: 'number';
      title: string;
      description?: string;
      default: number;
      exclusiveMinimum?: number;
      minimum?: number;
      unit?: 'drawing' | 'degrees';
    }
  | {
      /** An entity picked in the drawing, as an `EntityRef`; empty while none is. */
      type: 'picked';
      title: string;
      description?: string;
      default: '';
    }
  | {
      /** A text of one's own. `suggest`: what names are offered. */
      type: 'text';
      title: string;
      description?: string;
      default: string;
      maxLength: number;
      suggest?: 'fonts' | 'layers';
    }
  | {
      type: 'string';
      title: string;
      description?: string;
      default: string;
      enum: readonly string[];
      titles: readonly string[];
    }
);

export type Parameters = Record<string, number | string>;

/** The defaults of a schema. */
export const defaultsOf = (schema: ParameterSchema): Parameters =>
  Object.fromEntries(Object.entries(schema.properties).map(([name, p]) => [name, p.default]));

/** What is wrong with parameters, in words, or `null`. */
export function parameterFault(schema: ParameterSchema, params: Parameters): string | null {
  for (const [name, value] of Object.entries(params)) {
    const p = schema.properties[name];
    if (!p) return `"${name}" is not a parameter`;
    if (p.type === 'number') {
      if (typeof value !== 'number' || !Number.isFinite(value)) return `${p.title} must be a number`;
      if (p.exclusiveMinimum !== undefined && value <= p.exclusiveMinimum)
        return `${p.title} must be above ${p.exclusiveMinimum}`;
      if (p.minimum !== undefined && value < p.minimum) return `${p.title} must be at least ${p.minimum}`;
    } else if (p.type === 'picked') {
      // Plans of before kept a number, which is no reference any more: the step asks for the pick anew.
      if (typeof value === 'string' && value.length > 1000) return `${p.title} is not something that was picked`;
    } else if (p.type === 'text') {
      if (typeof value !== 'string' || value.length > p.maxLength)
        return `${p.title} is a text of at most ${p.maxLength} characters`;
    } else if (!p.enum.includes(String(value))) return `${p.title} must be one of ${p.enum.join(', ')}`;
  }
  for (const name of schema.required)
    if (params[name] === undefined) return `${schema.properties[name]?.title ?? name} is missing`;
  return null;
}
