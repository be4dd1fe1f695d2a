"""What do we know about this crop, and from where?  The crop library and its resolution.

Values come from hardiness class, speed class, family and the crop itself, each a table of the TOML files; within a
table the sub-table names the kind of source: `working` (extension practice, see docs/sources.md), `table`
(published tables in `growing/tables`) or `estimate`.  Gardens lay their own values on top with `Crop.overlaid`.
"""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path
from typing import Any

from growing.crops.schema import FIELDS, HARDINESS, OPTIONAL, ORDERED, SPEEDS
from growing.working import Value

SOURCES = ("working", "table", "estimate", "reviewed_medium", "reviewed_high", "reviewed")  # the later goes first
NO_LIMIT = "no such limit"
_HERE = Path(__file__).parent


class CropError(ValueError):
    """A crop or value that cannot stand; the message names the crop, the field, the value and the mend."""


@dataclass(frozen=True, slots=True, eq=False)
class Crop:
    """One crop with every field resolved.

    values: field -> Value(field, number, unit, source); source is "<kind>" or "<kind>:<where inherited>".
    made_of: the key in the library, or what was laid on what: two that are made of the same are the same crop.
    """

    key: str
    name: str
    family: str
    hardiness: str
    values: Mapping[str, Value]
    made_of: tuple[object, ...]
    synonyms: tuple[str, ...] = ()
    table_row: str = ""
    latin: str = ""
    poison: str = ""
    caution_at: tuple[str, ...] = ()
    note: str = ""

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Crop) and self.made_of == other.made_of

    def __hash__(self) -> int:
        return hash(self.made_of)

    def number(self, field: str) -> float:
        """The field's number; raises CropError when the field is a word or missing."""
        value = self.values.get(field)
        number = None if value is None else value.number
        if number.__class__ is float or number.__class__ is int:  # read thousands of times a page
            return number  # type: ignore[return-value]
        raise CropError(f"{self.key}: no number for {field}")

    def maybe(self, field: str) -> float | None:
        """The field's number; None where the crop has no such limit."""
        return self.number(field) if field in self.values else None

    def value(self, field: str) -> Value:
        """The field's value; where the crop has no such limit, a word that says so."""
        return self.values.get(field) or Value(field, NO_LIMIT)

    @property
    def method(self) -> str:
        """How it is usually begun: "raised", or "direct" where nobody raises it or it bears no transplanting."""
        return "direct" if "raise_max" not in self.values or self.word("transplants") == "direct" else "raised"

    def word(self, field: str) -> str:
        return str(self.values[field].number)

    def overlaid(self, layer: str, values: Mapping[str, tuple[Any, str]]) -> Crop:
        """This crop with (value, reason) per field laid on top; `layer` names who says so (garden, lot, planting).

        Raising times of one's own move the others of the three that they would pass, with the same reason; a crop that had
        none, being sown in place, has them then.
        """
        if not values:
            return self
        merged = dict(self.values)
        for field, (number, reason) in values.items():
            merged[field] = _value(self.key, field, number, f"{layer}: {reason}" if reason else layer)
        _raise_together(merged, values)
        laid = tuple(sorted((field, number, reason) for field, (number, reason) in values.items()))
        return checked(replace(self, values=merged, made_of=(self.made_of, layer, laid)))


RAISING = ("raise_min", "raise_max", "hold")


def _raise_together(merged: dict[str, Value], own: Mapping[str, Any]) -> None:
    """Shortest, longest and limit in order: what is own stands, and what it passes goes along."""
    for said in (field for field in RAISING if field in own):
        place = RAISING.index(said)
        for at, other in enumerate(RAISING):
            if other in own:
                continue
            there, limit = merged.get(other), merged[said].number
            if there is None or (there.number < limit if at > place else there.number > limit):  # type: ignore[operator]
                merged[other] = merged[said]._replace(name=other)


def _value(key: str, field: str, number: Any, source: str) -> Value:
    if field not in FIELDS:
        raise CropError(f"{key}: there is no field {field!r}")
    wrong = FIELDS[field].check(number)
    if wrong:
        raise CropError(f"{key}: {FIELDS[field].label} {wrong}")
    return Value(field, number, FIELDS[field].unit, source)


def checked(crop: Crop) -> Crop:
    """The crop itself when its values fit together; raises CropError naming the pair that does not."""
    for low, high in ORDERED:
        if low in crop.values and high in crop.values and crop.number(low) > crop.number(high):
            raise CropError(
                f"{crop.name}: {FIELDS[low].label} ({crop.number(low):g}) is above {FIELDS[high].label}"
                f" ({crop.number(high):g}); change one of them"
            )
    missing = [f for f in FIELDS if f not in crop.values and f not in OPTIONAL]
    if missing:
        raise CropError(f"{crop.key}: no value for {', '.join(missing)}")
    return crop


