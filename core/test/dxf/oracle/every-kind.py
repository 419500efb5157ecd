"""Makes core/test/files/every-kind.dxf (and its R12 sister): one of each kind with nothing left at its default."""
import sys, ezdxf
from ezdxf import units
from ezdxf.math import Vec3
from ezdxf.entities import xdata
from ezdxf.render import mleader
doc = ezdxf.new('R2018', setup=True); doc.units = units.MM
msp = doc.modelspace()
doc.header['$LTSCALE'] = 2.5; doc.header['$PDMODE'] = 35; doc.header['$PDSIZE'] = 1.5; doc.header['$ATTMODE'] = 2; doc.header['$MIRRTEXT'] = 1
doc.layers.add('FRAME', color=3, linetype='DASHED', lineweight=35)
doc.layers.add('GLASS', color=5); doc.layers.get('GLASS').off(); doc.layers.get('GLASS').lock()
doc.layers.add('PLOTLESS').dxf.plot = 0
doc.styles.new('Tall', dxfattribs={'font': 'OpenSans-Regular.ttf', 'width': 0.8, 'oblique': 12, 'height': 3, 'flags': 4, 'generation_flags': 2})
L = dict(layer='FRAME', color=1, linetype='CENTER', ltscale=1.5, lineweight=50, transparency=0x02000080)
def a(**k): d = dict(L); d.update(k); return d
N = (0, 0.6, 0.8)
msp.add_line((1, 2, 3), (4, 5, 6), dxfattribs=a(thickness=2, extrusion=N))
msp.add_point((1, 2, 3), dxfattribs=a(thickness=2, extrusion=N, angle=30))
msp.add_circle((10, 2, 1), 4, dxfattribs=a(thickness=1, extrusion=N, true_color=0x102030))
msp.add_arc((10, 2, 1), 4, 30, 120, dxfattribs=a(thickness=1, extrusion=N))
msp.add_ellipse((5, 6, 7), (8, 1, 0), 0.4, 0.3, 2.5, dxfattribs=a(extrusion=(0, 0, -1)))
p = msp.add_lwpolyline([(0, 0, .5, .7, .2), (10, 0, .1, .2, 0), (10, 8, 0, 0, -.4)], dxfattribs=a(elevation=3, thickness=2, extrusion=N, flags=128), close=True)
msp.add_lwpolyline([(0, 0), (4, 0), (4, 4)], dxfattribs=a(const_width=.6))
q = msp.add_polyline2d([(0, 0), (10, 0), (10, 8)], dxfattribs=a(elevation=(0, 0, 3), thickness=2, default_start_width=.3, default_end_width=.4)); q.vertices[1].dxf.bulge = .4; q.vertices[1].dxf.start_width = .7; q.vertices[1].dxf.end_width = .8
msp.add_polyline3d([(0, 0, 1), (10, 0, 2), (10, 8, 3)], dxfattribs=a())
m = msp.add_polymesh((3, 2), dxfattribs=a())
for i in range(3):
    for j in range(2): m.set_mesh_vertex((i, j), (i * 2, j * 3, i + j))
