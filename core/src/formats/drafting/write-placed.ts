import { derive } from '../../drawing/derive.js';
import { imageFrame } from '../../drawing/curves.js';
import type { Image, Viewport } from '../../drawing/entity.js';
import { because } from '../../drawing/reasons.js';
import type { EntityTags } from './entity-tags.js';
import { hasPictureFile } from './picture-definitions.js';
import { knowsKind } from './versions.js';
import { degreesOf } from './numbers.js';

/**
 * IMAGE or WIPEOUT. A picture without a definition in the source gets one that names its file; one that has no file of its own, and
 * any before release 14, is its frame.
 */
export function writeImage(w: EntityTags, e: Image, owner: string): void {
  const { x } = w;
  const { out } = x;
  const defined = x.sameFormat && (e.cover || /(^|\n)340\n/.test(e.rest ?? ''));
  const named = !defined && !x.r12 && hasPictureFile(e) && knowsKind(x.version, 'IMAGE');
  if (!named && (x.r12 || !x.sameFormat)) {
    x.ledger.add({
      carryOver: 'links',
      action: 'dropped',
      reason: e.cover ? 'cover-as-outline' : 'picture-as-frame',
      onPurpose: true,
      becomes: { from: 'image', to: 'polyline', gone: 1, entities: 1 },
      id: e.id,
    });
    const points = Float64Array.from(imageFrame(e).flat());
    return w.write(
      derive(e, 'piece', { kind: 'polyline', points, dim: 3, elevation: 0, closed: true, normal: undefined }),
      owner,
    );
  }
  const mark = e.cover ? 'AcDbWipeout' : 'AcDbRasterImage';
  const handle = w.begin(e.cover ? 'WIPEOUT' : 'IMAGE', e, owner, mark);
  const definition = named ? x.pictures.note(e, handle) : null;
  if (definition) {
    out.integer(90, 0);
    x.ledger.add({
      carryOver: 'links',
      action: 'kept',
      reason: because('picture-named', { name: e.file! }),
      id: e.id,
    });
  }
  out.point(10, e.at);
  out.point(11, e.u);
  out.point(12, e.v);
  out.point2(13, e.pixels[0], e.pixels[1]);
  if (definition) out.string(340, definition.definition);
  const has = (code: number): boolean => e.rest?.includes(`\n${code}\n`) ?? false;
  // Shown, also when not square to the screen, with its clip; the rest says so where the source did.
  if (!has(70)) out.integer(70, 7);
  if (definition) {
    // Not clipped, as bright and as full of contrast as it is, not faded.
    for (const [code, value] of [
      [280, e.clip ? 1 : 0],
      [281, 50],
      [282, 50],
      [283, 0],
    ] as const)
      out.integer(code, value);
    out.string(360, definition.reactor);
  }
  const clip = e.clip ?? Float64Array.of(-0.5, -0.5, e.pixels[0] - 0.5, e.pixels[1] - 0.5);
  out.integer(71, clip.length === 4 ? 1 : 2);
  out.integer(91, clip.length / 2);
  for (let i = 0; i + 1 < clip.length; i += 2) out.point2(14, clip[i]!, clip[i + 1]!);
  w.end(e);
}

export function writeViewport(w: EntityTags, e: Viewport, owner: string): void {
  const { x } = w;
  const { out } = x;
  w.begin('VIEWPORT', e, owner, 'AcDbViewport');
  out.point(10, e.at);
  out.number(40, e.width);
  out.number(41, e.height);
  out.integer(68, e.on ? (e.stacking ?? e.number) : 0);
  out.integer(69, e.number);
  if (x.oneSheet) {
    w.end(e, false);
    return release12View(w, e);
  }
  out.point2(12, e.centre[0], e.centre[1]);
  out.point(16, e.direction);
  out.point(17, e.target);
  out.number(45, e.viewHeight);
  out.angle(51, e.twist);
  for (const name of e.frozen) {
    const handle = x.layerHandle(name);
    if (handle) out.string(331, handle);
  }
  w.end(e);
}

/** The view as release 12 has it, in extended data. */
function release12View(w: EntityTags, e: Viewport): void {
  const { out, layers, layerHandle } = w.x;
  out.string(1001, 'ACAD');
  out.string(1000, 'MVIEW');
  out.string(1002, '{');
  out.integer(1070, 16);
  out.point(1010, e.target);
  out.point(1010, e.direction);
  for (const v of [degreesOf(e.twist), e.viewHeight, ...e.centre, 50, 0, 0]) out.number(1040, v);
  // View mode, circle zoom, fast zoom, icon, snap, grid, snap style and isometric pair.
  for (const v of [0, 100, 1, 0, 0, 0, 0, 0]) out.integer(1070, v);
  for (const v of [0, 0, 0, 1, 1, 1, 1]) out.number(1040, v);
  out.integer(1070, 0);
  out.string(1002, '{');
  for (const name of e.frozen) if (layerHandle(name)) out.string(1003, layers.nameFor(name));
  out.string(1002, '}');
  out.string(1002, '}');
}
