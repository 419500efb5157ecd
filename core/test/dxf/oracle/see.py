"""What the independent library sees in files: audit, kinds, layers, text, layouts and the box of each object. Prints JSON."""
import json, sys
import ezdxf
from ezdxf import path as paths
from ezdxf.math import BoundingBox

BOXES = '--boxes' in sys.argv

# Kinds whose whole outline the library can give as a path.
PATHS = {'LINE', 'CIRCLE', 'ARC', 'ELLIPSE', 'SPLINE', 'HELIX', 'LWPOLYLINE', 'POLYLINE', 'SOLID', 'TRACE', '3DFACE',
         'IMAGE', 'WIPEOUT'}


def box_of(e):
    kind = e.dxftype()
    if kind in ('HATCH', 'MPOLYGON'):
        box = BoundingBox()
        for outline in paths.from_hatch(e):
            size = max(BoundingBox(outline.control_vertices()).size.magnitude, 1e-9)
            box.extend(outline.flattening(size * 1e-7, 16))
        return [kind, box.extmin.x, box.extmin.y, box.extmax.x, box.extmax.y]
    if kind not in PATHS or (kind == 'POLYLINE' and e.get_mode() not in ('AcDb2dPolyline', 'AcDb3dPolyline')):
        return None
    outline = paths.make_path(e)
    size = max(BoundingBox(outline.control_vertices()).size.magnitude, 1e-9)
    b = BoundingBox(outline.flattening(size * 1e-7, 16))
    return [kind, b.extmin.x, b.extmin.y, b.extmax.x, b.extmax.y]


def see(name):
    doc = ezdxf.readfile(name)
    audit = doc.audit()
    msp = doc.modelspace()
    kinds, boxes = {}, {}
    for e in msp:
        kind = e.dxftype()
        kinds[kind] = kinds.get(kind, 0) + 1
        box = box_of(e) if BOXES else None
        if box:
            boxes[e.dxf.handle] = box
    # The library deletes sequence ends that it made up itself for release 12; its own files show the same.
    fixes = [f.message for f in audit.fixes if not (doc.dxfversion == 'AC1009' and 'SEQEND' in f.message)]
    return {
        'errors': [e.message for e in audit.errors], 'fixes': fixes, 'kinds': kinds,
        'layers': sorted(l.dxf.name for l in doc.layers), 'units': doc.header.get('$INSUNITS', 0),
        'texts': sorted(e.plain_text() for e in msp.query('TEXT')), 'layouts': list(doc.layout_names()), 'boxes': boxes,
    }


print(json.dumps([see(name) for name in sys.argv[1:] if not name.startswith('--')]))
