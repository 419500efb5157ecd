import type { HandleSet } from './handle-set.js';
import { handleNumber } from './handles.js';
import type { RawTag } from './raw-tags.js';
import { formatRaw, isPointer, parseRaw } from './raw-tags.js';

/** Knows which records the written file has, so that what points elsewhere can be taken out of carried tags. */
export class Pointers {
  private known: HandleSet | null = null;

  /** `gather` lists the handles of everything that is written; asked once, when first needed. */
  constructor(private readonly gather: () => HandleSet) {}

  has(handle: string): boolean {
    this.known ??= this.gather();
    return this.known.has(handleNumber(handle.trim().replace(/^0+(?=.)/, '')));
  }

  /**
   * Tags without pointers that lead nowhere: reactors are left out, and with the last of them their group; any other
   * becomes 0. An entry of a `dictionary` (its name in 3 and the pointer) goes as a whole.
   */
  clean(tags: readonly RawTag[], dictionary = false): RawTag[] {
    const out: RawTag[] = [];
    let group = -1;
    let inside = 0;
    for (let i = 0; i < tags.length; i++) {
      const [code, value] = tags[i]!;
      if (code === 102 && value.trim().startsWith('{')) {
        group = out.length;
        inside = 0;
        out.push(tags[i]!);
        continue;
      }
      if (code === 102 && group >= 0) {
        if (inside === 0) out.length = group;
        else out.push(tags[i]!);
        group = -1;
        continue;
      }
      if (!isPointer(code) || /^0+$/.test(value.trim()) || this.has(value)) {
        if (group >= 0) inside++;
        out.push(tags[i]!);
        continue;
      }
      if (group >= 0) continue;
      const entry = dictionary && out.length > 0 && out[out.length - 1]![0] === 3;
      if (entry) out.pop();
      else out.push([code, '0']);
    }
    return out;
  }

  /** The same for tags in a source's own form; text without pointers is given back as it is. */
  cleanText(raw: string): string {
    if (!/(^|\n)\s*(1005|3[2-6]\d|39\d|48[01])\r?\n/.test(raw)) return raw;
    return formatRaw(this.clean(parseRaw(raw)));
  }
}
