"""Ink, paint and light on paper, for the demo's pictures. Plain Python, so that it runs anywhere; seeded, so that the
same program gives the same bytes."""
import math, random, struct, zlib


def smooth(points, closed=False, steps=16):
    """A Catmull-Rom curve through the points."""
    n, out = len(points), []
    at = (lambda i: points[i % n]) if closed else (lambda i: points[max(0, min(n - 1, i))])
    for i in range(n if closed else n - 1):
        p0, p1, p2, p3 = (at(i + k) for k in (-1, 0, 1, 2))
        for s in range(steps):
            t = s / steps
            out.append(tuple(0.5 * (2 * p1[k] + (p2[k] - p0[k]) * t + (2 * p0[k] - 5 * p1[k] + 4 * p2[k] - p3[k]) * t * t
                                    + (3 * p1[k] - p0[k] - 3 * p2[k] + p3[k]) * t ** 3) for k in (0, 1)))
    if not closed:
        out.append(points[-1])
    return out


def ring(cx, cy, r, parts=48):
    return [(cx + r * math.cos(2 * math.pi * i / parts), cy + r * math.sin(2 * math.pi * i / parts)) for i in range(parts + 1)]


class Paper:
    """Shares of ink from 0 to 1, a list of rows; mm, y down."""

    def __init__(self, width, height, px_per_mm):
        self.k = px_per_mm
        self.w, self.h = round(width * px_per_mm), round(height * px_per_mm)
        self.ink = [[0.0] * self.w for _ in range(self.h)]

    def stroke(self, points, width, waver=0.0, press=0.0):
        """A pen drawn along the points: round nib, a hand that wavers, pressure that comes and goes."""
        drift, phase, along, last = [0.0, 0.0], random.uniform(0, 6), 0.0, None
        dense = []
        for (x0, y0), (x1, y1) in zip(points, points[1:]):
            n = max(1, int(math.hypot(x1 - x0, y1 - y0) * self.k * 2))
            dense += [(x0 + (x1 - x0) * i / n, y0 + (y1 - y0) * i / n) for i in range(n)]
        dense.append(points[-1])
        for x, y in dense:
            drift = [0.97 * d + random.uniform(-waver, waver) * 0.2 for d in drift]
            along += 0.5 / self.k
            self.dot(x + drift[0], y + drift[1], width / 2 * (1 + press * math.sin(phase + along * 0.35)))

    def dot(self, x, y, r):
        cx, cy, cr = x * self.k, y * self.k, r * self.k
        for py in range(max(0, int(cy - cr - 1)), min(self.h, int(cy + cr + 2))):
            row = self.ink[py]
            for px in range(max(0, int(cx - cr - 1)), min(self.w, int(cx + cr + 2))):
                c = cr - math.hypot(px + 0.5 - cx, py + 0.5 - cy) + 0.5
                if c > row[px]:
                    row[px] = min(1.0, c)

    def area(self, points):
        """Shares of pixels inside a closed line, as rows of spans: {row: [(column, share)]}."""
        sub, cover = 4, {}
        pts = [(x * self.k, y * self.k) for x, y in points]
        edges = {}
        for (x0, y0), (x1, y1) in zip(pts, pts[1:] + pts[:1]):
            lo, hi = math.ceil(min(y0, y1) * sub - 0.5), math.ceil(max(y0, y1) * sub - 0.5)
            for s in range(lo, hi):
                edges.setdefault(s, []).append(x0 + (x1 - x0) * ((s + 0.5) / sub - y0) / (y1 - y0))
        for s, xs in edges.items():
            if not 0 <= s // sub < self.h:
                continue
            row = cover.setdefault(s // sub, {})
            xs.sort()
            for a, b in zip(xs[::2], xs[1::2]):
                for x in range(max(0, int(a)), min(self.w - 1, int(b)) + 1):
                    row[x] = row.get(x, 0) + (min(b, x + 1) - max(a, x)) / sub
        return cover


def png(file, rows, width, px_per_mm, colour=False):
    chunk = lambda kind, data: struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
    per_metre = round(px_per_mm * 1000)
    with open(file, "wb") as out:
        out.write(b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", struct.pack(">IIBBBBB", width, len(rows), 8, 2 if colour else 0, 0, 0, 0))
                  + chunk(b"pHYs", struct.pack(">IIB", per_metre, per_metre, 1))
                  + chunk(b"IDAT", zlib.compress(b"".join(b"\0" + bytes(r) for r in rows), 9)) + chunk(b"IEND", b""))
