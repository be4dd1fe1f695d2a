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


def names(crop: Crop) -> tuple[str, ...]:
    """Everything a crop is called."""
    return (crop.name.lower(), *crop.synonyms)


def holding(crops: Iterable[Crop], text: str) -> list[Crop]:
    """Crops with a name that holds the text, those beginning with it first."""
    wanted = typed(text)
    found = [crop for crop in crops if any(wanted in name for name in names(crop))]
    return sorted(found, key=lambda crop: not any(name.startswith(wanted) for name in names(crop)))


def alike(crops: Iterable[Crop], text: str) -> list[Crop]:
    """Crops spelled much like the text, nearest first."""
    wanted = typed(text)
    scored = [(max(SequenceMatcher(None, wanted, name).ratio() for name in names(crop)), crop) for crop in crops]
    return [crop for score, crop in sorted(scored, key=lambda one: -one[0]) if score >= LIKE][:MOST_LIKE]


def meant(crops: Iterable[Crop], text: str, compare: bool = True) -> Meant:
    """The one crop of exactly that name, synonym or key; otherwise those that it might be.

    compare: whether spellings are compared where no name holds the text, which takes a while.
    """
    known, wanted = list(crops), typed(text)
    held = holding(known, wanted)
    exact = [crop for crop in held if wanted in (*names(crop), crop.key)]
    if len(exact) == 1:
        return Meant(exact[0])
    if held:
        return Meant(None, tuple(exact or held), True)
    by_key = [crop for crop in known if crop.key == wanted]
    if by_key:
        return Meant(by_key[0])
    return Meant(None, tuple(alike(known, wanted)) if compare else ())
