#!/usr/bin/env python3
# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""The canal gauge strip of half a metre: run it to make canal-gauge-strip.svg again."""
import os

LONG, HIGH = 500.0, 24.0


def main():
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{LONG}mm" height="{HIGH}mm" viewBox="0 0 {LONG} {HIGH}">',
        "<title>Canal gauge strip</title>",
        f'<rect id="strip" x="0" y="0" width="{LONG}" height="{HIGH}" fill="none" stroke="#2060a0" stroke-width="0.1"/>',
        '<g id="marks" fill="#000000">',
    ]
    for mm in range(0, 491, 2):
        length = 14.0 if mm % 10 == 0 else 7.0
        lines.append(f'<rect x="{mm + 5 - 0.25}" y="{HIGH - 2 - length}" width="0.5" height="{length}"/>')
    lines.append("</g></svg>")
    with open(os.path.join(os.path.dirname(os.path.abspath(__file__)), "canal-gauge-strip.svg"), "w", encoding="utf-8") as out:
        out.write("\n".join(lines) + "\n")


if __name__ == "__main__":
    main()
