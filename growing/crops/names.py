"""Which crop does somebody mean?  Names and synonyms as people type them, with their slips."""

from __future__ import annotations

from collections.abc import Iterable
from difflib import SequenceMatcher
from typing import NamedTuple

from growing.crops import Crop

LIKE = 0.72  # how alike two spellings must be, 0–1
LONGEST = 60  # letters of a name
MOST_LIKE = 6


class Meant(NamedTuple):
    """The crop that a text names, or None and those that it might; held: the text is part of a name of each of them."""

    crop: Crop | None
    like: tuple[Crop, ...] = ()
    held: bool = False

    @property
    def likely(self) -> Crop | None:
        """The crop meant, also where the text is only a part of one crop's name."""
        return self.like[0] if self.crop is None and self.held and len(self.like) == 1 else self.crop


def typed(text: str) -> str:
    """A name as it is compared."""
    return text.strip().lower()[:LONGEST]


def singular(text: str) -> str:
    """A name without its plural ending: tomatoes, strawberries, radishes, leeks."""
    if text.endswith("ies") and len(text) > 4:
        return text[:-3] + "y"
    if text.endswith(("oes", "shes", "ches", "xes", "sses")):
        return text[:-2]
    return text[:-1] if text.endswith("s") and not text.endswith(("ss", "us", "is")) and len(text) > 3 else text


def names(crop: Crop) -> tuple[str, ...]:
    """Everything a crop is called."""
    return (crop.name.lower(), *crop.synonyms)


def holding(crops: Iterable[Crop], text: str) -> list[Crop]:
    """Crops with a name that holds the text, or its singular: those whose own name begins with it first."""
    wanted = singular(typed(text))
    found = [crop for crop in crops if any(wanted in name for name in names(crop))]

    def rank(crop: Crop) -> int:
        starts = [name.startswith(wanted) for name in names(crop)]
        return 0 if starts[0] else 1 if any(starts) else 2

    return sorted(found, key=rank)


def alike(crops: Iterable[Crop], text: str) -> list[Crop]:
    """Crops spelled much like the text, nearest first."""
    wanted = typed(text)
    scored = [(max(_likeness(wanted, name) for name in names(crop)), crop) for crop in crops]
    return [crop for score, crop in sorted(scored, key=lambda one: -one[0]) if score >= LIKE][:MOST_LIKE]


def _likeness(wanted: str, name: str) -> float:
    """How alike two spellings are, 0–1; 0 where their lengths, or their letters, already say that they are not."""
    if 2 * min(len(wanted), len(name)) < LIKE * (len(wanted) + len(name)):
        return 0.0
    match = SequenceMatcher(None, wanted, name)
    return match.ratio() if match.quick_ratio() >= LIKE else 0.0


def meant(crops: Iterable[Crop], text: str, compare: bool = True) -> Meant:
    """The one crop of exactly that name, synonym or key, in one or many; otherwise those that it might be.

    compare: whether spellings are compared where no name holds the text, which takes a while.
    """
    known, wanted = list(crops), typed(text)
    held = holding(known, wanted)
    exact = [crop for crop in held if wanted in names(crop)] or [
        crop for crop in held if singular(wanted) in map(singular, names(crop))
    ]
    if len(exact) == 1:
        return Meant(exact[0])
    if held:
        return Meant(None, tuple(exact or held), True)
    by_key = [crop for crop in known if crop.key == wanted]
    if by_key:
        return Meant(by_key[0])
    return Meant(None, tuple(alike(known, wanted)) if compare else ())
