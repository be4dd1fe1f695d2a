"""May I take my crops along?  The library, or a garden's own crops and values, as TOML out and in."""

from __future__ import annotations

import json
import re
import tomllib
from collections.abc import Iterable, Mapping
from typing import Any, NamedTuple

from growing.crops import Crop, CropError, library
from growing.crops.schema import FIELDS, HARDINESS, SPEEDS, present_name
from growing.files.textfile import megabytes

FORMAT = 1
MOST_BYTES = 512 * 1024
MOST_PROBLEMS = 20
MOST_DOTS = 40  # of a line
TAKEN = frozenset(("compare", "import", "own"))  # addresses beside those of crops


class OwnCrop(NamedTuple):
    """A garden's crop as a file has it: from a relative, or from a hardiness and a speed."""

    key: str
    name: str
    relative: str
    hardiness: str
    speed: str


class OwnValue(NamedTuple):
    """A gardener's own value of one field of a crop, in the field's unit, and the reason given for it."""

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
    """A basic string: JSON's escapes are among TOML's, but for the one sign that JSON leaves as it is."""
    return json.dumps(value, ensure_ascii=False).replace("\x7f", "\\u007f")


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
    if len(data) > MOST_BYTES:
        return Exchange(
            (), (), (f"The file is larger than {megabytes(MOST_BYTES)}, the most that is read: cut it down.",)
        )
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError:
        return Exchange((), (), ("The file is not text in UTF-8: save it so and try again.",))
    if problem := _unreadable(text):
        return Exchange((), (), (problem,))
    try:
        table = tomllib.loads(text)
    except (ValueError, RecursionError) as error:  # not TOML, a number of thousands of digits, or nested without end
        return Exchange((), (), (f"The file is not TOML: {str(error)[:200]}.",))
    if table.get("format", FORMAT) != FORMAT:
        said = str(table["format"])[:20]
        return Exchange((), (), (f"Format {said} is newer than this program, which reads format {FORMAT}.",))
    problems: list[str] = []
    crops = [c for key, entry in _tables(table, "crop", problems).items() if (c := _crop(key, entry, problems))]
    known = {*library(), *(c.key for c in crops)}
    entries = table.get("value", [])
    if not isinstance(entries, list):
        problems.append("“value” must be tables such as [[value]].")
        entries = []
    values = [v for n, entry in enumerate(entries, 1) if (v := _value(n, entry, known, problems))]
    if len(problems) > MOST_PROBLEMS:
        problems[MOST_PROBLEMS:] = [f"and {len(problems) - MOST_PROBLEMS} more."]
    return Exchange(tuple(crops), tuple(values), tuple(problems))


def _unreadable(text: str) -> str:
    """What the reader of TOML must not be given: it takes memory with the square of a name's parts, and reads signs that
    cannot be kept.  Empty where there is no such thing."""
    deep = next((n for n, line in enumerate(text.splitlines(), 1) if line.count(".") > MOST_DOTS), 0)
    if deep:
        return f"Line {deep} has more than {MOST_DOTS} dots: no name of a crop or value has."
    if "\x00" in text or "\\u0000" in text or "\\U00000000" in text:
        return "A text holds a sign that cannot be kept (U+0000): take it out."
    return ""


def usable_key(key: str) -> bool:
    """Can a crop be called so in an address: letters of the alphabet, figures, - and _, and no word of the pages' own?"""
    return re.fullmatch(r"[A-Za-z0-9_-]{1,60}", key) is not None and key not in TAKEN


def _tables(table: Mapping[str, Any], name: str, problems: list[str]) -> dict[str, Any]:
    found = table.get(name, {})
    if isinstance(found, dict):
        return found
    problems.append(f"“{name}” must be tables such as [{name}.my_crop].")
    return {}


def _crop(key: str, entry: Any, problems: list[str]) -> OwnCrop | None:
    if not isinstance(entry, dict) or not isinstance(entry.get("name"), str) or not entry["name"].strip():
        problems.append(f"crop.{key[:60]}: a name is missing.")
        return None
    words = {n: entry.get(n, "") for n in ("relative", "hardiness", "speed")}
    if not usable_key(key):
        problems.append(
            f"crop.{key[:60]}: this key cannot be: letters a to z, figures, - and _ only, at most 60, another word."
        )
    elif not all(isinstance(w, str) for w in words.values()):
        problems.append(f"crop.{key}: relative, hardiness and speed are words.")
    elif key in library():
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
        return None
    field = present_name(entry["field"]) if isinstance(entry["field"], str) else entry["field"]
    if not isinstance(entry["crop"], str) or entry["crop"] not in known:
        problems.append(f"{place}: there is no crop “{str(entry['crop'])[:60]}”.")
    elif not isinstance(field, str) or field not in FIELDS:
        problems.append(f"{place}: there is no field “{str(entry['field'])[:60]}”.")
    elif wrong := FIELDS[field].check(entry["value"]):
        problems.append(f"{place}: {FIELDS[field].label} {wrong}.")
    else:
        return OwnValue(entry["crop"], field, entry["value"], str(entry.get("reason", ""))[:200])
    return None


def fits(crop: Crop, values: Iterable[OwnValue]) -> str:
    """Empty when the crop can carry those values together; otherwise what is wrong."""
    try:
        crop.overlaid("garden", {v.field: (v.value, v.reason) for v in values})
    except CropError as error:
        return str(error)
    return ""
