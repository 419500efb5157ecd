import type { Image } from '../../drawing/entity.js';
import { length } from '../../geometry/vector.js';
import type { TagSink } from './tag-sink.js';

/** The entry of the root dictionary that lists the definitions. */
export const PICTURE_DICTIONARY = 'ACAD_IMAGE_DICT';

interface Definition {
  readonly handle: string;
  readonly image: Image;
  readonly reactors: { readonly handle: string; readonly of: string }[];
}

/** Whether a picture can be named by its file: one that a file holds has no name of its own, and an address is no file. */
export const hasPictureFile = (e: Image): boolean =>
  !e.cover && e.file !== undefined && !/^[a-z]+:\/\//i.test(e.file) && /\.(png|jpe?g|gif|bmp|tiff?)$/i.test(e.file);

/** Definitions of pictures that the source has none for, gathered while entities are written: one for each file. */
export class PictureDefinitions {
  private readonly made = new Map<string, Definition>();

  constructor(private readonly fresh: () => string) {}

  get empty(): boolean {
    return this.made.size === 0;
  }

  /** The handles of the definition of a picture, and of what tells it of the entity `of`. */
  note(image: Image, of: string): { definition: string; reactor: string } {
    const file = image.file!;
    let found = this.made.get(file);
    if (!found) this.made.set(file, (found = { handle: this.fresh(), image, reactors: [] }));
    const reactor = this.fresh();
    found.reactors.push({ handle: reactor, of });
    return { definition: found.handle, reactor };
  }

  handles(): string[] {
    return [...this.made.values()].flatMap((d) => [d.handle, ...d.reactors.map((r) => r.handle)]);
  }

  /** Entries of the dictionary: a name for each, and its handle. `taken`: names that are there already. */
  entries(taken: readonly string[]): [string, string][] {
    const used = new Set(taken.map((t) => t.toLowerCase()));
    return [...this.made].map(([file, { handle }]) => {
      const plain = file.replace(/^.*[\\/]/, '').replace(/\.\w+$/, '');
      let name = plain;
      for (let n = 2; used.has(name.toLowerCase()); n++) name = `${plain} ${n}`;
      used.add(name.toLowerCase());
      return [name, handle];
    });
  }

  /** Writes IMAGEDEF and IMAGEDEF_REACTOR (DXF reference): the path as it is, the size in pixels, that of a pixel in drawing units. */
  write(out: TagSink, dictionary: string): void {
    for (const { handle, image, reactors } of this.made.values()) {
      out.string(0, 'IMAGEDEF');
      out.string(5, handle);
      out.string(330, dictionary);
      out.string(100, 'AcDbRasterImageDef');
      out.integer(90, 0);
      out.string(1, image.file!);
      out.point2(10, image.pixels[0], image.pixels[1]);
      out.point2(11, length(image.u), length(image.v));
      out.integer(280, 1);
      out.integer(281, 0);
      for (const r of reactors) {
        out.string(0, 'IMAGEDEF_REACTOR');
        out.string(5, r.handle);
        out.string(330, r.of);
        out.string(100, 'AcDbRasterImageDefReactor');
        out.integer(90, 2);
        out.string(330, r.of);
      }
    }
  }
}
