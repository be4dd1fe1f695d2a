"""What there is on the bench and where it stands: places, containers, mixes, what is in store."""

from __future__ import annotations

from typing import Any

from django import forms
from django.core.exceptions import ValidationError
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.bench.models import FEEDERS, THINGS, USES, Recipe, Store
from aestiva.frame import say
from aestiva.frame.fields import (
    Amount,
    Choice,
    Count,
    Degrees,
    Duration,
    Flag,
    Length,
    Row,
    Text,
    Volume,
    alike,
)
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.things import Keep, Remove, row_of
from aestiva.season.lamps import hung_anew
from aestiva.season.models import FACING_SAID, HEATED, Container, Spot
from aestiva.season.models.spots import LIT
from growing.bench.mix import wrong_parts
from growing.place.kinds import HOLDERS, HOLDS, carried_by
from growing.shelves.containers import containers

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
MOST_STORED, MOST_CELLS = 1_000_000, 1000


class OneName(Keep):
    """A thing that no other of the garden is called like."""

    def clean_name(self) -> str:
        name, row = str(self.cleaned_data["name"]), self.cleaned_data.get("row")
        others = self.model._default_manager.filter(garden=self.garden, name=name).exclude(pk=row.pk if row else 0)
        if others.exists():
            said = _("There is a %s already: give another name, or change that one.")
            raise ValidationError(said % name)
        return name

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        said = _("Wrote down %(name)s") if facts["made"] else _("Changed %(name)s")
        return said % {"name": say.thing(facts["name"], reader)}


# ---------------------------------------------------------------- containers, lids, mix, labels


@register("bench.container.keep")
class KeepContainer(OneName):
    """A kind of tray, pot or box that the garden has."""

    model, called = Container, "the container"

    row = row_of(Container)
    kind = Choice(lambda: [("", ""), *alike(containers())], required=False, widget=forms.HiddenInput)
    name = Text(most=60, label="Name", missing=gettext_lazy("give it a name"))
    cells = Count(low=1, high=MOST_CELLS, label="Cells")
    length_cm = Length(low=1, high=500, label="Length")
    width_cm = Length(low=1, high=500, label="Width")
    depth_cm = Length(low=1, high=500, label="Depth")
    cell_ml = Volume(low=1, high=200_000, label="Mix in a cell")
    drains = Flag(label="Has holes", initial=True)
    air_pruning = Flag(label="Open to the air below")
    planted = Flag(label="Planted with the plant")
    owned = Count(high=MOST_STORED, required=False, label="How many there are", help_text="empty: nobody has counted")
    to_wash = Count(high=MOST_STORED, required=False, label="Of them to be washed", initial=0)

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        found["to_wash"] = _washed(self, found)
        return found

    def fill(self, row: Any) -> None:
        kind = row.kind if row.pk else self.cleaned_data["kind"]
        super().fill(row)
        row.kind = kind


def _washed(form: Any, found: Facts) -> int:
    """Of those there are, how many are to be washed; the form says it where that cannot be."""
    owned, wash = found.get("owned"), found.get("to_wash") or 0
    if wash > (owned or 0):
        said = _("%s to be washed are more than there are: correct one of the two.")
        form.add_error("to_wash", said % wash)
    return int(wash)


class Gone(Remove):
    """Away with a thing on which nothing hangs."""

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Removed %s") % say.thing(facts["name"], reader)

    def told(self) -> str:
        return _("%s is gone.") % say.thing(self.facts["name"], self.reader)


@register("bench.container.remove")
class RemoveContainer(Gone):
    """A container that the garden has no more."""

    row = Row(Container)


@register("bench.count")
class CountStore(Command):
    """How many lids, litres of mix or labels there are."""

    thing = Choice(THINGS, missing=gettext_lazy("choose what you counted"))
    owned = Amount(low=0, high=MOST_STORED, required=False, label="There are")
    to_wash = Count(high=MOST_STORED, required=False, label="to be washed")

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        found["to_wash"] = _washed(self, found)
        return found

    def carry_out(self, write: ChangeSet) -> None:
        thing, owned = self.cleaned_data["thing"], self.cleaned_data["owned"]
        if thing == "mix" and owned is not None:
            owned = say.stored(owned, "l", self.reader)
        row = Store.objects.filter(garden=self.garden, thing=thing).first() or Store(garden=self.garden, thing=thing)
        row.owned, row.to_wash = owned, self.cleaned_data["to_wash"]
        self.facts = {"thing": thing}
        write.save(row, self.seen if row.pk else None)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Counted %s") % dict(THINGS)[facts["thing"]]


# ---------------------------------------------------------------- mixes


