"""How are labels cut, and are they short enough?  Common sheets by their measures in mm, and plain strips."""

from __future__ import annotations

from typing import NamedTuple

A4, LETTER = (210.0, 297.0), (215.9, 279.4)
LEAST_MM, EDGE_MM = 10.0, 4.0  # no label is smaller; a printer cannot print nearer to the edge
IN_MIX = 0.4  # of a strip stands in the mix


class LabelSheet(NamedTuple):
    """A sheet of labels [mm]: page, labels across and down, their size, the margins left and above, the distances between them.

    strip: pushed into the mix, not stuck on.
    """

    name: str
    page: tuple[float, float]
    across: int
    down: int
    width: float
    height: float
    left: float
    top: float
    gap_x: float = 0.0
    gap_y: float = 0.0
    strip: bool = False

    @property
    def labels(self) -> int:
        return self.across * self.down

    def at(self, n: int) -> tuple[float, float]:
        """Left and upper edge [mm] of the label that is the n-th of its page, from 0, row by row."""
        row, column = divmod(n, self.across)
        return self.left + column * (self.width + self.gap_x), self.top + row * (self.height + self.gap_y)


SHEETS = {
    "strips": LabelSheet("Plain strips, 18 on A4, to cut", A4, 1, 18, 150.0, 15.0, 30.0, 13.5, strip=True),
    "strips_short": LabelSheet("Short strips, 36 on A4, to cut", A4, 2, 18, 90.0, 15.0, 15.0, 13.5, strip=True),
    "a4_24": LabelSheet("24 on A4, 70 × 37 mm", A4, 3, 8, 70.0, 37.0, 0.0, 0.5),
    "a4_21": LabelSheet("21 on A4, 63.5 × 38.1 mm", A4, 3, 7, 63.5, 38.1, 7.2, 15.1, 2.5),
    "a4_40": LabelSheet("40 on A4, 52.5 × 29.7 mm", A4, 4, 10, 52.5, 29.7, 0.0, 0.0),
    "a4_65": LabelSheet("65 on A4, 38.1 × 21.2 mm", A4, 5, 13, 38.1, 21.2, 4.75, 10.7, 2.5),
    "letter_30": LabelSheet("30 on letter, 66.7 × 25.4 mm", LETTER, 3, 10, 66.7, 25.4, 4.8, 12.7, 3.2),
}


def own_sheet(width: float, height: float, page: tuple[float, float] = A4, strip: bool = False) -> LabelSheet:
    """Labels of one's own size [mm], as many as a page holds.  Raises ValueError for what cannot be printed or cut."""
    if not width >= LEAST_MM or not height >= LEAST_MM:
        raise ValueError(f"a label of {width:g} × {height:g} mm is too small to be read: {LEAST_MM:g} mm at least")
    room_x, room_y = page[0] - 2 * EDGE_MM, page[1] - 2 * EDGE_MM
    if width > room_x or height > room_y:
        raise ValueError(
            f"a label of {width:g} × {height:g} mm does not fit the page: {room_x:g} × {room_y:g} mm at most"
        )
    across, down = int(room_x // width), int(room_y // height)
    left, top = (page[0] - across * width) / 2, (page[1] - down * height) / 2
    return LabelSheet(f"own, {width:g} × {height:g} mm", page, across, down, width, height, left, top, strip=strip)


def most(places: int, count: int) -> None:
    """Raises ValueError where more labels are asked for than there are cells or pots, or none."""
    if count < 1:
        raise ValueError("give a number of labels, 1 or more")
    if count > places:
        raise ValueError(f"{count} labels are more than there are cells or pots ({places}): ask for that many at most")


def stands_over(sheet: LabelSheet, rim_cm: float, ceiling_cm: float | None) -> float:
    """By how many cm a strip in the mix stands over the lamp or lid above it; 0 where it has room or nothing hangs there."""
    if not sheet.strip or ceiling_cm is None:
        return 0.0
    above = max(sheet.width, sheet.height) / 10 * (1 - IN_MIX)
    return max(0.0, round(rim_cm + above - ceiling_cm, 1))
