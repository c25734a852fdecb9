#!/usr/bin/env python3
# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""The height map of the concertina's end-plate rosette, 16 bit grey: run it to make end-plate-rosette.png again."""
import math
import os
import struct
import zlib

SIDE, FULL = 512, 65535


def height(x, y):
    """0 deepest to 1 uncut; x and y from the middle, 1 at the rim."""
    r, a = math.hypot(x, y), math.atan2(y, x)
    if r > 0.97:
        return 1.0
    ground = 0.24
    if r > 0.90:  # the rim, a half round
        return ground + 0.62 * math.sqrt(max(0.0, 1 - ((r - 0.935) / 0.035) ** 2))
    z = ground
    petal = 0.60 * abs(math.cos(4 * a)) ** 0.6 + 0.22  # eight petals
    if r < petal:
        across = r / petal
        z = max(z, ground + 0.58 * math.sin(math.pi * min(1, across)) ** 0.8 * (0.55 + 0.45 * abs(math.cos(4 * a))))
        vein = abs(math.sin(4 * a)) * r
        if vein < 0.022 and r > 0.2:
            z -= 0.10 * (1 - vein / 0.022)
    if r < 0.17:  # the boss
        z = ground + 0.62 * math.sqrt(max(0.0, 1 - (r / 0.17) ** 2))
    pearl = (a * 24 / (2 * math.pi)) % 1 - 0.5
    d = math.hypot(r - 0.855, pearl * 2 * math.pi / 24 * 0.855)
    if d < 0.028:
        z = max(z, ground + 0.45 * math.sqrt(1 - (d / 0.028) ** 2))
    return z


def main():
    rows = bytearray()
    for j in range(SIDE):
        rows.append(0)
        for i in range(SIDE):
            z = sum(
                height((2 * (i + (u + 0.5) / 2) - SIDE) / SIDE, (SIDE - 2 * (j + (v + 0.5) / 2)) / SIDE)
                for u in (0, 1)
                for v in (0, 1)
            ) / 4
            rows += struct.pack(">H", round(FULL * min(1, max(0, z))))

    def chunk(kind, body):
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    with open(os.path.join(os.path.dirname(os.path.abspath(__file__)), "end-plate-rosette.png"), "wb") as out:
        out.write(b"\x89PNG\r\n\x1a\n")
        out.write(chunk(b"IHDR", struct.pack(">IIBBBBB", SIDE, SIDE, 16, 0, 0, 0, 0)))
        out.write(chunk(b"IDAT", zlib.compress(bytes(rows), 9)))
        out.write(chunk(b"IEND", b""))


if __name__ == "__main__":
    main()
