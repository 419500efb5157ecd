"""The curves that the independent library sees in files, as chords in the world's plane: one list for each entity of model space.
Letters are left out (its fonts are its own), but where they start is there. Prints JSON, a list for each file."""
import json, sys
import ezdxf
from ezdxf import path as paths
from ezdxf.entities.boundary_paths import LineEdge
from ezdxf.math import Vec2
from ezdxf.disassemble import recursive_decompose, to_primitives

LETTERS = {'TEXT', 'MTEXT', 'ATTRIB', 'ATTDEF'}


def chords(points):
    return [[round(p.x, 9), round(p.y, 9)] for p in points]


def flattened(outline):
    box = [v for v in outline.control_vertices()]
    size = max((max(v.x for v in box) - min(v.x for v in box)), (max(v.y for v in box) - min(v.y for v in box)), 1e-9)
    return chords(outline.flattening(size * 5e-5, 4))


def along(spline):
    """Points on a spline itself: as a path the library draws it by cubics that cut its corners."""
    knots = sorted(set(spline.knots()))
    knots = [k for k in knots if knots[0] <= k <= spline.max_t]
    return list(spline.points([a + (b - a) * i / 120 for a, b in zip(knots, knots[1:]) for i in range(120)] + [spline.max_t]))


def straightened(hatch):
    """The hatch with chords for its splines."""
    for boundary in hatch.paths:
        edges = getattr(boundary, 'edges', None)
        if not edges:
            continue
        out = []
        for edge in edges:
            if edge.EDGE_TYPE != 'SplineEdge':
                out.append(edge)
                continue
            points = along(edge.construction_tool())
            for a, b in zip(points, points[1:]):
                line = LineEdge()
                line.start, line.end = Vec2(a), Vec2(b)
                out.append(line)
        boundary.edges = out
    return hatch


def curves(e):
    out = []
    for part in recursive_decompose([e]):
        kind = part.dxftype()
        if kind in LETTERS or kind == 'VIEWPORT':
            continue
        if kind in ('HATCH', 'MPOLYGON'):
            out += [flattened(p) for p in paths.from_hatch(straightened(part)) if len(p)]
            continue
        if kind in ('RAY', 'XLINE'):
            continue
        if kind == 'SPLINE' and len(part.control_points):
            out.append(chords(along(part.construction_tool())))
            continue
        if kind == 'POINT':
            out.append(chords([part.dxf.location]))
            continue
        if kind in ('3DFACE', 'LWPOLYLINE') or (kind == 'POLYLINE' and not (part.is_polygon_mesh or part.is_poly_face_mesh)):
            # By their middle line: widths are not what is asked.
            out += [flattened(p) for p in [paths.make_path(part)] if len(p)]
            continue
        for primitive in to_primitives([part]):
            if primitive.path is not None:
                out += [flattened(p) for p in primitive.path.sub_paths() if len(p)]
            elif primitive.mesh is not None:
                m = primitive.mesh
                out += [chords([m.vertices[i] for i in [*f, f[0]]]) for f in m.faces]
            else:
                out += [chords(list(primitive.vertices()))]
    return [c for c in out if c]


def letters(e):
    kind = e.dxftype()
    if kind == 'MTEXT':
        at = e.dxf.insert
    elif kind == 'TEXT':
        at = e.ocs().to_wcs(e.dxf.insert)
    else:
        return None
    return [round(at.x, 9), round(at.y, 9)]


def see(name):
    doc = ezdxf.readfile(name)
    out = []
    for e in doc.modelspace():
        # Of a 3DFACE the library calls its hidden edges so.
        invisible = e.dxftype() != '3DFACE' and e.dxf.get('invisible', 0)
        out.append({'handle': e.dxf.handle, 'kind': e.dxftype(), 'block': e.dxf.get('name') if e.dxftype() == 'INSERT' else None, 'curves': [] if invisible else curves(e), 'letters': letters(e)})
    return out


print(json.dumps([see(name) for name in sys.argv[1:]]))
