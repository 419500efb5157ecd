"""Writes a DXF with multileaders of both kinds, a reference to a page of a PDF and a helix."""

import sys

import ezdxf
from ezdxf.math import Vec2
from ezdxf.render import mleader

doc = ezdxf.new("R2010", setup=True)
msp = doc.modelspace()
text = msp.add_multileader_mtext("Standard")
text.set_content("Kestrel Row\\Pglazing bar", color=3)
text.add_leader_line(mleader.ConnectionSide.left, [Vec2(-20, -15), Vec2(-30, -5)])
text.add_leader_line(mleader.ConnectionSide.right, [Vec2(40, -15)])
text.build(insert=Vec2(5, 0))
doc.blocks.new("TAG").add_circle((0, 0), 2)
tag = msp.add_multileader_block("Standard")
tag.set_content(name="TAG", scale=2.0)
tag.add_leader_line(mleader.ConnectionSide.left, [Vec2(-20, 15)])
tag.build(insert=Vec2(5, 30), rotation=30)
page = doc.add_underlay_def("panel.pdf", fmt="pdf", name="1")
placed = msp.add_underlay(page, insert=(100, 50, 0), scale=(2, 2, 2), rotation=15)
placed.set_boundary_path([(0, 0), (10, 0), (10, 5), (0, 5)])
msp.add_helix(radius=3, pitch=1, turns=4)
doc.saveas(sys.argv[1])
