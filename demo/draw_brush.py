#!/usr/bin/env python3
"""The sea for the harbour banner, in brush strokes that swell and thin: waves, a comet, a moon.
demo/draw_brush.py FILE"""
import math, random, sys
from paper import png

random.seed(41)
width, height, k = 240, 105, 5  # mm, px/mm
ink = [[0.0] * (width * k) for _ in range(height * k)]


def dab(x, y, r):
    """A round dab of the brush, mm."""
    x, y, r = x * k, y * k, r * k
    for py in range(max(0, int(y - r - 1)), min(height * k, int(y + r + 2))):
        for px in range(max(0, int(x - r - 1)), min(width * k, int(x + r + 2))):
            ink[py][px] = max(ink[py][px], min(1.0, r + 0.5 - math.hypot(px + 0.5 - x, py + 0.5 - y)))


for wave in range(3):
    for i in range(0, 2000):
        t = i / 2000
        dab(18 + 204 * t, 76 + 9 * wave + 4.4 * math.sin(15 * t + wave), 0.5 + 1.5 * abs(math.sin(8.5 * t + 0.7 * wave)))
for i in range(0, 1500):
    t = i / 1500
    dab(38 + 120 * t, 46 - 22 * t + 7 * t * t, 0.25 + 1.9 * t)
for i in range(0, 1600):
    t = 2 * math.pi * i / 1600
    dab(196 + 17 * math.cos(t), 32 + 17 * math.sin(t), 0.75 + 0.4 * math.sin(3 * t))
png(sys.argv[1], [bytes(max(0, min(255, round(246 - 222 * v + random.gauss(0, 2)))) for v in row) for row in ink], width * k, k)
