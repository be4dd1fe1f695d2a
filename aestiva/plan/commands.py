"""What is written of the plan beside plantings: prices, days away."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.core.exceptions import ValidationError
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.frame.fields import Day, Price, Row, Text
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.plan.models import Price as PriceRow
from aestiva.season.crops import Crops
from aestiva.season.models import Absence

MOST_PRICE = 100_000


@register("plan.prices")
class SetPrices(Command):
    """What mix, current and plants cost; empty: not known, and said so.  crop: of which a bought plant has a price of its own."""

    crop = Text(most=60, required=False)
    mix = Price(high=MOST_PRICE, places=4, required=False, label="A litre of mix")
    kwh = Price(high=MOST_PRICE, places=4, required=False, label="A kWh of current")
    plant = Price(high=MOST_PRICE, required=False, label="A bought plant, usually")
    own = Price(high=MOST_PRICE, required=False, label="A bought plant of this crop")

    says = gettext_lazy("Changed prices")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        asked = str(self.data.get("crop") or self.initial.get("crop") or "")
        crops = Crops(self.garden)
        self.of = crops[asked] if asked and asked in crops else None

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        if found.get("own") is not None and self.of is None:
            self.add_error("own", _("Of which crop? Choose one that is here."))
        return found

    def places(self) -> dict[str, tuple[str, str]]:
        """Of what each field is the price: its kind, and the crop that it is of alone."""
        found = {"mix": ("mix", ""), "kwh": ("kwh", ""), "plant": ("plant", "")}
        return found if self.of is None else found | {"own": ("plant", self.of.key)}

    def rows(self) -> dict[tuple[str, str], PriceRow]:
        return {(p.kind, p.crop_key): p for p in PriceRow.objects.filter(garden=self.garden)}

    def carry_out(self, write: ChangeSet) -> None:
        rows = self.rows()
        for name, place in self.places().items():
            amount, row = self.cleaned_data.get(name), rows.get(place)
            if amount is None and row is not None:
                write.delete(row)
            elif amount is not None:
                row = row or PriceRow(garden=self.garden, kind=place[0], crop_key=place[1])
                row.amount = amount
                write.save(row)

    def told(self) -> str:
        return _("Prices are kept.")


def _span(facts: Facts) -> dict[str, str]:
    return {end: f"{date.fromisoformat(facts[end]):%-d %B}" for end in ("since", "until")}


@register("plan.away")
class Away(Command):
    """Days on which nobody is there: nothing is sown or set out on them."""

    since = Day(label="Away from")
    until = Day(label="until, that day included")
    note = Text(most=80, required=False, label="Note")

    def row(self) -> Absence:
        """The days as typed, not saved."""
        return Absence(garden=self.garden, **{name: self.cleaned_data[name] for name in ("since", "until", "note")})

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        if not self.errors:
            try:
                Absence(since=found["since"], until=found["until"]).clean()
            except ValidationError as error:
                self.add_error(None, error)
        return found

    def carry_out(self, write: ChangeSet) -> None:
        row = self.row()
        self.facts = {"since": row.since.isoformat(), "until": row.until.isoformat()}
        write.save(row)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Away %(since)s to %(until)s") % _span(facts)

    def told(self) -> str:
        said = self.sentence(self.facts, self.reader)
        return _("%s: nothing is to be sown or set out on those days.") % said


@register("plan.home")
class HomeAfterAll(Command):
    """Days away taken off again."""

    absence = Row(Absence)

    def carry_out(self, write: ChangeSet) -> None:
        row = self.cleaned_data["absence"]
        self.facts = {"since": row.since.isoformat(), "until": row.until.isoformat()}
        write.delete(row, self.seen)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Not away %(since)s to %(until)s after all") % _span(facts)
