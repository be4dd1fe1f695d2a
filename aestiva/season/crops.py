"""What does this garden know about a crop?  Library < garden's crop < garden's values < planting."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator
from functools import cached_property
from typing import Any

from django.utils.text import slugify

from aestiva.gardens.models import Garden
from aestiva.season.models import CropValue, GardenCrop, Planting
from growing.crops import Crop, CropError, from_class, from_relative, library
from growing.crops.exchange import usable_key
from growing.crops.names import Meant, alike, holding, meant, typed
from growing.practices import known
from growing.seeds.sowing import How, how_for

MOST_COMPARED = 100  # unknown names for which spellings are compared


def too_many_unknown(open_: Collection[str]) -> list[str]:
    """The problem with a list in which hardly any crop is known."""
    if len(open_) <= MOST_COMPARED:
        return []
    first = ", ".join(list(open_)[:3])
    return [f"{len(open_)} names are no crops that the garden knows ({first}, …): is this the right file and column?"]


def method_of(crop: Crop, said: str) -> str:
    """How it is begun: as somebody said, but nobody raises what has no raising time."""
    return crop.method if said == "raised" and "raise_max" not in crop.values else said


def how_of(planting: Planting, crop: Crop) -> How:
    """The way a planting is sown, what nobody said as usual for its crop."""
    sown_in = {"direct": "place", "winter": "box"}.get(planting.method, planting.sown_in)
    return how_for(crop, sown_in, planting.surplus, planting.per_cell)


def own_crop(
    garden: Garden, name: str, crops: Crops, relative: str = "", hardiness: str = "", speed: str = ""
) -> GardenCrop:
    """A crop of the garden's own, not yet kept, under a key that none has."""
    key = slugify(name)[:50].replace("-", "_") or "crop"
    while key in crops or not usable_key(key):
        key += "_"
    own = GardenCrop(garden=garden, key=key, name=name[:60], relative=relative, hardiness=hardiness, speed=speed)
    crops.take(own)
    return own


class Crops:
    """The crops of one garden, read in two queries and resolved when asked for."""

    def __init__(self, garden: Garden) -> None:
        self.own = {c.key: c for c in GardenCrop.objects.filter(garden=garden)}
        self.changed: dict[str, dict[str, tuple[Any, str]]] = defaultdict(dict)
        for value in CropValue.objects.filter(garden=garden):
            self.changed[value.crop_key][value.field] = (value.value, value.reason)
        self.ways = {field: (way, "the garden's way") for field, way in known(garden.schools).items()}
        self._resolved: dict[str, Crop] = {}
        self._named: dict[str, Meant] = {}
        self._compared = 0
        self.broken: dict[str, str] = {}  # keys whose own values do not stand together, and why: they are left aside

    def take(self, own: GardenCrop) -> None:
        """Know a crop that is about to be kept."""
        self.own[own.key] = own
        self._named.clear()
        self.__dict__.pop("_all", None)

    def __getitem__(self, key: str) -> Crop:
        """The crop with the garden's values on it; KeyError when neither library nor garden has it."""
        if key not in self._resolved:
            plain = self.plain(key)
            try:
                self._resolved[key] = plain.overlaid("garden", self.ways | self.changed.get(key, {}))
            except CropError as error:
                self._resolved[key], self.broken[key] = plain, str(error)
        return self._resolved[key]

    def plain(self, key: str) -> Crop:
        """The crop before the garden's own values."""
        if key not in self.own:
            return library()[key]
        own = self.own[key]
        if own.relative:
            return from_relative(key, own.name, self[own.relative])
        return from_class(key, own.name, own.hardiness, own.speed)

    def name_of(self, key: str) -> str:
        """The crop's name; its key where nobody knows it any more."""
        return self.plain(key).name if key in self else key.replace("_", " ")

    def __contains__(self, key: object) -> bool:
        return key in self.own or key in library()

    def keys(self) -> list[str]:
        """Every key, the library's first."""
        return list(dict.fromkeys([*library(), *self.own]))

    def __iter__(self) -> Iterator[Crop]:
        """Every crop by name."""
        return iter(self._all)

    @cached_property
    def _all(self) -> list[Crop]:
        return sorted((self[k] for k in self.keys()), key=lambda c: c.name.lower())

    def find(self, text: str) -> list[Crop]:
        """Crops whose name or synonym holds the text; else those spelled much like it."""
        return holding(self, text) or alike(self, text)

    def named(self, text: str) -> Meant:
        """The crop that a text means; of a long list spellings are compared only for the first that nobody knows."""
        wanted = typed(text)
        if wanted not in self._named:
            found = meant(self, wanted, compare=self._compared < MOST_COMPARED)
            self._compared += found.crop is None and not found.held
            self._named[wanted] = found
        return self._named[wanted]
