"""What is given: feeds as their labels have them, and who was fed."""

from __future__ import annotations

from typing import Any

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.care.models import Feed
from aestiva.frame import say
from aestiva.frame.fields import (
    Amount,
    Choice,
    Flag,
    Row,
    Rows,
    Text,
)
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.things import Keep, Remove, row_of
from aestiva.season.actions import add_events
from aestiva.season.commands import OF_BATCH
from aestiva.season.models import Batch
from growing.care import feed as rules

MOST_TOGETHER = 400

MOST_N = 2000.0
GIVEN = {
    "fed": gettext_lazy("Fed"),
    "granules": gettext_lazy("Granules to"),
    "flushed": gettext_lazy("Salts washed out of"),
}


@register("care.fed")
class Fed(Command):
    """They were fed today, with what was in the can."""

    scope = "tasks"

    batch = Rows(Batch, OF_BATCH, missing=gettext_lazy("choose who was fed"), most=MOST_TOGETHER)
    what = Choice(
        list(GIVEN.items()),
        required=False,
        missing=gettext_lazy("what was given: feed, granules, or plain water to wash salts out?"),
    )
    n = Amount(low=0, high=1e5, label="Nitrogen", required=False)

    def carry_out(self, write: ChangeSet) -> None:
        kind = self.cleaned_data["what"] or "fed"
        n = (self.cleaned_data["n"] or 0.0) if kind == "fed" else 0.0
        if n > MOST_N:
            raise Refused(
                "n", _("%s mg of nitrogen in a litre burns everything: look at spoon and can once more") % f"{n:g}"
            )
        batches = list(self.cleaned_data["batch"].select_related("planting"))
        self.names = list(dict.fromkeys(str(b.planting) for b in batches))
        self.facts = {"what": kind, "batches": len(batches)}
        add_events(write, batches, kind, self.actor.today, self.actor.today, {"n_mg_l": round(n, 1)} if n else {})

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{GIVEN[facts['what']]} {say.plural(facts['batches'], 'batch', 'batches')}"

    def told(self) -> str:
        return f"{GIVEN[self.facts['what']]} {say.listed(self.names, 4)}."


@register("care.feed.keep")
class KeepFeed(Keep):
    """A feed as its label has it."""

    model, called = Feed, "the feed"

    row = row_of(Feed)
    name = Text(most=60, label="Name", missing=gettext_lazy("give it a name"))
    analysis = Flag(label="What is in it is known", initial=True)
    n = Amount(low=0, high=100, label="N, % of the label", required=False)
    p = Amount(low=0, high=100, label="P, %", required=False)
    k = Amount(low=0, high=100, label="K, %", required=False)
    oxides = Flag(label="P and K are oxides, as on most labels", initial=True)
    liquid = Flag(label="It is a liquid")
    g_per_ml = Amount(low=0.1, high=3, label="A millilitre weighs, g", required=False)
    urea = Amount(low=0, high=1, label="Of its nitrogen as urea, 0 to 1", required=False)
    not_with = Text(most=80, label="Not in one can with", required=False)

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        for name in ("n", "p", "k", "urea"):
            found[name] = found.get(name) or 0.0
        n, p, k = found["n"], found["p"], found["k"]
        product = rules.Product(
            "", n, p, k, g_per_ml=found.get("g_per_ml"), urea=found["urea"], analysis=bool(found.get("analysis"))
        )
        wrong = rules.wrong_product(product)
        if wrong and not self.errors:
            self.add_error(None, f"{wrong[0].upper()}{wrong[1:]}.")
        if found.get("analysis") and not (n or p or k) and not self.errors:
            self.add_error("n", _("Give what the label says, or say that nobody knows what is in it."))
        own = found["row"].pk if found.get("row") else None
        if Feed.objects.filter(garden=self.garden, name=found.get("name", "")).exclude(pk=own or 0).exists():
            self.add_error("name", _("There is a feed of that name already."))
        return found


@register("care.feed.remove")
class RemoveFeed(Remove):
    """A feed that the garden has no more."""

    called = "the feed"
    row = Row(Feed)
