"""Plants from the side by habit, and the hatches and lights of the front view: drawn once, used at any size."""

from __future__ import annotations

from math import cos, radians, sin


def _leaf(x: float, y: float, lean: float, long: float, wide: float) -> str:
    a = radians(lean)
    tx, ty, mx, my = x + long * sin(a), y - long * cos(a), x + long * 0.5 * sin(a), y - long * 0.5 * cos(a)
    px, py = wide * cos(a), wide * sin(a)
    return (
        f"M{x:.2f} {y:.2f}Q{mx + px:.2f} {my + py:.2f} {tx:.2f} {ty:.2f}Q{mx - px:.2f} {my - py:.2f} {x:.2f} {y:.2f}Z"
    )


def _pair(y: float, lean: float, long: float, wide: float) -> str:
    return _leaf(0, y, lean, long, wide) + _leaf(0, y, -lean, long, wide)


PLANTS = {  # in a box one high, from the ground up; leaves, and the stem as a line
    "blade": (_leaf(0, 0, -14, 0.8, 0.05) + _leaf(0, 0, 0, 1, 0.055) + _leaf(0, 0, 16, 0.78, 0.05), ""),
    "rosette": (_pair(0, 70, 0.95, 0.3) + _pair(0, 38, 1.05, 0.3) + _leaf(0, 0, 0, 1, 0.3), ""),
    "bush": (_pair(-0.4, 78, 0.38, 0.1) + _pair(-0.62, 48, 0.5, 0.17) + _leaf(0, -0.7, 0, 0.3, 0.1), "M0 0V-.75"),
    "spire": (
        "".join(_pair(-f, 62 - 30 * f, 0.36 - 0.2 * f, 0.085) for f in (0.22, 0.44, 0.64, 0.82))
        + _leaf(0, -0.84, 0, 0.16, 0.06),
        "M0 0V-.9",
    ),
    "sprout": (_pair(-0.62, 60, 0.8, 0.22), "M0 0V-.7"),
}
GREENS = {"blade": "#7fa67c", "rosette": "#a9c77f", "bush": "#6f9d57", "spire": "#7ea765", "sprout": "#b7cf95"}
SPROUT_LEAVES = 0.8

HATCH = (  # what does not fit, or is too small
    '<pattern id="over" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    '<rect width="6" height="6" fill="#f6dcd4"/><rect width="2.4" height="6" fill="#9d3524"/></pattern>'
)
DEFS = (
    f"<defs>{HATCH}"
    '<pattern id="warm" width="8" height="6" patternUnits="userSpaceOnUse"><rect width="8" height="6" fill="#f0bd78"/>'
    '<path d="M-1 4.4Q2 -.6 4 3T9 1.6" fill="none" stroke="#a24f1c" stroke-width="1.5"/></pattern>'
    '<linearGradient id="fall" x1="0" x2="0" y1="0" y2="1"><stop offset="0" stop-color="#f6cf6b" stop-opacity=".8"/>'
    '<stop offset="1" stop-color="#fbeecb" stop-opacity=".3"/></linearGradient>'
    '<linearGradient id="pane" x1="0" x2="0" y1="0" y2="1"><stop offset="0" stop-color="#c3d9e5"/><stop offset="1" stop-color="#f7f3e4"/>'
    "</linearGradient>"
    + "".join(
        f'<symbol id="f-{kind}" overflow="visible"><path d="{leaves}" vector-effect="non-scaling-stroke"/>'
        + (f'<path class="stem" d="{stem}" vector-effect="non-scaling-stroke"/>' if stem else "")
        + "</symbol>"
        for kind, (leaves, stem) in PLANTS.items()
    )
    + "</defs>"
)