f = msp.add_polyface(dxfattribs=a()); f.append_faces([[(0, 0, 0), (4, 0, 0), (4, 4, 1), (0, 4, 0)], [(0, 0, 0), (4, 0, 0), (2, 2, 5)]])
for n, v in enumerate([v for v in f.vertices if v.is_face_record]): v.dxf.color = 2 + n; v.dxf.layer = 'GLASS'; v.dxf.vtx1 = -v.dxf.vtx1
s = msp.add_spline([(0, 0, 0), (3, 4, 1), (6, 0, 2)], degree=3, dxfattribs=a()); s.set_open_uniform([(0, 0, 0), (2, 5, 1), (5, 5, 1), (7, 0, 2), (9, 1, 0)]); s.dxf.start_tangent = (1, 0, 0); s.dxf.end_tangent = (0, 1, 0); s.weights = [1, 2, 1, 3, 1]; s.dxf.knot_tolerance = 1e-6; s.dxf.control_point_tolerance = 2e-6; s.dxf.fit_tolerance = 3e-6
msp.add_ray((1, 2, 3), (.6, .8, 0), dxfattribs=a()); msp.add_xline((1, 2, 3), (0, .6, .8), dxfattribs=a())
t = msp.add_text('Pilaster', height=2.5, rotation=30, dxfattribs=a(style='Tall', width=.9, oblique=15, text_generation_flag=4, thickness=1, extrusion=(0, 0, -1))); t.set_placement((3, 4, 5), align=ezdxf.enums.TextEntityAlignment.MIDDLE_CENTER)
msp.add_text('Fit', height=2, dxfattribs=a()).set_placement((3, 4), (9, 5), align=ezdxf.enums.TextEntityAlignment.FIT)
mt = msp.add_mtext('One\\Ptwo {\\H2x;three}', dxfattribs=a(char_height=2, width=30, style='Tall', attachment_point=5, rotation=20, line_spacing_factor=1.2, line_spacing_style=2, flow_direction=3)); mt.set_location((5, 6, 1)); mt.set_bg_color(3, 1.4)
b = doc.blocks.new('Window', base_point=(1, 2, 0)); b.add_line((0, 0), (5, 5), dxfattribs={'color': 0, 'linetype': 'BYBLOCK', 'lineweight': -2}); b.block.dxf.description = 'A window'
b.add_attdef('NUMBER', (1, 1), '7', dxfattribs=a(height=1.5, prompt='Which?', flags=2 | 8, field_length=3, lock_position=1, halign=1, align_point=(2, 1)))
bi = msp.add_blockref('Window', (20, 30, 2), dxfattribs=a(xscale=2, yscale=3, zscale=1.5, rotation=15, row_count=2, column_count=3, row_spacing=40, column_spacing=50, extrusion=(0, 0, -1)))
at = bi.add_attrib('NUMBER', '12', (21, 31), dxfattribs=a(height=1.5, flags=4 | 1, rotation=10))
h = msp.add_hatch(dxfattribs=a(elevation=(0, 0, 2), extrusion=(0, 0, -1))); h.set_pattern_fill('ANSI31', color=4, angle=15, scale=2, style=1, pattern_type=0); h.dxf.pattern_double = 1
h.paths.add_polyline_path([(0, 0, .3), (10, 0), (10, 8)], is_closed=True, flags=1 | 16); e = h.paths.add_edge_path(flags=0); e.add_line((1, 1), (3, 1)); e.add_arc((3, 2), 1, -90, 90); e.add_ellipse((2, 3), (1, 0), .5, 0, 180); e.add_spline([(1, 3), (0, 2), (1, 1)], degree=2, control_points=[(1, 3), (0, 2), (1, 1)], knot_values=[0, 0, 0, 1, 1, 1]); h.seeds = [(2, 2), (4, 3)]; h.dxf.n_seed_points = 2
g = msp.add_hatch(dxfattribs=a()); g.set_gradient((10, 20, 30), (200, 100, 50), rotation=30, centered=.5, one_color=0, tint=.3, name='CURVED'); g.paths.add_polyline_path([(0, 0), (10, 0), (10, 8)], is_closed=True)
h2 = msp.add_hatch(color=2, dxfattribs=a(color=2)); h2.paths.add_polyline_path([(0, 0), (10, 0), (10, 8)], is_closed=True)
msp.add_solid([(0, 0), (4, 0), (0, 3), (4, 4)], dxfattribs=a(thickness=1, extrusion=(0, 0, -1))); msp.add_trace([(0, 0), (4, 0), (0, 3), (4, 4)], dxfattribs=a(thickness=1)); msp.add_3dface([(0, 0, 1), (4, 0, 2), (4, 4, 3), (0, 3, 1)], dxfattribs=a()).set_edge_visibility(1, False)
ov = {'dimtxt': 4, 'dimclrt': 2, 'dimblk': 'OBLIQUE'}
for d in (msp.add_linear_dim((5, 5), (0, 0), (10, 2), angle=10, text='<> mm', dxfattribs=a(oblique_angle=75, text_rotation=5), override=ov), msp.add_aligned_dim((0, 0), (10, 2), 3, override=ov), msp.add_radius_dim((0, 0), radius=5, angle=30), msp.add_diameter_dim((0, 0), radius=5, angle=30), msp.add_angular_dim_3p((9, 9), (0, 0), (5, 0), (0, 5)), msp.add_angular_dim_2l((9, 9), ((0, 0), (5, 0)), ((0, 0), (0, 5))), msp.add_ordinate_x_dim((3, 4), (1, 8))): d.render()
msp.add_arc_dim_3p((0, 8), (0, 0), (5, 0), (0, 5)).render()
msp.add_leader([(0, 0, 0), (5, 5, 0), (9, 5, 0)], dimstyle='EZDXF', override={'dimasz': 3}, dxfattribs=a(path_type=1, has_hookline=1, annotation_type=0, hookline_direction=1))
idf = doc.add_image_def('sketch.png', (640, 480)); im = msp.add_image(idf, (1, 2, 3), (64, 48), rotation=15, dxfattribs=a(brightness=40, contrast=60, fade=10, flags=7)); im.set_boundary_path([(0, 0), (300, 0), (300, 200)])
msp.add_wipeout([(0, 0), (10, 0), (10, 8), (4, 9)], dxfattribs=a())
ml = msp.add_mline([(0, 0), (10, 0), (10, 8)], close=True, dxfattribs=a(scale_factor=2, justification=1))
mm = msp.add_multileader_mtext('Standard'); mm.set_content('note', color=3); mm.add_leader_line(mleader.ConnectionSide.left, [ezdxf.math.Vec2(-10, -5)]); mm.build(insert=ezdxf.math.Vec2(5, 5))
psp = doc.layout('Layout1'); psp.page_setup(size=(420, 297), margins=(10, 11, 12, 13)); v = psp.add_viewport((100, 100), (150, 120), (5, 5), 40, dxfattribs=dict(layer='FRAME', view_twist_angle=10, flags=32800 | 16384, ucs_icon=1)); v.frozen_layers = ['GLASS']; psp.add_line((0, 0), (20, 20), dxfattribs=a())
doc.layouts.new('Sheet B').add_circle((5, 5), 2)
w = msp.add_line((50, 50), (60, 60), dxfattribs=a(invisible=1)); w.set_xdata('KESTREL', [(1000, 'bay 3'), (1040, 2.5)]) if doc.appids.add('KESTREL') else None
doc.groups.new('Bay').extend([msp[0], msp[1]])
msp.set_redraw_order([(msp[0].dxf.handle, 'FFFF'), (msp[1].dxf.handle, '1')])
for layout in doc.layouts:
    layout.dxf.plot_configuration_file = 'none'
doc.saveas(sys.argv[1])
