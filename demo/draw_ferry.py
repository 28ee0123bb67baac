#!/usr/bin/env python3
"""The ferry as a pen drawing on paper, scanned: strokes to be scored by their centre line. demo/draw_ferry.py FILE"""
import math, random, sys
from paper import Paper, png, ring, smooth

random.seed(31)
sheet = Paper(150, 105, 7)
pen = lambda points, width=0.7: sheet.stroke(points, width, waver=0.03, press=0.12)

pen(smooth([(18, 62), (24, 74), (40, 80), (75, 82), (110, 80), (126, 73), (134, 60)]), 0.9)  # hull
pen([(18, 62), (134, 60)], 0.9)  # rail
pen(smooth([(22, 67), (50, 70), (90, 70.5), (131, 66)]))
pen([(52, 61.5), (52, 40), (98, 40), (98, 60.6)])  # house
pen([(46, 40.2), (104, 39.7)], 1.0)
for x in (60, 71, 82, 93):
    pen(ring(x - 1.5, 50, 3.4))  # lantern holes
pen([(75, 40), (75, 10)], 0.8)  # mast
pen([(75, 12), (54, 39)])
pen([(75, 12), (97, 39)])
pen(smooth([(75, 12), (86, 15), (94, 11), (100, 15)]))  # pennant
pen(smooth([(75, 17), (86, 20), (93, 16), (100, 15)]))
pen(smooth([(10, 88), (22, 84), (34, 90), (46, 85), (58, 91), (70, 86), (82, 91), (94, 86), (106, 91), (118, 85), (130, 90), (142, 86)]))
pen(smooth([(8, 96), (20, 92), (32, 98), (44, 93), (56, 98), (68, 93), (80, 98), (92, 93), (104, 98), (116, 93), (128, 97), (140, 93)]))
pen([(30, 60), (20, 44)])  # oar crosses the rail
pen([(38, 46), (26, 76)])
pen(ring(122, 22, 10), 0.8)  # moon
pen(smooth([(117, 13.5), (121, 19), (121, 26), (117, 30.5)]))
for x, y in ((28, 18), (40, 12), (48, 24), (104, 26), (136, 40)):
    sheet.dot(x, y, 0.6)  # stars

rows = []
for y in range(sheet.h):
    row = bytearray()
    for x in range(sheet.w):
        c = sheet.ink[y][x]
        row.append(max(0, min(255, int(238 * (1 - c) + 52 * c + random.gauss(0, 2.0) + 4 * math.sin(x * 0.01)))) & 0xFE)
    rows.append(row)
png(sys.argv[1] if len(sys.argv) > 1 else "ferry-pen.png", rows, sheet.w, sheet.k)