def _layer(into: dict[str, Value], key: str, table: Mapping[str, Any], where: str) -> None:
    for kind in SOURCES:
        for field, number in table.get(kind, {}).items():
            into[field] = _value(key, field, number, f"{kind}:{where}" if where else kind)


@lru_cache(maxsize=1)
def _classes() -> dict[str, Any]:
    return tomllib.loads((_HERE / "classes.toml").read_text(encoding="utf-8"))


@lru_cache(maxsize=1)
def library() -> Mapping[str, Crop]:
    """Every crop of the library by its permanent key, checked; raises CropError on a bad file."""
    crops: dict[str, Crop] = {}
    for path in sorted(_HERE.glob("*.toml")):
        if path.stem == "classes":
            continue
        data = tomllib.loads(path.read_text(encoding="utf-8"))
        family = data.pop("family")
        for key, table in data.items():
            if key in crops:
                raise CropError(f"{path.name}: {key} is already in the library")
            crops[key] = _read(key, table, family)
    return crops


def _read(key: str, table: Mapping[str, Any], family: Mapping[str, Any]) -> Crop:
    classes, hardiness, speed = _classes(), table["hardiness"], table.get("speed", "medium")
    values: dict[str, Value] = {}
    _layer(values, key, classes["any"], "any crop")
    _layer(values, key, classes["hardiness"][hardiness], hardiness)
    _layer(values, key, classes["speed"][speed], speed)
    _layer(values, key, family, family["name"])
    _layer(values, key, table, "")
    if values["kill_c"].number > values["damage_c"].number:  # type: ignore[operator]  # what kills it damages it
        values["damage_c"] = values["kill_c"]._replace(name="damage_c")
    return checked(
        Crop(
            key=key,
            name=table["name"],
            family=family["name"],
            hardiness=hardiness,
            values=values,
            made_of=(key, table["name"], hardiness, speed),
            synonyms=tuple(table.get("synonyms", ())),
            table_row=table.get("row", ""),
            latin=table.get("latin", ""),
            poison=table.get("poison", ""),
            caution_at=tuple(table.get("caution_at", ())),
            note=table.get("note", ""),
        )
    )


# What a grower would want to hear first where a crop is unlike its family: traits, not sizes.
TRAITS = (
    *(
        "starts",
        "transplants",
        "plants_per_cell",
        "light",
        "soak_h",
        "chill_days",
        "germinate_c",
        "pinch",
        "bury",
        "moisture",
    ),
    *(
        "photoperiod",
        "bolt_days",
        "picked",
        "yields",
        "sun",
        "cool_days",
        "overwinters",
        "autumn_ok",
        "late",
        "frost_gate",
    ),
    *("planting", "plants_min", "crosses", "life"),
)


def unlike_family(crop: Crop) -> list[tuple[Value, Value]]:
    """Traits in which it differs from what is usual in its family and hardiness: (its own, the usual), in the order of work."""
    usual = _families().get(crop.family)
    if usual is None:
        return []
    plain = _read("usual", {"name": "usual", "hardiness": crop.hardiness, "speed": "in place"}, usual)
    pairs = [(crop.value(f), plain.value(f)) for f in TRAITS]
    return [(own, usually) for own, usually in pairs if own.number != usually.number]


@lru_cache(maxsize=1)
def _families() -> dict[str, dict[str, Any]]:
    """The tables of the families by their names."""
    found = {}
    for path in sorted(_HERE.glob("*.toml")):
        if path.stem != "classes":
            family = tomllib.loads(path.read_text(encoding="utf-8"))["family"]
            found[family["name"]] = family
    return found


def from_relative(key: str, name: str, relative: Crop) -> Crop:
    """A garden's own crop that behaves as its relative until told otherwise."""
    values = {f: v._replace(source=f"{v.source.split(':')[0]}:as {relative.name}") for f, v in relative.values.items()}
    made_of = (key, name, relative.made_of)
    return replace(relative, key=key, name=name, values=values, made_of=made_of, synonyms=(), latin="")


def from_class(key: str, name: str, hardiness: str, speed: str) -> Crop:
    """A garden's own crop known only by how much cold it stands and how fast it grows."""
    if hardiness not in HARDINESS or speed not in SPEEDS:
        raise CropError(f"{name}: choose a hardiness and a speed")
    return _read(key, {"name": name, "hardiness": hardiness, "speed": speed}, {"name": "none named"})
