/** What no symbol name may hold in DXF from 2000 on (DXF reference, "symbol table names"). */
const ILLEGAL = /[<>/\\":;?*|=`\u0000-\u001f]/g;

/** A name without what no symbol name may hold, of at most 200 characters. */
export const legalName = (name: string): string => name.replace(ILLEGAL, '_').trim().slice(0, 200) || 'unnamed';

/**
 * Gives every name a legal form of its own: illegal characters become `_`, at most 255 characters, and names that
 * would meet (case aside) get a number. Asking again for the same name gives the same form.
 */
export class NameTable {
  private legal = new Map<string, string>();
  private taken = new Map<string, string>();

  /** `ignoreCase`: the source itself does not tell names apart by case. `anonymous`: names may begin with `*`. */
  constructor(
    private readonly ignoreCase: boolean,
    private readonly anonymous = false,
    /** Names as release 12 has them: at most 31 of letters, digits, `$`, `-` and `_`, told apart in capitals. */
    private readonly short = false,
  ) {}

  nameFor(name: string): string {
    const key = this.ignoreCase ? name.toLowerCase() : name;
    const known = this.legal.get(key);
    if (known !== undefined) return known;
    // A leading * marks a block without a name of its own, such as a dimension's picture.
    const star = this.anonymous && name.startsWith('*') ? '*' : '';
    const most = this.short ? 31 : 255;
    const clean = (n: string): string =>
      this.short
        ? n
            .normalize('NFD')
            .replace(/[\u0300-\u036f]/g, '')
            .replace(/[^A-Za-z0-9$_-]/g, '_')
        : n.replace(ILLEGAL, '_');
    const base = (star + (clean(name.slice(star.length).trim()) || 'unnamed')).slice(0, most);
    let candidate = base;
    for (let n = 2; this.taken.has(candidate.toLowerCase()); n++) {
      const tail = `-${n}`;
      candidate = base.slice(0, most - tail.length) + tail;
    }
    this.taken.set(candidate.toLowerCase(), name);
    this.legal.set(key, candidate);
    return candidate;
  }

  /** The names that had to change, with what they became. */
  get renamed(): [string, string][] {
    return [...this.taken].flatMap(([, name]) => {
      const legal = this.legal.get(this.ignoreCase ? name.toLowerCase() : name)!;
      return legal === name ? [] : [[name, legal] as [string, string]];
    });
  }
}
