"""What is written of seed: packets put in, described, tested; from which packet and in which way a planting is sown."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import ValidationError
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.frame.fields import Amount, Choice, Count, Day, Degrees, Flag, Price, Row, Text, Weight
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.things import Keep
from aestiva.season.crops import Crops
from aestiva.season.models import COLOURS, Lot
from aestiva.seeds.actions import MOST_SEEDS, twin
from aestiva.seeds.forms import STORAGES, check_year, find_crop
from aestiva.seeds.models import SeedTest
from growing.crops import CropError
from growing.crops.schema import FIELDS

FIRST_YEAR, LAST_YEAR = 0, 2200
MOST_LAID_OUT = 10_000


def crop_name(lot: Lot) -> str:
    """The name of a packet's crop, or its key where that is gone."""
    crops = Crops(lot.garden)
    return str(crops[lot.crop_key].name) if lot.crop_key in crops else lot.crop_key


@register("seeds.put")
class PutPacket(Command):
    """A packet into the box; where the same is there already and nobody said what to do, nothing is written and it is asked."""

    crop = Text(most=60, label="Crop", missing=gettext_lazy("which crop is it?"))
    variety = Text(most=60, required=False, label="Variety")
    packed = Count(low=FIRST_YEAR, high=LAST_YEAR, required=False, label="Packed for")
    seeds = Count(high=MOST_SEEDS, required=False, label="Seeds")
    twin = Choice([("add", "add"), ("another", "another")], required=False)

    same: Lot | None = None

    def clean_crop(self) -> Any:
        return find_crop(Crops(self.garden), self.cleaned_data["crop"])

    def clean_packed(self) -> int | None:
        year: int | None = self.cleaned_data["packed"]
        return check_year(year if year is None or year > 99 else 2000 + year, self.actor.today)

    def carry_out(self, write: ChangeSet) -> None:
        typed, answer = self.cleaned_data, self.cleaned_data["twin"]
        lot = Lot(
            garden=self.garden,
            crop_key=typed["crop"].key,
            variety=typed["variety"],
            packed_year=typed["packed"] if typed["packed"] is not None else self.actor.today.year,
            seeds=typed["seeds"],
        )
        self.facts = {"crop": typed["crop"].name, "packet": str(lot), "added": None}
        there = None if answer == "another" else twin(self.garden, lot.crop_key, lot.variety, lot.packed_year)
        if there is None:
            write.save(lot)
        elif answer == "add":
            there = write.fresh(there)
            there.seeds = min(MOST_SEEDS, (there.seeds or 0) + (lot.seeds or 0))
            self.facts |= {"packet": str(there), "added": lot.seeds or 0}
            write.save(there)
        else:
            self.same = there

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        said = _("%(added)s more seeds of %(crop)s %(packet)s")
        if facts["added"] is None:
            said = _("Put in the seed box: %(crop)s %(packet)s")
        return (said % facts).strip()

    def told(self) -> str:
        return "" if self.same is not None else _("%(crop)s %(packet)s is in the box.") % self.facts


class OfPacket(Command):
    """About one packet."""

    tells = False

    row = Row(Lot)

    @property
    def lot(self) -> Lot:
        found: Lot = self.cleaned_data["row"]
        return found

    def save(self, write: ChangeSet) -> None:
        """The packet as it is now."""
        self.facts |= {"crop": crop_name(self.lot), "packet": str(self.lot)}
        write.save(self.lot, self.seen)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return (_("Changed: %(crop)s %(packet)s") % facts).strip()


class Share(Amount):
    """A share as people write it: 85 for 0.85."""

    unit, digits = "%", 1

    def to_python(self, value: Any) -> Any:
        found = super().to_python(value)
        return None if found is None else found / 100

    def prepare_value(self, value: Any) -> Any:
        return super().prepare_value(round(value * 100, 1) if isinstance(value, float) and value <= 1 else value)


