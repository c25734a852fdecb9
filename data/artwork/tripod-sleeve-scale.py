#!/usr/bin/env python3
# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
"""The tripod sleeve's degree scale, unrolled: run it to make tripod-sleeve-scale.svg again."""
import os

TURN, HIGH = 136.66, 14.0  # once round at 43.5 mm, and along the axis


def main():
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{TURN}mm" height="{HIGH}mm" viewBox="0 0 {TURN} {HIGH}">',
        "<title>Degree scale of a tripod sleeve</title>",
        '<g id="scale" fill="#000000">',
    ]
    for degree in range(0, 360, 2):
        length = 6.0 if degree % 10 == 0 else 3.0
        x = TURN * (degree + 1) / 360  # a degree off the seam of the drawing
        lines.append(f'<rect x="{x - 0.1:.4f}" y="{HIGH - 1 - length}" width="0.2" height="{length}"/>')
    lines.append("</g>")
    lines.append('<g id="edges" fill="none" stroke="#2060a0" stroke-width="0.1">')
    lines.append(f'<rect x="0" y="0.5" width="{TURN}" height="{HIGH - 1}"/>')
    lines.append("</g></svg>")
    with open(os.path.join(os.path.dirname(os.path.abspath(__file__)), "tripod-sleeve-scale.svg"), "w", encoding="utf-8") as out:
        out.write("\n".join(lines) + "\n")


if __name__ == "__main__":
    main()
