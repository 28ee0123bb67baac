#!/usr/bin/env python3
"""Draws the scenery kit as a loose DXF, as it might be handed in: layers, blocks, doubled lines, a gap, a stray mark.
demo/draw_kit.py > demo/scenery-kit.dxf"""

out = []


def pair(*codes):
    for i in range(0, len(codes), 2):
        out.append(f"{codes[i]}\n{codes[i + 1]}")


def line(layer, x0, y0, x1, y1):
    pair(0, "LINE", 8, layer, 10, x0, 20, y0, 11, x1, 21, y1)


def arc(layer, cx, cy, r, a0, a1):
    pair(0, "ARC", 8, layer, 10, cx, 20, cy, 40, r, 50, a0, 51, a1)


def circle(layer, cx, cy, r):
    pair(0, "CIRCLE", 8, layer, 10, cx, 20, cy, 40, r)


def polyline(layer, closed, *points):
    pair(0, "LWPOLYLINE", 8, layer, 90, len(points), 70, int(closed))
    for x, y, *bulge in points:
        pair(10, x, 20, y)
        if bulge:
            pair(42, bulge[0])


def insert(block, layer, x, y, angle=0, sx=1, sy=1, columns=1, rows=1, dx=0, dy=0):
    pair(0, "INSERT", 2, block, 8, layer, 10, x, 20, y, 41, sx, 42, sy, 50, angle, 70, columns, 71, rows, 44, dx, 45, dy)


pair(0, "SECTION", 2, "HEADER", 9, "$ACADVER", 1, "AC1015", 9, "$INSUNITS", 70, 4, 0, "ENDSEC")
pair(0, "SECTION", 2, "TABLES", 0, "TABLE", 2, "LAYER", 70, 5)
for name, flags, colour in [("cut", 0, 1), ("slots", 0, 5), ("fold", 0, 3), ("notes", 0, 8), ("guides", 1, 9),
                            ("old sketch", 0, 2)]:
    pair(0, "LAYER", 2, name, 70, flags, 62, colour, 6, "CONTINUOUS")
pair(0, "ENDTAB", 0, "ENDSEC")

pair(0, "SECTION", 2, "BLOCKS", 0, "BLOCK", 2, "slot", 70, 0, 10, 0, 20, 0)
line("0", -12, -3, 12, -3)
arc("0", 12, 0, 3, 270, 90)
line("0", 12, 3, -12, 3)
arc("0", -12, 0, 3, 90, 270)
pair(0, "ENDBLK")
pair(0, "BLOCK", 2, "lantern", 70, 0, 10, 0, 20, 0)
polyline("0", True, (-10, 0), (10, 0), (10, 24, 1), (-10, 24))
circle("0", 0, 24, 5)
pair(0, "ENDBLK", 0, "ENDSEC")

pair(0, "SECTION", 2, "ENTITIES")
# The quay: an outline of loose lines and arcs, one corner 0.3 mm short, the long edge drawn twice.
line("cut", 30, 30, 330, 30)
line("cut", 330, 30, 30, 30)
arc("cut", 330, 50, 20, 270, 0)
line("cut", 350, 50, 350, 120)
line("cut", 350, 120, 260, 150)
arc("cut", 190, 150, 70, 0, 180)
line("cut", 120, 150, 30, 120)
line("cut", 30, 120, 30, 30.3)
insert("slot", "slots", 80, 60, columns=5, rows=1, dx=55, dy=0)
insert("slot", "slots", 100, 100, angle=90)
insert("slot", "slots", 280, 100, angle=-90)
insert("lantern", "cut", 190, 120)
insert("lantern", "cut", 430, 60)
insert("lantern", "cut", 480, 60, sx=-1.2, sy=1.2)
# The moon: an ellipse with a bite, and a wave as a spline.
pair(0, "ELLIPSE", 8, "cut", 10, 460, 20, 220, 11, 70, 21, 0, 40, 0.8, 41, 0, 42, 6.283185307179586)
circle("cut", 475, 225, 30)
pair(0, "SPLINE", 8, "fold", 70, 8, 71, 3, 72, 11, 73, 7)
for k in [0, 0, 0, 0, 1, 2, 3, 4, 4, 4, 4]:
    pair(40, k)
for x, y in [(40, 260), (80, 300), (130, 220), (180, 300), (230, 220), (280, 300), (320, 260)]:
    pair(10, x, 20, y)
line("fold", 60, 75, 320, 75)
pair(0, "TEXT", 8, "notes", 10, 40, 20, 320, 40, 8, 1, "quay, birch 6 mm, 2 off")
line("guides", 0, 0, 600, 0)
circle("cut", 4100, 3900, 2)
pair(0, "ENDSEC", 0, "EOF")
print("\n".join(out))