class Parts(Text):
    """“2 coir, 1 sand” or a line each: numbers and names."""

    MOST = 10_000

    def to_python(self, value: Any) -> Any:
        found: list[list[Any]] = []
        text = "" if value is None else str(value)
        for line in filter(None, (one.strip() for piece in text.splitlines() for one in piece.split(","))):
            number, _blank, name = line.partition(" ")
            name = name.strip().removeprefix("parts ").removeprefix("part ").removeprefix("of ").strip()
            try:
                amount = float(number)
            except ValueError:
                raise ValidationError(_("“%s”: begin with a number, such as “2 coir”.") % line[:40]) from None
            if not name or not 0 <= amount <= self.MOST:
                said = _("“%(line)s”: give a number from 0 to %(most)s and what it is, such as “2 coir”.")
                raise ValidationError(said % {"line": line[:40], "most": self.MOST})
            found.append([name[:40], amount])
        return found

    def prepare_value(self, value: Any) -> Any:
        return "\n".join(f"{amount:g} {name}" for name, amount in value) if isinstance(value, list) else value


@register("bench.mix.keep")
class KeepRecipe(OneName):
    """A mix by parts, g and ml in a litre, and water."""

    model, called = Recipe, "the mix"

    row = row_of(Recipe)
    name = Text(most=60, label="Name", missing=gettext_lazy("give it a name"))
    use = Choice(USES, label="It is for")
    feeder = Choice([("", gettext_lazy("any plant")), *FEEDERS[1:]], required=False, label="For plants that are")
    parts = Parts(most=2000, widget=forms.Textarea(attrs={"rows": 3}), label="Parts by volume, one a line: “2 coir”")
    grams = Parts(
        most=2000, widget=forms.Textarea(attrs={"rows": 3}), required=False, label="Grams in a litre: “1.5 lime”"
    )
    millilitres = Parts(
        most=2000, widget=forms.Textarea(attrs={"rows": 3}), required=False, label="Millilitres in a litre: “3 seaweed”"
    )
    water_ml = Volume(low=0, high=900, initial=200.0, label="Water in a litre of mix")
    living = Flag(label="It holds compost or microbes: never scald it")
    fed = Flag(label="It feeds for the first weeks")
    note = Text(most=200, required=False, label="Note")

    def clean_parts(self) -> list[list[Any]]:
        parts: list[list[Any]] = self.cleaned_data["parts"]
        if wrong := wrong_parts(parts):
            raise ValidationError(f"{wrong[0].upper()}{wrong[1:]}.")
        return parts


@register("bench.mix.remove")
class RemoveRecipe(Gone):
    """A mix that is made no more."""

    row = Row(Recipe)


# ---------------------------------------------------------------- places

SAID = [
    ("", gettext_lazy("not said")),
    ("measured", gettext_lazy("measured")),
    ("entered", gettext_lazy("as somebody reckons")),
]
NOT_SAID = ("", "---------")


