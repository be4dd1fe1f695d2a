"""How is the season looked at?  Order, filters, days shown, groups laid open: all of it in the address."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any
from urllib.parse import urlencode

from aestiva.frame.forms import EARLIEST, LATEST
from aestiva.plan.overview import STATES, PlanLine
from aestiva.plan.picture.scale import SPANS

ORDERS = {
    "next": "next work",
    "sow": "sowing day",
    "out": "planting out",
    "bed": "bed",
    "family": "family",
    "name": "name",
}
LAYERS = {"now": "as it stands", "made": "with what was first planned", "happened": "what has happened"}
MOST_OPEN = 60
FAR = date.max

_KEYS: dict[str, Callable[[PlanLine], Any]] = {
    "next": lambda one: one.next_day,
    "sow": lambda one: one.days["sow"] or FAR,
    "out": lambda one: one.days["out"] or FAR,
    "bed": lambda one: (one.item.grows_at == "", one.item.grows_at, one.days["out"] or FAR),
    "family": lambda one: (one.item.crop.family, one.name),
    "name": lambda one: one.name,
}


def asked_day(text: str) -> date | None:
    """A day that an address asks for; None where it is none that can be meant."""
    try:
        day = date.fromisoformat(text)
    except ValueError:
        return None
    return day if EARLIEST <= day <= LATEST else None


@dataclass(frozen=True)
class PlanLook:
    """What the address asks for; what it asks for that is not there is left aside."""

    by: str = "sow"
    span: str = "season"
    at: date | None = None
    layer: str = "now"
    find: str = ""
    bed: str = ""
    family: str = ""
    state: str = ""
    opened: tuple[str, ...] = field(default=())

    @classmethod
    def of(cls, asked: Mapping[str, str]) -> PlanLook:
        def one_of(name: str, known: Mapping[str, Any], usual: str) -> str:
            said = asked.get(name, "")
            return said if said in known else usual

        return cls(
            one_of("by", ORDERS, "sow"),
            one_of("span", SPANS, "season"),
            asked_day(asked.get("at", "")),
            one_of("layer", LAYERS, "now"),
            asked.get("find", "").strip()[:60],
            asked.get("bed", "")[:30],
            asked.get("family", "")[:60],
            one_of("state", STATES, ""),
            tuple(key for key in asked.get("open", "")[:4000].split(",") if key)[:MOST_OPEN],
        )

    def address(self, **change: Any) -> str:
        """The query of this look, or of one that differs in something; what is usual is left out."""
        now = {
            "by": self.by if self.by != "sow" else "",
            "span": self.span if self.span != "season" else "",
            "at": self.at.isoformat() if self.at is not None and self.span != "season" else "",
            "layer": self.layer if self.layer != "now" else "",
            "find": self.find,
            "bed": self.bed,
            "family": self.family,
            "state": self.state,
            "open": ",".join(self.opened),
        } | {name: value.isoformat() if isinstance(value, date) else value for name, value in change.items()}
        return "?" + urlencode({name: value for name, value in now.items() if value})

    def toggled(self, key: str) -> str:
        """The address with one group laid open, or folded again."""
        opened = [one for one in self.opened if one != key]
        return self.address(open=",".join(opened if key in self.opened else [*opened, key]))

    @property
    def filters(self) -> bool:
        return bool(self.find or self.bed or self.family or self.state)

    def shows(self, one: PlanLine) -> bool:
        words = f"{one.name} {one.item.grows_at} {one.item.crop.family} {' '.join(one.item.crop.synonyms)}".lower()
        return (
            all(word in words for word in self.find.lower().split())
            and (not self.bed or one.item.grows_at == self.bed)
            and (not self.family or one.item.crop.family == self.family)
            and (not self.state or one.state == self.state)
            and (self.layer != "happened" or one.state != "planned")
        )

    def ordered(self, found: list[PlanLine]) -> list[PlanLine]:
        return sorted((one for one in found if self.shows(one)), key=_KEYS[self.by])
