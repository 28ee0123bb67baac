#!/usr/bin/env python3
"""The moon that hangs over the last act, in greys: a lit ball with seas, craters and their rays.
demo/draw_moon.py FILE"""
import math, random, sys
from paper import png

random.seed(88)
size, k = 60, 8  # mm, px/mm
n = size * k
seas = [(-0.25, 0.35, 0.33), (0.12, 0.42, 0.24), (0.35, 0.18, 0.2), (-0.45, -0.05, 0.26), (0.05, 0.05, 0.15)]
craters = [(random.uniform(-0.85, 0.85), random.uniform(-0.9, 0.6), random.uniform(0.015, 0.09)) for _ in range(70)]
craters.append((0.1, -0.62, 0.1))


def grey(x, y):
    r = math.hypot(x, y)
    if r >= 0.96:
        return 255
    z = math.sqrt(0.96 ** 2 - r * r)
    nx, ny, nz = x / 0.96, y / 0.96, z / 0.96
    tone = 0.9
    for sx, sy, sr in seas:
        d = math.hypot(x - sx, y - sy) + 0.03 * math.sin(9 * x + 5 * y) + 0.02 * math.sin(23 * y - 11 * x)
        tone -= 0.32 * max(0.0, min(1.0, (sr - d) / 0.07 + 0.5))
    for cx, cy, cr in craters:
        dx, dy = x - cx, y - cy
        d = math.hypot(dx, dy) / cr
        if d < 1.6:
            bowl = math.exp(-((d - 1) / 0.25) ** 2)
            nx += 0.5 * bowl * dx / (cr * max(d, 0.2)) * (1 if d > 1 else -1)
            ny += 0.5 * bowl * dy / (cr * max(d, 0.2)) * (1 if d > 1 else -1)
    a = math.atan2(y + 0.62, x - 0.1)
    rays = max(0.0, math.cos(9 * a) * math.cos(4 * a + 1)) * max(0.0, 1 - math.hypot(x - 0.1, y + 0.62))
    tone = max(0.25, tone) + 0.12 * rays
    lamp = max(0.0, -0.45 * nx + 0.35 * ny + 0.82 * nz)
    return max(0, min(255, int(255 * tone * (0.16 + 0.84 * lamp))))


rows = []
for j in range(n):
    y = 1 - 2 * (j + 0.5) / n
    rows.append(bytearray(grey(2 * (i + 0.5) / n - 1, y) for i in range(n)))
png(sys.argv[1], rows, n, k)
