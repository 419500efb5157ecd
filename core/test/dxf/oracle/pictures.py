"""Says what pictures a DXF places, and what is wrong with the file."""

import json
import sys

import ezdxf

doc = ezdxf.readfile(sys.argv[1])
pictures = [
    {
        "file": i.image_def.dxf.filename,
        "at": list(i.dxf.insert)[:2],
        "u": list(i.dxf.u_pixel)[:2],
        "v": list(i.dxf.v_pixel)[:2],
        "pixels": list(i.dxf.image_size)[:2],
        "layer": i.dxf.layer,
    }
    for i in doc.modelspace().query("IMAGE")
]
audit = doc.audit()
print(json.dumps({"pictures": pictures, "wrong": [e.message for e in audit.errors + audit.fixes]}))
