#!/usr/bin/env python3
"""Draws the heron puppet as if inked on paper and photographed: uneven light, grain, specks, a rough edge.

Plain Python, so that it runs anywhere; the same seed gives the same bytes. The picture it made is kept beside it.
"""
import math, random, struct, sys, zlib

PX_PER_MM = 8.2
W_MM, H_MM = 148, 196
W, H = int(W_MM * PX_PER_MM), int(H_MM * PX_PER_MM)
random.seed(20)


def smooth(points, steps=14):
    """A closed Catmull-Rom curve through the points; a point given twice is a corner."""
    out, n = [], len(points)
    for i in range(n):
        p0, p1, p2, p3 = (points[(i + k) % n] for k in (-1, 0, 1, 2))
        if p1 == p2:
            continue
        if p0 == p1:
            p0 = p1
        if p2 == p3:
            p3 = p2
        for s in range(steps):
            t = s / steps
            out.append(tuple(0.5 * (2 * p1[k] + (p2[k] - p0[k]) * t + (2 * p0[k] - 5 * p1[k] + 4 * p2[k] - p3[k]) * t * t
                                    + (3 * p1[k] - p0[k] - 3 * p2[k] + p3[k]) * t ** 3) for k in (0, 1)))
    return out


def rough(points, by=0.06):
    """Ink creeps into paper: each point moves a little, neighbours together."""
    out, drift = [], [0.0, 0.0]
    for x, y in points:
        drift = [0.85 * d + random.uniform(-by, by) for d in drift]
        out.append((x + drift[0], y + drift[1]))
    return out


B = lambda x, y: [(x, y), (x, y)]  # a corner
body = B(12, 118) + [(42, 92), (66, 80), (82, 58), (80, 30), (92, 14), (104, 14)] + B(137, 27) + [(112, 31), (100, 38), (101, 62), (97, 84), (103, 104), (96, 118)] \
    + B(92, 126) + B(97, 176) + B(112, 181) + B(112, 185) + B(92, 185) + B(86, 127) + B(76, 129) + B(79, 177) + B(89, 181) + B(89, 185) + B(73, 185) + B(70, 129) + [(40, 124)]
eye = [(101 + 2.2 * math.cos(a / 12 * math.pi), 21 + 2.2 * math.sin(a / 12 * math.pi)) for a in range(24)]
slits = [smooth(B(42 + 5 * i, 106 + 6.5 * i) + [(53 + 5 * i, 96 + 6.5 * i)] + B(68 + 5 * i, 91 + 6.5 * i) + [(57 + 5 * i, 99.5 + 6.5 * i)]) for i in range(3)]
rings = [rough(smooth(body, 20)), rough(eye, 0.03)] + [rough(s, 0.04) for s in slits]
moon = [(28 + 13 * math.cos(a / 36 * math.pi), 30 + 13 * math.sin(a / 36 * math.pi)) for a in range(72)]
rings += [rough(moon, 0.03)]

SUB = 4
cover = [[0.0] * W for _ in range(H)]
for ring in rings:
    pts = [(x * PX_PER_MM, y * PX_PER_MM) for x, y in ring]
    edges = {}
    for (x0, y0), (x1, y1) in zip(pts, pts[1:] + pts[:1]):
        lo, hi = (math.ceil(min(y0, y1) * SUB - 0.5), math.ceil(max(y0, y1) * SUB - 0.5))
        for s in range(lo, hi):
            y = (s + 0.5) / SUB
            edges.setdefault(s, []).append(x0 + (x1 - x0) * (y - y0) / (y1 - y0))
    for s, xs in edges.items():
        row = cover[s // SUB] if 0 <= s // SUB < H else None
        if row is None:
            continue
        xs.sort()
        for a, b in zip(xs[::2], xs[1::2]):
            i, j = int(a), int(b)
            sign = 1 if ring is rings[0] or ring is rings[-1] else -1  # the rest are openings
            for x in range(max(0, i), min(W - 1, j) + 1):
                row[x] += sign * (min(b, x + 1) - max(a, x)) / SUB

rows = []
specks = {(random.randrange(H), random.randrange(W)) for _ in range(260)}
for y in range(H):
    line = bytearray([0])
    for x in range(W):
        light = 236 - 42 * ((x / W - 0.3) ** 2 + 0.8 * (y / H - 0.3) ** 2)  # a lamp from the upper left
        ink = 46 + 14 * math.sin(x * 0.011 + y * 0.007)
        c = min(1.0, max(0.0, cover[y][x]))
        v = light * (1 - c) + ink * c + random.gauss(0, 2.6)
        line.append(max(0, min(255, int(v))))
    rows.append(line)
for y, x in specks:
    for dy in range(random.choice((1, 1, 2))):
        for dx in range(random.choice((1, 2, 2))):
            if y + dy < H and x + dx < W:
                rows[y + dy][1 + x + dx] = random.randrange(60, 120)

chunk = lambda kind, data: struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
per_metre = round(PX_PER_MM * 1000)
with open(sys.argv[1] if len(sys.argv) > 1 else "heron-ink.png", "wb") as out:
    out.write(b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", struct.pack(">IIBBBBB", W, H, 8, 0, 0, 0, 0)) + chunk(b"pHYs", struct.pack(">IIB", per_metre, per_metre, 1))
              + chunk(b"IDAT", zlib.compress(b"".join(map(bytes, rows)), 9)) + chunk(b"IEND", b""))
