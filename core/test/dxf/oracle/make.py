"""Makes drawings with every entity that the independent library can make, one file per version. Usage: make.py FOLDER"""
import sys, json, os
import ezdxf
from ezdxf import units
from ezdxf.render import mleader
from ezdxf.math import Vec2, Vec3

FOLDER = sys.argv[1]
VERSIONS = ['R12', 'R2000', 'R2004', 'R2007', 'R2010', 'R2013', 'R2018']


def make(version):
    doc = ezdxf.new(version, setup=True)
    new = version != 'R12'
    doc.header['$INSUNITS'] = units.MM
    doc.header['$LTSCALE'] = 2.5
    layers = doc.layers
    layers.add('WALL', color=3)
    layers.add('HIDDEN', color=1, linetype='DASHED')
    if new:
        layers.get('WALL').dxf.lineweight = 50
        layers.get('HIDDEN').dxf.plot = 0
    layers.get('HIDDEN').freeze()
    layers.add('VIEWPORTS')
    layers.add('OFF', color=5).off()
    layers.add('Bemaßung' if new else 'MASSE', color=2).lock()
    msp = doc.modelspace()
    a = {'layer': 'WALL'}
    msp.add_line((0, 0), (100, 50, 7), dxfattribs={**a, 'color': 1, 'linetype': 'DASHED', 'thickness': 2})
    msp.add_point((5, 5, 5), dxfattribs=a)
    msp.add_circle((10, 10), 4, dxfattribs={'layer': 'HIDDEN'})
    msp.add_arc((20, 10), 5, 30, 200, dxfattribs={**a, 'extrusion': (0, 0, -1)})
    msp.add_text('Height ±0.00 Ø20 90°' if new else 'Height %%p0.00', dxfattribs={**a, 'height': 3}).set_pos((0, 60), align='LEFT')
    msp.add_text('CENTRED', dxfattribs={'height': 2, 'rotation': 30, 'width': 0.8, 'oblique': 10}).set_pos((40, 60), align='MIDDLE_CENTER')
    msp.add_text('FITTED', dxfattribs={'height': 2}).set_pos((0, 70), (30, 72), align='FIT')
    msp.add_solid([(0, 80), (10, 80), (0, 90), (10, 95)], dxfattribs={'color': 4})
    msp.add_trace([(20, 80), (30, 80), (20, 90), (30, 90)])
    msp.add_3dface([(40, 80, 0), (50, 80, 1), (50, 90, 2), (40, 90, 3)], dxfattribs={'invisible': 5})
    msp.add_polyline2d([(0, 100, 0, 0, 0.5), (10, 100, 0, 0, 0), (10, 110, 1, 2, -0.25)], format='xyseb', close=True)
    msp.add_polyline3d([(0, 120, 1), (10, 120, 2), (10, 130, 3)])
    mesh = msp.add_polymesh((3, 4))
    for i in range(3):
        for j in range(4):
            mesh.set_mesh_vertex((i, j), (60 + i * 5, 80 + j * 5, i * j))
    pf = msp.add_polyface()
    pf.append_faces([[(80, 80, 0), (90, 80, 0), (90, 90, 0), (80, 90, 0)], [(80, 80, 0), (90, 80, 0), (85, 85, 8)]])
    block = doc.blocks.new('BOLT', base_point=(1, 1))
    block.add_circle((1, 1), 2, dxfattribs={'layer': '0', 'color': 0})
    block.add_line((-1, 1), (3, 1), dxfattribs={'layer': '0'})
    block.add_attdef('NUMBER', (1, 4), dxfattribs={'height': 1, 'prompt': 'Number of the bolt?'})
    outer = doc.blocks.new('PLATE')
    outer.add_blockref('BOLT', (5, 5))
    outer.add_blockref('BOLT', (15, 5), dxfattribs={'xscale': -2, 'yscale': 1.5, 'zscale': 1, 'rotation': 15})
    msp.add_blockref('PLATE', (100, 0), dxfattribs={**a, 'rotation': 45})
    msp.add_blockref('BOLT', (0, 140), dxfattribs={'row_count': 2, 'column_count': 3, 'row_spacing': 10, 'column_spacing': 12})
    ref = msp.add_blockref('BOLT', (60, 140), dxfattribs=a)
    ref.add_attrib('NUMBER', 'B-17', (60, 145), dxfattribs={'height': 1.5})
    msp.add_linear_dim(base=(0, -10), p1=(0, 0), p2=(100, 0)).render()
    msp.add_linear_dim(base=(0, -20), p1=(0, 0), p2=(100, 50), text='typed 99', angle=0).render()
    msp.add_aligned_dim(p1=(0, 0), p2=(30, 40), distance=5).render()
    msp.add_radius_dim(center=(10, 10), radius=4, angle=45).render()
    msp.add_diameter_dim(center=(10, 10), radius=4, angle=135).render()
    msp.add_angular_dim_3p(base=(30, 30), center=(0, 0), p1=(20, 0), p2=(0, 20)).render()
    msp.add_angular_dim_2l(base=(25, 10), line1=((0, 0), (20, 0)), line2=((0, 0), (15, 15))).render()
    msp.add_ordinate_x_dim((40, 40), (0, 5)).render()
    if new:
        msp.add_ellipse((130, 20), (20, 5), 0.4, 0.5, 5)
        msp.add_ellipse((130, 60), (10, 0), 0.5)
        msp.add_lwpolyline([(0, 160, 0, 0, 0.5), (10, 160, 1, 2, 0), (10, 170, 0, 0, 0)], close=True, dxfattribs={'elevation': 4, 'flags': 129})
        msp.add_spline([(0, 180), (10, 185), (20, 175), (30, 180)])
        msp.add_open_spline([(40, 180), (50, 195, 4), (60, 165), (70, 180), (80, 190)], degree=3)
        msp.add_rational_spline([(90, 180), (100, 195), (110, 165), (120, 180)], weights=[1, 2, 0.5, 1], degree=3)
        msp.add_mtext('{\\fArial|b1;Bold} plain\\Psecond line \\S1/2; %%c20 and \\C1;red', dxfattribs={'char_height': 2.5, 'width': 60, 'attachment_point': 5, 'insert': (150, 150)})
        msp.add_mtext('long ' * 120, dxfattribs={'char_height': 1, 'width': 90, 'insert': (150, 120), 'rotation': 12})
        msp.add_ray((0, 0), (1, 1))
        msp.add_xline((0, 200), (1, 0))
        h = msp.add_hatch(color=3)
        h.paths.add_polyline_path([(0, 210), (30, 210), (30, 230), (0, 230)], is_closed=True, flags=1)
        h.paths.add_polyline_path([(10, 215, 1), (20, 215, 1)], is_closed=True, flags=16)
        p = msp.add_hatch(color=6)
        p.set_pattern_fill('ANSI33', scale=4, angle=20)
        e = p.paths.add_edge_path()
        e.add_line((50, 210), (80, 210))
        e.add_arc((80, 220), 10, -90, 90, ccw=True)
        e.add_line((80, 230), (50, 230))
        e.add_spline(control_points=[(50, 230), (45, 224), (55, 216), (50, 210)], knot_values=[0, 0, 0, 0, 1, 1, 1, 1], degree=3)
        el = msp.add_hatch(color=2)
        el.paths.add_edge_path().add_ellipse((110, 220), (12, 3), 0.5, 0, 360)
        if version >= 'R2004':
            g = msp.add_hatch()
            g.paths.add_polyline_path([(130, 210), (160, 210), (160, 230)], is_closed=True)
            g.set_gradient((10, 20, 200), (250, 240, 10), rotation=30, name='LINEAR')
            msp.add_line((0, 300), (10, 300), dxfattribs={'true_color': 0x336699, 'color': 5, 'lineweight': 35, 'ltscale': 0.5})
            t = msp.add_line((0, 301), (10, 301)); t.transparency = 0.5
        msp.add_leader([(0, 240), (10, 250), (20, 250)])
        image = doc.add_image_def('pictures/site.png', (640, 480))
        im = msp.add_image(image, (100, 240), (64, 48), rotation=10)
        msp.add_image(image, (200, 240), (64, 48)).set_boundary_path([(10, 10), (600, 20), (300, 400)])
        msp.add_wipeout([(180, 240), (190, 240), (185, 250)])
        msp.add_mline([(0, 260), (30, 260), (30, 280)], close=True)
        msp.add_helix(radius=5, pitch=2, turns=3)
        m = msp.add_mesh()
        with m.edit_data() as d:
            d.vertices = [(200, 0, 0), (210, 0, 0), (210, 10, 0), (200, 10, 0), (205, 5, 8)]
            d.faces = [(0, 1, 2, 3), (0, 1, 4), (1, 2, 4), (2, 3, 4), (3, 0, 4)]
        msp.add_arc_dim_3p(base=(60, 30), center=(40, 0), p1=(60, 0), p2=(40, 20)).render()
        doc.layouts.new('Sheet A')
        for name in ('Layout1', 'Sheet A'):
            sheet = doc.layout(name)
            sheet.page_setup(size=(420, 297), margins=(10, 10, 10, 10), units='mm')
            sheet.add_viewport(center=(200, 140), size=(300, 200), view_center_point=(60, 60), view_height=200)
            sheet.add_text(f'Title of {name}', dxfattribs={'height': 5}).set_pos((20, 15))
        doc.groups.new('PAIR').extend([msp[0], msp[1]])
        doc.appids.add('KESTREL')
        msp[0].set_xdata('KESTREL', [(1000, 'note'), (1010, (1, 2, 3)), (1040, 2.5), (1005, msp[1].dxf.handle), (1071, 7)])
        order = [(e.dxf.handle, e.dxf.handle) for e in msp]
        msp.set_redraw_order([(order[0][0], order[5][1]), (order[5][0], order[0][1])])
        dictionary = doc.rootdict.get_required_dict('KESTREL_DATA')
        dictionary.add_xrecord('SETTINGS').reset([(1, 'kept'), (40, 3.25), (330, msp[0].dxf.handle)])
        ml = msp.add_multileader_mtext('Standard')
        ml.set_content('Multi\\Pleader', char_height=2)
        ml.add_leader_line(mleader.ConnectionSide.left, [Vec2(220, 200), Vec2(230, 205)])
        ml.build(insert=Vec2(250, 210))
    else:
        ps = doc.layout('Layout1')
        ps.add_text('Title', dxfattribs={'height': 5}).set_pos((20, 15))
    return doc


for v in VERSIONS:
    doc = make(v)
    doc.saveas(os.path.join(FOLDER, f'{v}.dxf'))
    doc.saveas(os.path.join(FOLDER, f'{v}.binary.dxf'), fmt='bin')
print(json.dumps(VERSIONS))
