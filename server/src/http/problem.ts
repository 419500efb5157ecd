/** An answer other than success, with words for the person who asked. */
export class Problem extends Error {
  override name = 'Problem';
  /** `same`: the drawing that is the very same file; `later`: asked again after a while it can be done. */
  constructor(
    readonly status: number,
    readonly title: string,
    readonly details: { where?: string; remedy?: string; same?: string; later?: true } = {},
  ) {
    super(title);
  }
}

export const notFound = (what: string): Problem => new Problem(404, `This ${what} does not exist (any more).`);
