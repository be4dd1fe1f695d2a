"""May I take my crops along?  The library, or a garden's own crops and values, as TOML out and in."""

from __future__ import annotations

import tomllib
from collections.abc import Iterable, Mapping
from typing import Any, NamedTuple

from growing.crops import Crop, CropError, library
from growing.crops.schema import FIELDS, HARDINESS, SPEEDS

FORMAT = 1


class OwnCrop(NamedTuple):
    """A garden's crop as a file has it: from a relative, or from a hardiness and a speed."""

    key: str
    name: str
    relative: str
    hardiness: str
    speed: str


class OwnValue(NamedTuple):
    crop: str
    field: str
    value: Any
    reason: str


class Exchange(NamedTuple):
    """What a file holds, and what is wrong with it by place; nothing is used while there is a problem."""

    crops: tuple[OwnCrop, ...]
    values: tuple[OwnValue, ...]
    problems: tuple[str, ...]


def _text(value: str) -> str:
    escaped = value.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n")
    return f'"{escaped}"'


def _scalar(value: Any) -> str:
    return _text(value) if isinstance(value, str) else f"{value:g}" if isinstance(value, float) else str(value)


def write_library(crops: Iterable[Crop]) -> str:
    """Every crop with every value and its source, for reading elsewhere."""
    lines = ["# Crops with all their values; the comment says where each comes from.", f"format = {FORMAT}", ""]
    for crop in crops:
        lines += [f"[library.{crop.key}]", f"name = {_text(crop.name)}", f"hardiness = {_text(crop.hardiness)}"]
        lines += [f"{f} = {_scalar(v.number)}  # {v.source}" for f, v in crop.values.items()]
        lines.append("")
    return "\n".join(lines)


def write_own(crops: Iterable[OwnCrop], values: Iterable[OwnValue]) -> str:
    """A garden's own crops and values, for another garden."""
    lines = [f"format = {FORMAT}", ""]
    for crop in crops:
        lines += [f"[crop.{crop.key}]", f"name = {_text(crop.name)}"]
        lines += [f"{n} = {_text(t)}" for n in ("relative", "hardiness", "speed") if (t := getattr(crop, n))]
        lines.append("")
    for value in values:
        lines += ["[[value]]", f"crop = {_text(value.crop)}", f"field = {_text(value.field)}",
                  f"value = {_scalar(value.value)}", f"reason = {_text(value.reason)}", ""]  # fmt: skip
    return "\n".join(lines)


def read_own(data: bytes) -> Exchange:
    """A file of own crops and values, checked; never raises for its contents."""
    try:
        table = tomllib.loads(data.decode("utf-8"))
    except UnicodeDecodeError:
        return Exchange((), (), ("The file is not text in UTF-8: save it so and try again.",))
    except tomllib.TOMLDecodeError as error:
        return Exchange((), (), (f"The file is not TOML: {error}.",))
    if table.get("format", FORMAT) != FORMAT:
        return Exchange((), (), (f"Format {table['format']} is newer than this program, which reads format {FORMAT}.",))
    problems: list[str] = []
    crops = [c for key, entry in _tables(table, "crop", problems).items() if (c := _crop(key, entry, problems))]
    known = {*library(), *(c.key for c in crops)}
    values = [v for n, entry in enumerate(table.get("value", []), 1) if (v := _value(n, entry, known, problems))]
    return Exchange(tuple(crops), tuple(values), tuple(problems))


def _tables(table: Mapping[str, Any], name: str, problems: list[str]) -> dict[str, Any]:
    found = table.get(name, {})
    if isinstance(found, dict):
        return found
    problems.append(f"“{name}” must be tables such as [{name}.my_crop].")
    return {}


def _crop(key: str, entry: Any, problems: list[str]) -> OwnCrop | None:
    if not isinstance(entry, dict) or not isinstance(entry.get("name"), str) or not entry["name"].strip():
        problems.append(f"crop.{key}: a name is missing.")
        return None
    words = {n: str(entry.get(n, "")) for n in ("relative", "hardiness", "speed")}
    if key in library():
        problems.append(f"crop.{key}: the library has a crop of this key; give it another.")
    elif words["relative"] and words["relative"] not in library():
        problems.append(f"crop.{key}: its relative “{words['relative']}” is not in the library.")
    elif not words["relative"] and (words["hardiness"] not in HARDINESS or words["speed"] not in SPEEDS):
        problems.append(
            f"crop.{key}: give a relative, or a hardiness ({', '.join(HARDINESS)}) and a speed ({', '.join(SPEEDS)})."
        )
    else:
        return OwnCrop(key, entry["name"].strip()[:60], **words)
    return None


def _value(number: int, entry: Any, known: set[str], problems: list[str]) -> OwnValue | None:
    place = f"value {number}"
    if not isinstance(entry, dict) or not {"crop", "field", "value"} <= set(entry):
        problems.append(f"{place}: crop, field and value are needed.")
    elif entry["crop"] not in known:
        problems.append(f"{place}: there is no crop “{entry['crop']}”.")
    elif entry["field"] not in FIELDS:
        problems.append(f"{place}: there is no field “{entry['field']}”.")
    elif wrong := FIELDS[entry["field"]].check(entry["value"]):
        problems.append(f"{place}: {FIELDS[entry['field']].label} {wrong}.")
    else:
        return OwnValue(entry["crop"], entry["field"], entry["value"], str(entry.get("reason", ""))[:200])
    return None


def fits(crop: Crop, values: Iterable[OwnValue]) -> str:
    """Empty when the crop can carry those values together; otherwise what is wrong."""
    try:
        crop.overlaid("garden", {v.field: (v.value, v.reason) for v in values})
    except CropError as error:
        return str(error)
    return ""
