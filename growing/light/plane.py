"""How bright is it at the leaves?  Lambertian point sums over a lamp's pieces; sides that reflect are lamps seen in a mirror.

E = Σ (Φ/π) cosε cosθ / d²: for a level lamp over a level leaf, both cosines are h/d, and E = Σ (Φ/π) h²/d⁴ (Lambert's cosine law
and the inverse square).  Pieces are no longer than a third of the height.  A side that reflects stands at the edge of the board, and
as high as it matters: what it sends back comes from the lamp's image behind it, weakened by its reflectance; two sides that meet
make the image of the image in the corner.  Light thrown back twice between opposite sides is left out.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
UMOL_H = 0.0036  # mol in an hour of one µmol s⁻¹
PIECES_A_HEIGHT = 3
NEAREST_CM, COARSE_CM = 0.5, 3.0  # nearer than this a piece is not cut finer; for plants as a whole
MOST_AT_ONCE = 120_000  # pieces × cells in hand together: they stay in the cache


class Hung(NamedTuple):
    """A lamp as it hangs over a board: its light downwards [µmol s⁻¹], its size, its middle from the left and from the front, the height
    of both ends above the board [cm].  It lies along the front."""

    umol: float
    length_cm: float
    width_cm: float
    x_cm: float
    y_cm: float
    left_cm: float
    right_cm: float

    @property
    def lowest_cm(self) -> float:
        return min(self.left_cm, self.right_cm)

    def at(self, left_cm: float, right_cm: float | None = None) -> Hung:
        """The same, hung at another height."""
        return self._replace(left_cm=left_cm, right_cm=left_cm if right_cm is None else right_cm)


class Sides(NamedTuple):
    """Reflectance of what stands at the edges of a board, 0–1: white card 0.7, film 0.85 (estimates)."""

    left: float = 0.0
    right: float = 0.0
    back: float = 0.0
    front: float = 0.0


OPEN = Sides()
WHITE = 0.7


class _Pieces(NamedTuple):
    x: Array
    y: Array
    z: Array
    umol: Array
    sine: Array  # of the lamp's slope: up to the right is more than 0


def ppfd(
    hung: Sequence[Hung], xs_cm: Array, ys_cm: Array, leaf_cm: float | Array, wide_cm: float = 0.0, deep_cm: float = 0.0, sides: Sides = OPEN
) -> Array:  # fmt: skip
    """Light at the leaves.

    xs_cm (nx,), ys_cm (ny,): cells from the left and from the front [cm].  leaf_cm: height of the leaf tips above the board [cm], one
    number or (ny, nx).  wide_cm, deep_cm: of the board, where its sides reflect.  Returns (ny, nx) [µmol m⁻² s⁻¹]; what hangs below the
    leaves lights nothing there.
    """
    leaf = np.broadcast_to(np.asarray(leaf_cm, float), (len(ys_cm), len(xs_cm)))
    found: Array = np.zeros((len(ys_cm), len(xs_cm)))
    level = bool(leaf.size) and leaf.min() == leaf.max()
    for lamp in hung:
        pieces = _images(_cut(lamp, float(leaf.max(initial=0.0))), wide_cm, deep_cm, sides)
        step = max(1, MOST_AT_ONCE // max(1, leaf.size))
        for k in range(0, len(pieces.x), step):
            part = _Pieces(*(values[k : k + step] for values in pieces))
            found += _sum(part, xs_cm, ys_cm, leaf[0, 0] if level else leaf)
    return found * 1e4 / np.pi  # cm⁻² to m⁻²


def at_points(
    hung: Sequence[Hung], x_cm: Array, y_cm: Array, leaf_cm: Array, wide_cm: float = 0.0, deep_cm: float = 0.0, sides: Sides = OPEN
) -> Array:  # fmt: skip
    """The same at single points: x_cm, y_cm, leaf_cm and what is returned are (n,).  Leaves nearer than COARSE_CM are taken as so near:
    no plant is a point."""
    highest = float(leaf_cm.max(initial=0.0))
    cut = [_images(_cut(lamp, highest, COARSE_CM), wide_cm, deep_cm, sides) for lamp in hung]
    if not cut:
        return np.zeros(len(x_cm))
    p = _Pieces(*(np.concatenate(columns) for columns in zip(*cut, strict=True)))
    h = np.maximum(p.z[:, None] - leaf_cm, 0.0)
    dx, dy = x_cm - p.x[:, None], y_cm - p.y[:, None]
    d2 = np.maximum(dx * dx + dy * dy + h * h, 1e-9)
    emitted = h
    if p.sine.any():
        emitted = np.maximum(h * np.sqrt(1 - p.sine**2)[:, None] + dx * p.sine[:, None], 0.0)
    return np.asarray(p.umol @ (emitted * h / (d2 * d2)) * 1e4 / np.pi)


def _cut(lamp: Hung, leaf_cm: float, nearest_cm: float = NEAREST_CM) -> _Pieces:
    """Its pieces, none longer or wider than a third of the least height above the leaves; nearer than that no finer."""
    longest = max(nearest_cm, (lamp.lowest_cm - leaf_cm)) / PIECES_A_HEIGHT
    along, into = (max(1, int(np.ceil(size / longest - 1e-9))) for size in (lamp.length_cm, lamp.width_cm))
    share = (np.arange(along) + 0.5) / along
    rise = lamp.right_cm - lamp.left_cm
    x = lamp.x_cm + (share - 0.5) * np.sqrt(max(lamp.length_cm**2 - rise**2, 1e-6))
    y = lamp.y_cm + ((np.arange(into) + 0.5) / into - 0.5) * lamp.width_cm
    z = lamp.left_cm + share * rise
    each = np.full(along * into, lamp.umol / (along * into))
    slope = np.full(along * into, rise / lamp.length_cm if lamp.length_cm else 0.0)
    return _Pieces(np.tile(x, into), np.repeat(y, along), np.tile(z, into), each, np.clip(slope, -1, 1))


def _images(one: _Pieces, wide_cm: float, deep_cm: float, sides: Sides) -> _Pieces:
    """The pieces, and those seen in the sides."""
    if sides == OPEN:
        return one
    across = [(one.x, one.sine, 1.0)]
    across += [(-one.x, -one.sine, sides.left)] * (sides.left > 0)
    across += [(2 * wide_cm - one.x, -one.sine, sides.right)] * (sides.right > 0)
    into = [(one.y, 1.0)] + [(-one.y, sides.front)] * (sides.front > 0)
    into += [(2 * deep_cm - one.y, sides.back)] * (sides.back > 0)
    made = [_Pieces(x, y, one.z, one.umol * a * b, sine) for x, sine, a in across for y, b in into]
    return _Pieces(*(np.concatenate(columns) for columns in zip(*made, strict=True)))


def _sum(pieces: _Pieces, xs: Array, ys: Array, leaf: float | Array) -> Array:
    """Σ Φ cosε cosθ / d² at each cell, without π."""
    x, y, z = pieces.x[:, None, None], pieces.y[:, None, None], pieces.z[:, None, None]
    h = z - leaf
    if np.ndim(leaf) == 0 and not pieces.sine.any():  # level over level: h²/d⁴
        h2 = np.maximum(h, 0.0) ** 2
        d2 = (np.square(xs[None, None, :] - x) + h2) + np.square(ys[None, :, None] - y)
        np.square(d2, out=d2)
        np.divide(pieces.umol[:, None, None] * h2, d2, out=d2, where=d2 > 0)
        return np.asarray(d2.sum(axis=0))
    dx, dy = xs[None, None, :] - x, ys[None, :, None] - y
    d2 = dx**2 + dy**2 + h**2
    sine = pieces.sine[:, None, None]
    emitted = h * np.sqrt(1 - sine**2) + dx * sine  # cosε × d: it looks down, and towards its higher end
    light = np.maximum(emitted, 0) * np.maximum(h, 0) / np.maximum(d2, 1e-9) ** 2
    return np.asarray((pieces.umol[:, None, None] * light).sum(axis=0))


def daily_light_integral(ppfd_umol: Array | float, hours: Array | float) -> Array:
    """Light received in a day.

    ppfd_umol: [µmol m⁻² s⁻¹], any shape, ≥ 0.  hours: [h], broadcastable, 0–24.  Returns mol m⁻² d⁻¹ in the broadcast shape.  Raises
    ValueError outside those ranges.
    """
    light, long_ = np.asarray(ppfd_umol, np.float64), np.asarray(hours, np.float64)
    if not (np.all(light >= 0) and np.all((long_ >= 0) & (long_ <= 24))):
        raise ValueError("light must not be less than 0, nor hours outside 0 to 24")
    return np.asarray(light * UMOL_H * long_, np.float64)


def cells(length_cm: float, each_cm: float) -> Array:
    """The middles of equal cells of about that size along a length [cm]."""
    count = max(1, round(length_cm / each_cm))
    return np.asarray((np.arange(count) + 0.5) * (length_cm / count), np.float64)


def uniformity(light: Array) -> float:
    """Least over mean, 0–1; 0 where there is no light."""
    mean = float(np.mean(light)) if np.size(light) else 0.0
    return float(np.min(light)) / mean if mean > 0 else 0.0
