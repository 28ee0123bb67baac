#!/usr/bin/env python3
"""A puppet's sketch photographed with a phone: a lamp to one side, the edge of a hand's shadow across it, a little askew.
demo/draw_photo.py FILE"""
import math, random, sys
from paper import Paper, png, ring, smooth

random.seed(52)
sheet = Paper(110, 80, 6)
tilt = math.radians(1.5)


def askew(points):
    return [(55 + (x - 55) * math.cos(tilt) - (y - 40) * math.sin(tilt), 40 + (x - 55) * math.sin(tilt) + (y - 40) * math.cos(tilt)) for x, y in points]


def pen(points, width=0.8):
    sheet.stroke(askew(points), width, waver=0.03, press=0.1)


pen(smooth([(16, 62), (22, 36), (38, 22), (55, 18), (72, 22), (88, 36), (94, 62)]), 1.0)  # arch
pen([(16, 62), (94, 62)], 1.0)
pen(ring(55, 44, 12))  # lantern
pen([(55, 18), (55, 32)])
for a in range(8):
    c, s = math.cos(a * math.pi / 4), math.sin(a * math.pi / 4)
    pen([(55 + 14.5 * c, 44 + 14.5 * s), (55 + 18 * c, 44 + 18 * s)], 0.7)
pen(smooth([(24, 70), (40, 66), (56, 71), (72, 66), (88, 70)]))
for x, y in ((30, 12), (80, 12), (20, 24)):
    sheet.dot(*askew([(x, y)])[0], 0.7)

rows = []
for y in range(sheet.h):
    row = bytearray()
    for x in range(sheet.w):
        lamp = 1 - 0.3 * math.hypot(x / sheet.w - 0.2, y / sheet.h - 0.2)
        shade = x * 0.8 + y * 0.6 - 0.62 * sheet.w  # px beyond the shadow's edge
        shadow = 1 - 0.52 * max(0.0, min(1.0, 0.5 + shade / 5))
        c = sheet.ink[y][x]
        row.append(max(0, min(255, int((232 * (1 - c) + 60 * c) * lamp * shadow + random.gauss(0, 1.6)))) & 0xFE)
    rows.append(row)
png(sys.argv[1] if len(sys.argv) > 1 else "lantern-photo.png", rows, sheet.w, sheet.k)
