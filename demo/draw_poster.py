#!/usr/bin/env python3
"""The theatre's poster in four flat colours, for parting by colours. demo/draw_poster.py FILE"""
import random, sys
from paper import Paper, png, ring, smooth

random.seed(44)
sheet = Paper(120, 160, 4)
paper, night, lamp, red, moon = (246, 240, 226), (38, 50, 88), (222, 168, 62), (158, 63, 34), (232, 226, 204)
areas = [
    (night, [(8, 8), (112, 8), (112, 118), (8, 118)]),
    (moon, ring(84, 36, 17)),
    (night, ring(92, 31, 15)),
    (lamp, smooth([(30, 96), (24, 70), (36, 52), (48, 70), (42, 96)], True)),
    (red, smooth([(10, 100), (28, 94), (46, 102), (64, 94), (82, 102), (100, 94), (111.9, 99), (111.9, 117.9), (8.1, 117.9), (8.1, 100)], True)),
    (red, [(22, 126), (98, 126), (98, 132), (22, 132)]),
    (night, [(34, 140), (86, 140), (86, 146), (34, 146)]),
    (lamp, ring(104, 144, 5)),
]
rows = [[list(paper) for _ in range(sheet.w)] for _ in range(sheet.h)]
for colour, points in areas:
    for y, spans in sheet.area(points).items():
        for x, share in spans.items():
            px, share = rows[y][x], min(1.0, share)
            for c in range(3):
                px[c] += (colour[c] - px[c]) * share
out = []
for row in rows:
    line = bytearray()
    for px in row:
        grain = random.choice((-2, 0, 0, 0, 2))
        line += bytes(max(0, min(255, round(c + grain))) for c in px)
    out.append(line)
png(sys.argv[1] if len(sys.argv) > 1 else "poster.png", out, sheet.w, sheet.k, colour=True)
