"""Reads the worked chains of docs/rules/worked-chains.md: what goes in, and each line of arithmetic."""

from __future__ import annotations

import re
import tomllib
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from growing.calendar import in_year
from growing.chain.choice import Choice, PacketTiming
from growing.chain.dates import PlantingDates, date_planting
from growing.crops import Crop, library
from growing.place.frost import TypedDate, TypedFrost
from growing.place.warmth import TypedWarmth, WarmDate
from growing.place.year import PlaceYear

DOC = Path(__file__).resolve().parents[2] / "docs" / "rules" / "worked-chains.md"
LINE = re.compile(r"^([a-z ]+): (\d{4}-\d\d-\d\d)((?: [+−] \d+ (?:weeks?|days?))*) = (\d{4}-\d\d-\d\d)$", re.M)
TERM = re.compile(r"([+−]) (\d+) (week|day)")


@dataclass
class Chain:
    title: str
    given: dict[str, Any]
    lines: list[tuple[str, date, str, date]]

    def dates(self) -> PlantingDates:
        """The chain as the rules compute it."""
        g = self.given
        return date_planting(self.crop(), self.place(), self.choice(g))

    def crop(self) -> Crop:
        return library()[self.given["crop"]].overlaid(
            "chain", {k: (v, "") for k, v in self.given.get("values", {}).items()}
        )

    def place(self) -> PlaceYear:
        g = self.given
        southern = g.get("latitude", 52.4) < 0
        first = g.get("first_frost")
        climate = TypedFrost(
            southern,
            TypedDate(g["last_frost"].month, g["last_frost"].day, g.get("meaning", "average"), g.get("spread", 8)),
            TypedDate(first.month, first.day, "average", 8) if first else None,
        )
        year = g["year"]
        warm = {
            k: tuple(WarmDate(float(c), in_year(d.month, d.day, d.year)) for c, d in g.get(k, {}).items())
            for k in ("soil", "nights")
        }
        days = frozenset(g.get("sowing_days", range(7)))
        warmth = TypedWarmth(warm["soil"], warm["nights"])
        return PlaceYear(year, climate, g.get("risk", 0.1), warmth, days, g.get("latitude", 52.4))

    @staticmethod
    def choice(g: dict[str, Any]) -> Choice:
        packet = PacketTiming(**g["packet"]) if "packet" in g else None
        return Choice(
            g.get("method", "raised"), g.get("term", "spring"), g.get("sow_on"), g.get("out_on"), packet, g.get("today")
        )


def total(start: date, terms: str) -> date:
    """The arithmetic of one line, by itself."""
    for sign, number, unit in TERM.findall(terms):
        days = int(number) * (7 if unit == "week" else 1)
        start += timedelta(days=days if sign == "+" else -days)
    return start


def read() -> list[Chain]:
    chains = []
    for part in DOC.read_text(encoding="utf-8").split("\n## ")[1:]:
        title, rest = part.split("\n", 1)
        given = tomllib.loads(rest.split("```toml\n", 1)[1].split("```", 1)[0])
        lines = [
            (m[1], date.fromisoformat(m[2]), m[3], date.fromisoformat(m[4]))
            for m in LINE.finditer(rest.split("```text\n", 1)[1])
        ]
        chains.append(Chain(title.strip(), given, lines))
    return chains