@register("bench.place.keep")
class KeepPlace(Keep):
    """A place where things stand: what carries it, its size, what is above it, how it is heated and lit."""

    model, called = Spot, "the place"

    row = Row(Spot, required=False, where={"kind__in": HOLDS})
    code = Text(
        most=12, label="Short name", missing=gettext_lazy("give it a short name"),
        help_text="on labels and beside tasks, such as R1·2",
    )  # fmt: skip
    kind = Choice(alike(HOLDS), label="It is a", initial="shelf")
    name = Text(most=60, required=False, label="Name in full")
    parent = Row(
        Spot, required=False, where={"kind__in": HOLDERS}, widget=forms.Select, label="It is in or on",
        help_text="a shelf in its rack, a mat on its shelf", missing=gettext_lazy("choose a place that is here"),
    )  # fmt: skip
    x_cm = Length(low=0, high=50_000, required=False, label="From the left of what carries it")
    length_cm = Length(low=5, high=20_000, required=False, label="Length along the front")
    width_cm = Length(low=5, high=20_000, required=False, label="Depth to the back")
    clear_cm = Length(low=2, high=500, required=False, label="Clear height above it")
    lit = Choice([NOT_SAID, *LIT], required=False, label="Lit by")
    lamp_cm = Length(low=2, high=500, required=False, label="Its lamp hangs above it at")
    sun_h = Duration(low=0, high=24, unit="h", required=False, label="Direct sun a day")
    facing = Choice(FACING_SAID, required=False, label="It looks to the")
    card = Flag(label="A white card stands behind, or white walls beside")
    heated = Choice([NOT_SAID, *HEATED], required=False, label="Heated by")
    set_c = Degrees(low=5, high=45, required=False, label="Its thermostat is set to")
    watts = Amount(low=0, high=20_000, required=False, label="Lamp or mat draws, watts")
    months_said = Choice(SAID, required=False, label="Those temperatures are")
    note = Text(most=200, required=False, label="Note")

    @classmethod
    def columns(cls) -> list[str]:
        return [name for name in super().columns() if name not in cls.month_names()]

    @classmethod
    def month_names(cls) -> list[str]:
        return [f"m{n}" for n in range(12)]

    @classmethod
    def filled_in(cls, row: Any) -> dict[str, Any]:
        return super().filled_in(row) | dict(zip(cls.month_names(), row.months_c or [None] * 12, strict=True))

    @property
    def plain(self) -> list[Any]:
        """The fields above the months."""
        return [
            field for field in self.visible_fields() if field.name not in {*self.month_names(), "months_said", "note"}
        ]

    @property
    def months(self) -> list[Any]:
        return [self[name] for name in self.month_names()]

    def clean_code(self) -> str:
        code, row = str(self.cleaned_data["code"]), self.cleaned_data.get("row")
        if Spot.objects.filter(garden=self.garden, code=code).exclude(pk=row.pk if row else 0).exists():
            raise ValidationError(_("There is a place called %s already: give another name.") % code)
        return code

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        kind, parent, row = found.get("kind"), found.get("parent"), found.get("row")
        lamp, clear = found.get("lamp_cm"), found.get("clear_cm")
        if parent is not None and parent.kind not in carried_by(str(kind)):
            said = {"kind": kind, "parent": parent.kind}
            self.add_error("parent", _("A %(kind)s is not on a %(parent)s: choose what carries it, or nothing.") % said)
        if row is not None and _stands_on(parent, row):
            self.add_error("parent", _("That stands on this one itself: choose another."))
        if lamp and clear and lamp > clear:
            self.add_error("lamp_cm", _("The lamp hangs higher than there is room: check both."))
        if lamp and not found.get("lit"):
            found["lit"] = "lamp"
        if kind == "mat":
            self._mat(found, parent)
        return found

    def _mat(self, found: Facts, parent: Spot | None) -> None:
        """A mat heats, and lies on what carries it."""
        if not found.get("heated"):
            found["heated"] = "thermostat" if found.get("set_c") else "mat"
        if parent is None:
            return
        long, wide = found.get("length_cm"), found.get("width_cm") or 0
        if parent.length_cm and long and (found.get("x_cm") or 0) + long > parent.length_cm + 0.1:
            said = _("It is longer than %s has room for: check length and place.")
            self.add_error("length_cm", said % parent.code)
        if parent.width_cm and wide > parent.width_cm + 0.1:
            self.add_error("width_cm", _("It is deeper than %s: check it.") % parent.code)

    def new(self) -> Spot:
        """It stands after the others."""
        return Spot(garden=self.garden, order=Spot.objects.filter(garden=self.garden).count())

    def fill(self, row: Any) -> None:
        super().fill(row)
        months = [self.cleaned_data[name] for name in self.month_names()]
        row.months_c = months if any(m is not None for m in months) else None
        row.months_said = (self.cleaned_data["months_said"] or "entered") if row.months_c else ""

    def carry_out(self, write: ChangeSet) -> None:
        super().carry_out(write)
        hung_anew(write, self.thing, self.actor.today)

    def told(self) -> str:
        return _("%s is there.") % self.thing.code if self.made else ""


for _number, _month in enumerate(MONTHS):
    KeepPlace.base_fields[f"m{_number}"] = Degrees(low=-40, high=50, required=False, label=_month)


def _stands_on(parent: Spot | None, row: Spot) -> bool:
    """Does that place stand on this one, itself or by what carries it?"""
    while parent is not None:
        if parent.pk == row.pk:
            return True
        parent = parent.parent
    return False


@register("bench.place.remove")
class RemovePlace(Remove):
    """A place at which nothing stood and nothing grows goes; another says why it stays."""

    called = "the place"
    row = Row(Spot, where={"kind__in": HOLDS})

    def carry_out(self, write: ChangeSet) -> None:
        spot = write.touch(self.cleaned_data["row"], self.seen)
        self.facts = {"name": spot.code}
        used = spot.tray_stands.exists() or spot.stands.exists() or Spot.objects.filter(parent=spot).exists()
        meant = spot.raised.exists() or spot.germinated.exists() or spot.awaits.exists() or spot.warm_readings.exists()
        lit = spot.lamps.exists() or spot.lamp_settings.exists() or spot.light_readings.exists()
        if used or meant or lit or spot.areas.exists() or spot.planting_set.exists():
            raise Refused("", _("%s is part of what was written down: rename it, or leave it empty") % spot.code)
        write.delete(spot)

    def told(self) -> str:
        return _("%s is gone.") % self.facts["name"]
