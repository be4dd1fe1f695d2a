"""Reads the worked chains of docs/rules/worked-chains.md: what goes in, and each line of arithmetic."""

from __future__ import annotations

import re
import tomllib
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Any

from growing.calendar import in_year
from growing.chain.choice import Choice
from growing.chain.dates import PlantingDates, date_planting
from growing.chain.raising import PacketTiming
from growing.crops import Crop, library
from growing.place.computedwarmth import ComputedWarmth
from growing.place.frost import TypedDate, TypedFrost
from growing.place.minima import ComputedFrost, DailySeries
from growing.place.station import Climate, generate
from growing.place.warmth import TypedWarmth, WarmDate
from growing.place.year import PlaceYear

DOC = Path(__file__).resolve().parents[2] / "docs" / "rules" / "worked-chains.md"
LINE = re.compile(r"^([a-z ]+): (\d{4}-\d\d-\d\d)((?: [+−] \d+ (?:weeks?|days?))*) = (\d{4}-\d\d-\d\d)$", re.M)
TERM = re.compile(r"([+−]) (\d+) (week|day)")


@lru_cache(maxsize=16)
def weather(southern: bool, seed: int, years: int, climate: tuple[tuple[str, float], ...]) -> list[DailySeries]:
    """Minima and maxima of a made-up climate."""
    start = date(2024 - years, 1, 16) if southern else date(2024 - years, 7, 16)
    made = generate(Climate(**dict(climate)), southern, seed, start, (date(2026, 3, 1) - start).days)
    return [DailySeries(start, made.tmin), DailySeries(start, made.tmax)]


@dataclass
class Chain:
    title: str
    given: dict[str, Any]
    lines: list[tuple[str, date, str, date]]

    @property
    def computed(self) -> bool:
        """From daily weather, not from typed days."""
        return "climate" in self.given

    def dates(self) -> PlantingDates:
        """The chain as the rules compute it."""
        return date_planting(self.crop(), self.place, self.choice(self.given))

    def crop(self) -> Crop:
        values = {k: (v, "") for k, v in self.given.get("values", {}).items()}
        return library()[self.given["crop"]].overlaid("chain", values)

    @cached_property
    def southern(self) -> bool:
        return float(self.given.get("latitude", 52.4)) < 0

    def weather(self) -> list[DailySeries]:
        """Minima and maxima of its climate."""
        given = dict(self.given["climate"])
        return weather(self.southern, given.pop("seed"), given.pop("years"), tuple(sorted(given.items())))

    @cached_property
    def place(self) -> PlaceYear:
        g = self.given
        days, latitude = frozenset(g.get("sowing_days", range(7))), g.get("latitude", 52.4)
        if self.computed:
            low, high = self.weather()
            warm = ComputedWarmth(self.southern, low, high)
            found = PlaceYear(g["year"], ComputedFrost(self.southern, low), g.get("risk", 0.1), warm, days, latitude)
            return found.under(g.get("cover", ""))
        first = g.get("first_frost")
        climate = TypedFrost(
            self.southern,
            TypedDate(g["last_frost"].month, g["last_frost"].day, g.get("meaning", "average"), g.get("spread", 8)),
            TypedDate(first.month, first.day, "average", 8) if first else None,
        )
        typed = {
            k: tuple(WarmDate(float(c), in_year(d.month, d.day, d.year)) for c, d in g.get(k, {}).items())
            for k in ("soil", "nights")
        }
        warmth = TypedWarmth(typed["soil"], typed["nights"])
        return PlaceYear(g["year"], climate, g.get("risk", 0.1), warmth, days, latitude).under(g.get("cover", ""))

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


def now_said(dates: PlantingDates) -> str:
    """A chain in one line, as the table of situations has it."""

    def day(when: date) -> str:
        return f"{when.day} {when:%b}" + ("" if when.year == 2026 else f" {when.year}")

    until = day(dates.last) if dates.last_known else "unknown"
    chance = "" if dates.chance is None else f", enough in {round(100 * dates.chance)} % of years"
    said = "; ".join(p.code.replace("_", " ") + (f" {p.days} d" if p.days else "") for p in dates.problems)
    window = f"out {day(dates.out.start)}–{day(dates.out.end)}"
    return f"{window}, first {day(dates.first.start)}, until {until}{chance}; said: {said or 'nothing'}"


@lru_cache(maxsize=1)
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
