"""Labels on paper: what is on each, and the sheets as a PDF with a font that has the letters of many tongues."""

from __future__ import annotations

import io
from datetime import date
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple

import segno
from django.conf import settings
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from growing.bench.labels import LabelSheet

FONT = "Labels"
FONT_FILE = Path(settings.BASE_DIR) / "aestiva/frame/static/vendor/fonts/atkinson-hyperlegible-next-static.ttf"
STEM_SHARE = 0.4  # of a strip that goes into the mix and stays empty
QUIET = 2  # modules of white around a code
LEAST_MODULE_MM = 0.33


class Label(NamedTuple):
    """What is on one: crop and variety, when it was sown, where it is, its code, and the address that the code opens."""

    name: str
    variety: str
    sown: str
    where: str
    code: str
    address: str


@lru_cache(maxsize=1)
def _font() -> str:
    pdfmetrics.registerFont(TTFont(FONT, str(FONT_FILE)))
    return FONT


def sown_words(day: date | None, came: date | None) -> str:
    if day is not None:
        return f"sown {day:%-d %b %Y}"
    return f"here since {came:%-d %b %Y}" if came is not None else ""


def sheets_pdf(labels: list[Label], sheet: LabelSheet, title: str) -> bytes:
    """The labels on as many pages as they take; raises ValueError for none."""
    if not labels:
        raise ValueError("choose at least one batch: there is nothing to print")
    out = io.BytesIO()
    font = _font()
    canvas = Canvas(out, pagesize=(sheet.page[0] * mm, sheet.page[1] * mm), invariant=True)
    canvas.setTitle(title)
    for n, label in enumerate(labels):
        place = n % sheet.labels
        if n and place == 0:
            canvas.showPage()
        left, top = sheet.at(place)
        canvas.saveState()
        canvas.translate(left * mm, (sheet.page[1] - top - sheet.height) * mm)
        _draw(canvas, font, label, sheet)
        canvas.restoreState()
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _draw(canvas: Any, font: str, label: Label, sheet: LabelSheet) -> None:
    wide, high = sheet.width, sheet.height
    if sheet.strip:  # cut lines, and a point that goes into the mix
        canvas.setLineWidth(0.2)
        canvas.setDash(1, 2)
        canvas.rect(0, 0, wide * mm, high * mm)
        canvas.setDash()
        wide *= 1 - STEM_SHARE
    pad = 1.5
    side = _code(canvas, label, wide, high, pad)
    room = wide - side - 3 * pad
    lines = _lines(label, high)
    size = min(13.0, (high - 2 * pad) / len(lines) / 0.3528 / 1.18)
    y = high - pad - size * 0.3528 * 0.8
    for k, text in enumerate(lines):
        mine = size * (1.1 if k == 0 else 0.92)
        while mine > 4.5 and pdfmetrics.stringWidth(text, font, mine) / mm > room:
            mine -= 0.25
        while pdfmetrics.stringWidth(text, font, mine) / mm > room and len(text) > 2:
            text = f"{text[:-2]}…"
        canvas.setFont(font, mine)
        canvas.drawString(pad * mm, y * mm, text)
        y -= size * 0.3528 * 1.16


def _lines(label: Label, high: float) -> list[str]:
    """As many lines as there is height for, the name first and the code always."""
    if high < 17:
        return [
            f"{label.name} {label.variety}".strip(),
            f"{label.sown} · {label.where} · {label.code}".replace(" ·  · ", " · "),
        ]
    return [line for line in (label.name, label.variety, label.sown, f"{label.where}  {label.code}".strip()) if line]


def _code(canvas: Any, label: Label, wide: float, high: float, pad: float) -> float:
    """The code at the right end; its side [mm]: none where a module would be too small to be read."""
    made = segno.make(label.address, error="m", micro=False)
    modules = made.symbol_size(border=QUIET)[0]
    side = min(high - 1.0, wide * 0.5)
    if side / modules < LEAST_MODULE_MM:
        return 0.0
    each = side / modules
    x0, y0 = wide - side - pad / 2, (high - side) / 2
    canvas.setFillGray(1)
    canvas.rect(x0 * mm, y0 * mm, side * mm, side * mm, stroke=0, fill=1)
    canvas.setFillGray(0)
    for row, line in enumerate(made.matrix):
        for column, dark in enumerate(line):
            if dark:
                x, y = x0 + (column + QUIET) * each, y0 + side - (row + QUIET + 1) * each
                canvas.rect(x * mm, y * mm, each * mm * 1.01, each * mm * 1.01, stroke=0, fill=1)
    return side