@register("seeds.packet")
class PacketFacts(OfPacket, Keep):
    """Quantity, storage, year, price of a packet."""

    model, called = Lot, "the packet"

    variety = Text(most=60, required=False, label="Variety")
    packed_year = Count(low=FIRST_YEAR, high=LAST_YEAR, required=False, label="Packed for")
    seeds = Count(high=MOST_SEEDS, required=False, label="Seeds")
    grams = Weight(low=0, high=100_000, digits=3, required=False, label="or weight")
    seeds_per_g = Amount(low=0.1, high=100_000, required=False, label="Seeds in a gram")
    storage = Choice(STORAGES, required=False, label="Kept in")
    storage_c = Degrees(low=-30, high=50, required=False, label="Where it is kept")
    storage_rh = Amount(low=0, high=100, unit="%", required=False, label="Humidity there")
    treated = Flag(label="Treated seed")
    pelleted = Flag(label="Pelleted")
    primed = Flag(label="Primed")
    saved = Flag(label="Our own seed")
    printed = Share(low=1, high=100, required=False, label="Germination printed on it")
    colour = Choice([("", "---------"), *COLOURS], required=False, label="Flower colour")
    used_up = Flag(label="The packet is empty (its facts stay)")
    origin = Text(most=60, required=False, label="Bought from", help_text="where it was bought")
    price = Price(high=100_000, required=False, label="Price of a packet")
    packet_seeds = Count(low=1, high=MOST_SEEDS, required=False, label="Seeds in a new packet")
    note = Text(most=200, required=False, label="Note")

    def clean_packed_year(self) -> int | None:
        return check_year(self.cleaned_data["packed_year"], self.actor.today)

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        measured = found.get("storage_c") is not None and found.get("storage_rh") is not None
        if found.get("storage") == "own" and not measured and "storage_c" not in self.errors:
            self.add_error("storage_c", _("As measured needs both °C and humidity."))
        return found

    def carry_out(self, write: ChangeSet) -> None:
        self.fill(self.lot)
        self.save(write)


@register("seeds.packet.drop")
class DropFact(OfPacket):
    """One fact of a packet that does not go for it any more; “weeks” are those printed on it."""

    drop = Text(most=40, missing=gettext_lazy("which of its facts?"))

    def carry_out(self, write: ChangeSet) -> None:
        lot, dropped = self.lot, self.cleaned_data["drop"]
        if dropped == "weeks":
            lot.packet = None
        lot.facts = {field: value for field, value in lot.facts.items() if field != dropped}
        self.save(write)


@register("seeds.packet.value")
class OwnValue(OfPacket):
    """One value that goes for this packet, with its reason."""

    field = Choice(
        lambda: [(key, f.label) for key, f in FIELDS.items()], missing=gettext_lazy("of what is it the value?")
    )
    value = Text(most=40, label="Value", missing=gettext_lazy("give the value and why it goes for this packet"))
    why = Text(most=200, label="Why", missing=gettext_lazy("give the value and why it goes for this packet"))

    def carry_out(self, write: ChangeSet) -> None:
        lot, field, spec = self.lot, self.cleaned_data["field"], FIELDS[self.cleaned_data["field"]]
        value: Any = self.cleaned_data["value"]
        if not spec.words:
            number = Amount(low=-1e9, high=1e9, unit=spec.unit, digits=6)
            number.reader = self.reader
            try:
                value = number.clean(value)
            except ValidationError as error:
                raise Refused("value", f"{spec.label}: {error.messages[0]}") from error
        facts = {**lot.facts, field: [value, self.cleaned_data["why"]]}
        try:
            Crops(self.garden)[lot.crop_key].overlaid("lot", {f: (v[0], v[1]) for f, v in facts.items()})
        except CropError as error:
            raise Refused("value", f"{error} {_('Leave that field out, or correct it')}") from error
        lot.facts = facts
        self.save(write)

    def told(self) -> str:
        return _("Kept with the packet: 1. Dates count with it.")


# ---------------------------------------------------------------- tests


@register("seeds.test")
class SeedTested(Command):
    """A germination test: how many of those laid out came."""

    tells = False

    scope = "readings"

    row = Row(Lot)
    on = Day(happened=True, label="Read on")
    sown = Count(low=1, high=MOST_LAID_OUT, label="Seeds laid out")
    up = Count(high=MOST_LAID_OUT, label="Came")
    in_mix = Flag(label="in mix, not on a moist towel")

    says = gettext_lazy("%(up)s of %(sown)s %(packet)s came in a test")

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        sown, up = found.get("sown"), found.get("up")
        if sown is not None and up is not None and up > sown:
            said = _("%(up)s came of %(sown)s laid out: that is more than were there. Which number is mistyped?")
            self.add_error("up", said % {"up": up, "sown": sown})
        return found

    def carry_out(self, write: ChangeSet) -> None:
        typed, lot = (
            {name: self.cleaned_data[name] for name in ("on", "sown", "up", "in_mix")},
            self.cleaned_data["row"],
        )
        self.facts = {"up": typed["up"], "sown": typed["sown"], "packet": str(lot)}
        write.save(SeedTest(lot=lot, **typed))


@register("seeds.test.remove")
class RemoveTest(Command):
    """A test that was none."""

    tells = False

    row = Row(SeedTest, "lot__garden", related=("lot",))

    says = gettext_lazy("Removed a test of %(packet)s")

    def carry_out(self, write: ChangeSet) -> None:
        row = self.cleaned_data["row"]
        self.facts = {"packet": str(row.lot)}
        write.delete(row)
