import { addressAsStored } from '../formats/picture/as-stored.js';
import { DRAFTING_DEFAULT } from '../drawing/appearance.js';
import type { Drawing } from '../drawing/drawing.js';
import { withLayer } from '../drawing/drawing.js';
import type { Image } from '../drawing/entity.js';
import type { Ledger } from '../drawing/ledger.js';
import type { Lineage, Stage } from '../drawing/lineage.js';
import { because } from '../drawing/reasons.js';
import type { Affine } from '../geometry/affine.js';
import { IDENTITY, applyPoint, applyVector, compose } from '../geometry/affine.js';
import { foundAmong } from '../analysis/named-files.js';
import type { UnderDecision } from './decisions.js';
import { TURNED_OVER } from './intake.js';
import type { GivenPicture } from './pictures.js';

/** The layer that a picture comes to lie on when it is delivered. */
export const UNDER_LAYER = 'Picture';

/** From the coordinates of the file, y upwards, to those of the drawing as it was prepared: all that moved it as a whole. */
export function mapOfStages(source: Pick<Drawing, 'yDown'>, stages: readonly Stage[]): Affine {
  const whole = stages.reduce((m, s) => compose(s.map, m), IDENTITY);
  return source.yDown ? compose(whole, TURNED_OVER) : whole;
}

/** The picture as an image of the drawing, in its place. `data`: itself, where it is at hand. */
export function underImage(under: UnderDecision, map: Affine, data: string | undefined, id: number): Image {
  const { at, right, up, width, height } = under;
  const along = (to: { x: number; y: number }, n: number) =>
    applyVector(map, [(to.x - at.x) / n, (to.y - at.y) / n, 0]);
  return {
    kind: 'image',
    id,
    layer: UNDER_LAYER,
    look: DRAFTING_DEFAULT,
    cover: false,
    at: applyPoint(map, [at.x, at.y, 0]),
    u: along(right, width),
    v: along(up, height),
    pixels: [width, height],
    file: under.picture,
    ...(data !== undefined && { data }),
  };
}

/** A picture of the job by its name, capitals aside. */
export const underData = (under: UnderDecision, given: readonly GivenPicture[]): string | undefined =>
  stored(foundAmong({ kind: 'picture', path: under.picture, name: under.picture, places: 1 }, given)?.data);
const stored = (data: string | undefined): string | undefined => data && addressAsStored(data);

/** The drawing with the picture under all else of it, as it was asked to be delivered. It is cut and changed by nothing. */
export function withUnder(
  drawing: Drawing,
  under: UnderDecision,
  map: Affine,
  given: readonly GivenPicture[],
  ledger: Ledger,
  lineage: Lineage,
): Drawing {
  const image = underImage(under, map, underData(under, given), drawing.nextId);
  ledger.add({
    carryOver: 'links',
    action: 'changed',
    onPurpose: true,
    reason: because('picture-put-under', { name: under.picture }),
    id: image.id,
  });
  return putImage(drawing, image, lineage);
}

/** The drawing with an image of that layer under all else. */
export function putImage(drawing: Drawing, image: Image, lineage: Lineage): Drawing {
  lineage.add([image], 'picture-put-under');
  return {
    ...withLayer(drawing, UNDER_LAYER),
    entities: [image, ...drawing.entities],
    nextId: drawing.nextId + 1,
  };
}
