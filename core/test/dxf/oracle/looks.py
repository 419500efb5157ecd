"""What the independent library sees of text styles, wide polylines and gradients in a file. Prints JSON."""
import json, sys
import ezdxf

doc = ezdxf.readfile(sys.argv[1])
faces = {}
for style in doc.styles:
    # The number itself: what the library calls bold and slanted is the other way round than in its own notes of real files.
    data = style.get_xdata('ACAD') if style.has_xdata('ACAD') else []
    faces[style.dxf.name] = [v for c, v in data if c in (1000, 1071)]
print(json.dumps({
    'faces': faces,
    'texts': sorted([t.dxf.text, t.dxf.style] for t in doc.modelspace().query('TEXT')),
    'widths': [p.dxf.get('const_width', 0) for p in doc.modelspace().query('LWPOLYLINE')],
    'gradients': [[h.gradient.name, list(h.gradient.color1), list(h.gradient.color2), h.gradient.rotation]
                  for h in doc.modelspace().query('HATCH') if h.has_gradient_data],
    'errors': len(doc.audit().errors),
}))
