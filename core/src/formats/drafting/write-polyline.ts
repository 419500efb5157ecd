import type { Appearance } from '../../drawing/appearance.js';
import type { Entity, Mesh, Polyline } from '../../drawing/entity.js';
import type { EntityTags } from './entity-tags.js';

/** One VERTEX; `marks` are its subclasses. */
function vertex(
  w: EntityTags,
  e: Entity,
  owner: string,
  marks: readonly string[],
  body: () => void,
  own: { layer: string; look: Appearance } | null = null,
): void {
  const { out, handles, r12, layers, paper } = w.x;
  out.string(0, 'VERTEX');
  out.string(5, handles.fresh());
  if (!r12) {
    out.string(330, owner);
    out.string(100, 'AcDbEntity');
  }
  if (paper) out.integer(67, 1);
  out.string(8, layers.nameFor(own?.layer ?? e.layer));
  if (own) w.lookOf(own.look, e.id);
  if (!r12) for (const m of marks) out.string(100, m);
  body();
}

export function sequenceEnd(w: EntityTags, e: Entity, owner: string): void {
  const { out, handles, r12, layers, paper } = w.x;
  out.string(0, 'SEQEND');
  out.string(5, handles.fresh());
  if (!r12) {
    out.string(330, owner);
    out.string(100, 'AcDbEntity');
  }
  if (paper) out.integer(67, 1);
  out.string(8, layers.nameFor(e.layer));
}

/** POLYLINE with vertices: in space, or in the plane for versions without LWPOLYLINE. */
export function heavyPolyline(w: EntityTags, e: Polyline, owner: string): void {
  const { out } = w.x;
  const flat = e.dim === 2;
  const handle = w.begin('POLYLINE', e, owner, flat ? 'AcDb2dPolyline' : 'AcDb3dPolyline');
  out.integer(66, 1);
  out.point(10, [0, 0, flat ? e.elevation : 0]);
  w.thickness(e);
  out.integer(70, (flat ? 0 : 8) | (e.closed ? 1 : 0) | (e.dashThrough ? 128 : 0));
  w.normal(e);
  w.end(e);
  const n = e.points.length / e.dim;
  const marks = ['AcDbVertex', flat ? 'AcDb2dVertex' : 'AcDb3dPolylineVertex'];
  for (let i = 0; i < n; i++) {
    vertex(w, e, handle, marks, () => {
      const z = flat ? e.elevation : e.points[3 * i + 2];
      out.point(10, [e.points[e.dim * i]!, e.points[e.dim * i + 1]!, z!]);
      if (e.widths && (e.widths[2 * i] !== 0 || e.widths[2 * i + 1] !== 0)) {
        out.number(40, e.widths[2 * i]!);
        out.number(41, e.widths[2 * i + 1]!);
      }
      if (e.bulges && e.bulges[i] !== 0) out.number(42, e.bulges[i]!);
      out.integer(70, flat ? 0 : 32);
    });
  }
  sequenceEnd(w, e, handle);
}

/** A net as a polygon mesh, other meshes as a polyface mesh; faces of more than four corners are cut into fans. */
export function writeMesh(w: EntityTags, e: Mesh, owner: string): void {
  const { out } = w.x;
  const corners = e.points.length / 3;
  const faces = e.grid ? [] : facesOfFour(e.faces);
  const name = e.grid ? 'AcDbPolygonMesh' : 'AcDbPolyFaceMesh';
  const handle = w.begin('POLYLINE', e, owner, name);
  out.integer(66, 1);
  out.point(10, [0, 0, 0]);
  if (e.grid) {
    const { m, n, closedM, closedN } = e.grid;
    out.integer(70, 16 | (closedM ? 1 : 0) | (closedN ? 32 : 0));
    out.integer(71, m);
    out.integer(72, n);
  } else {
    out.integer(70, 64);
    out.integer(71, corners);
    out.integer(72, faces.length);
  }
  w.end(e);
  const marks = ['AcDbVertex', e.grid ? 'AcDbPolygonMeshVertex' : 'AcDbPolyFaceMeshVertex'];
  for (let i = 0; i < corners; i++) {
    vertex(w, e, handle, marks, () => {
      out.point(10, [e.points[3 * i]!, e.points[3 * i + 1]!, e.points[3 * i + 2]!]);
      out.integer(70, e.grid ? 64 : 64 | 128);
    });
  }
  for (const { corners, face } of faces) {
    vertex(
      w,
      e,
      handle,
      ['AcDbFaceRecord'],
      () => {
        out.point(10, [0, 0, 0]);
        out.integer(70, 128);
        // Corners count from 1; a minus hides the edge that starts there.
        corners.forEach((c, k) => out.integer(71 + k, c < 0 ? c : c + 1));
      },
      e.faceLooks?.[face],
    );
  }
  sequenceEnd(w, e, handle);
}

/** Faces of at most four corners, with the number of the face each comes from: larger ones become a fan of triangles with their inner edges hidden. */
function facesOfFour(faces: Int32Array): { corners: number[]; face: number }[] {
  const out: { corners: number[]; face: number }[] = [];
  for (let at = 0, count = 0; at < faces.length; at += faces[at]! + 1, count++) {
    const face = Array.from(faces.subarray(at + 1, at + 1 + faces[at]!));
    if (face.length <= 4) {
      out.push({ corners: face, face: count });
      continue;
    }
    const index = (c: number): number => (c < 0 ? -1 - c : c);
    const hide = (c: number): number => -1 - index(c);
    const n = face.length;
    for (let k = 1; k + 1 < n; k++) {
      const corners = [k === 1 ? face[0]! : hide(face[0]!), face[k]!, k + 2 < n ? hide(face[k + 1]!) : face[k + 1]!];
      out.push({ corners, face: count });
    }
  }
  return out;
}
