"""What is written of care: looks and water, what is measured once, feeds, roots and pots, what is wrong."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, NamedTuple

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.bench.models import POUR, Timer
from aestiva.care.models import AIR, OUTCOMES, Ailment, AirLook, Feed, PotLook, Sprayer, TrayLook, TrayWeight, WaterLook
from aestiva.care.moving import KINDS
from aestiva.care.round import Stop, the_round
from aestiva.care.stages import moved, moved_said
from aestiva.care.weigh import keep_weights
from aestiva.course.finishing import write_done
from aestiva.course.light import up_since
from aestiva.course.state import load
from aestiva.emergence.commands import StageSeen
from aestiva.frame import say
from aestiva.frame.fields import (
    Amount,
    Choice,
    Count,
    Duration,
    Flag,
    Keys,
    Row,
    Rows,
    Text,
    Volume,
    Weight,
    Words,
    alike,
)
from aestiva.frame.say import Reader
from aestiva.frame.wording import STEPS
from aestiva.gardens import clock
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.things import Keep, Remove, row_of
from aestiva.season.actions import MANY, add_event, add_events, split
from aestiva.season.commands import OF_BATCH, OfBatch
from aestiva.season.models import Batch, Spot, Tray
from growing.care import feed as rules
from growing.care.moving import EVENTS
from growing.care.spray import seconds
from growing.care.trouble import book, wrong_treatment
from growing.care.water import FOUND, by_weight

POUR_OFF = timedelta(minutes=20)
POURS = "pour off what stands under the trays"
MOST_TOGETHER = 400
HEAVIEST_G = 200_000


# ---------------------------------------------------------------- the round


class Subject(NamedTuple):
    """A tray, or pots of one batch: what the round stops at."""

    tray: Tray | None
    batch: Batch | None


class OfStop(Command):
    """About one stop of the round: “t12” a tray, “b7” pots of a batch."""

    scope = "tasks"

    stop = Text(most=20, missing=gettext_lazy("choose a tray that is here"))

    def subject(self, key: str) -> Subject:
        """The tray or the pots that a key names.  Raises Refused where there is none."""
        pk = int(key[1:]) if key[1:].isdecimal() and len(key) < 19 else 0
        tray = Tray.objects.filter(pk=pk, garden=self.garden).first() if key[:1] == "t" else None
        batch = Batch.objects.filter(**{"pk": pk, OF_BATCH: self.garden}).first() if key[:1] == "b" else None
        if tray is None and batch is None:
            raise Refused("stop", _("that tray is not here any more: look at the round again"))
        return Subject(tray, batch)

    def tray(self) -> Tray:
        """The tray that it is about; pots are none."""
        key = self.cleaned_data["stop"]
        found = self.subject(key).tray if key[:1] == "t" else None
        if found is None:
            raise Refused("stop", _("weights are of trays: choose one that is here"))
        return found

    def write_look(self, write: ChangeSet, stop: Stop, found: str, watered: bool) -> None:
        """How one stop was found, and that it was watered."""
        tray, batch = self.subject(stop.key)
        row: WaterLook
        row = TrayLook(tray=tray) if tray is not None else PotLook(batch=batch)
        row.day, row.hour, row.found, row.watered = self.actor.today, self.actor.hour, found, watered
        if watered:
            row.given_ml = round(stop.tray.dose_ml(found) or stop.tray.dose_ml("pale"))
        write.save(row)


@register("care.look")
class Look(OfStop):
    """One tray: how it was found, and whether it was watered."""

    found = Choice(alike(FOUND), missing=gettext_lazy(f"how was it: {', '.join(FOUND)}?"))
    watered = Flag()

    def carry_out(self, write: ChangeSet) -> None:
        typed = self.cleaned_data
        tray, batch = self.subject(typed["stop"])
        stops = the_round(load(self.garden, self.actor.today)).stops
        stop = next((s for s in stops if s.key == typed["stop"]), None)
        if stop is None:
            raise Refused("stop", _("nothing lives there any more that wants water"))
        self.who = stop.who
        self.facts = {"what": str(tray or batch), "found": typed["found"], "watered": typed["watered"]}
        self.write_look(write, stop, typed["found"], typed["watered"])
        if typed["watered"]:
            self._pour_off(write)

    def _pour_off(self, write: ChangeSet) -> None:
        """One timer for the round: it rings twenty minutes after the last that was watered from below."""
        now = clock.instant()
        row = Timer.objects.filter(garden=self.garden, kind=POUR, done_at=None).first()
        if row is None:
            row = Timer(garden=self.garden, kind=POUR, what=POURS, started=now, due=now)
        row.due = now + POUR_OFF
        write.save(row)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return (_("%(what)s: watered") if facts["watered"] else _("%(what)s: found %(found)s")) % facts

    def told(self) -> str:
        return self.sentence(self.facts | {"what": self.who}, self.reader).replace(_("found "), "") + "."


@register("care.fine")
class Fine(OfStop):
    """Those of which nobody expects that they want water: looked at, and left, in one entry."""

    stop = Keys(missing=gettext_lazy("choose at least one tray"))  # type: ignore[assignment]

    def carry_out(self, write: ChangeSet) -> None:
        stops = {s.key: s for s in the_round(load(self.garden, self.actor.today)).stops}
        keys = [key for key in self.cleaned_data["stop"] if key in stops]
        if not keys:
            raise Refused("stop", _("choose at least one tray"))
        self.facts = {"trays": len(keys)}
        for key in keys:
            self.write_look(write, stops[key], stops[key].next.expects, False)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("%s looked at and left") % say.plural(facts["trays"], "tray")


@register("care.weigh")
class Weigh(OfStop):
    """What a tray weighs now: a look, without lifting by hand."""

    scope = "readings"

    grams = Weight(low=0, high=HEAVIEST_G, label="Weight")

    def carry_out(self, write: ChangeSet) -> None:
        tray = self.tray()
        self.rows = keep_weights(write, tray, [(self.actor.today, self.actor.hour, self.cleaned_data["grams"])])
        self.facts = {"tray": tray.code, "found": self.rows[0].found if self.rows else ""}

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("%(tray)s weighed: %(found)s") % facts

    def told(self) -> str:
        said = [_("watered since") if r.watered else _("%s left") % say.percent(r.left or 0.0) for r in self.rows]
        return f"{self.facts['tray']}: {said[0]}." if said else ""


@register("care.poured")
class PouredOff(OfStop):
    """What was poured off of the last dose of a tray: the next one is less."""

    SHARES = {"none": 0.0, "some": 0.3, "much": 0.6}

    over = Choice(alike(SHARES), missing=gettext_lazy("how much was poured off: none, some, much?"))

    def carry_out(self, write: ChangeSet) -> None:
        tray, over = self.tray(), self.cleaned_data["over"]
        row = TrayLook.objects.filter(tray=tray, day=self.actor.today, watered=True).last()
        if row is None:
            raise Refused("stop", _("that tray was not watered today: nothing to pour off"))
        self.facts = {"tray": tray.code, "over": over}
        row.over = self.SHARES[over]
        write.save(row)

    says = gettext_lazy("%(tray)s: %(over)s poured off")

    def told(self) -> str:
        less = _("as before") if self.facts["over"] == "none" else _("less")
        return _("%(tray)s: its next dose is %(less)s.") % {"tray": self.facts["tray"], "less": less}


# ---------------------------------------------------------------- measured once; air


@register("care.sprayer")
class MeasureSprayer(Command):
    """What came out of the sprayer in a time: measured once."""

    ml = Volume(low=0, high=1e6, label="Measure")
    seconds = Duration(low=0, high=1e6, unit="s", label="Seconds")

    says = gettext_lazy("Measured the sprayer")

    def carry_out(self, write: ChangeSet) -> None:
        ml, took = self.cleaned_data["ml"], self.cleaned_data["seconds"]
        try:
            seconds(1.0, ml, took)
        except ValueError as error:
            raise Refused("ml", str(error)) from error
        row = Sprayer.objects.filter(garden=self.garden).first()
        row = Sprayer(garden=self.garden) if row is None else write.touch(row, self.seen)
        row.ml, row.seconds = ml, took
        write.save(row)

    def told(self) -> str:
        return _("The sprayer is measured; doses stand in seconds from now on.")


@register("care.weights")
class TrayWeights(Command):
    """What a tray weighs drained and dry."""

    tray = Row(Tray)
    drained = Weight(low=-1e6, high=HEAVIEST_G, label="Drained")
    dry = Weight(low=-1e6, high=HEAVIEST_G, label="Dry")

    says = gettext_lazy("%(tray)s: what it weighs drained and dry")

    def carry_out(self, write: ChangeSet) -> None:
        tray, drained, dry = (self.cleaned_data[name] for name in ("tray", "drained", "dry"))
        try:
            by_weight(drained, dry, drained)
        except ValueError as error:
            raise Refused("dry", str(error)) from error
        self.facts = {"tray": tray.code}
        row = TrayWeight.objects.filter(tray=tray).first()
        row = TrayWeight(tray=tray) if row is None else write.touch(row, self.seen)
        row.drained_g, row.dry_g = drained, dry
        write.save(row)

    def told(self) -> str:
        return _("%s: watered again at half between those two weights.") % self.facts["tray"]


ALL_PLACES = "all"


@register("care.air")
class Air(Command):
    """The fan on or off, brushed, the humidity read: of one place, or of all where something stands."""

    scope = "readings"

    what = Choice(alike(AIR), missing=gettext_lazy(f"what was it: {', '.join(AIR)}?"))
    spot = Text(most=20, missing=gettext_lazy("choose a place on which something stands"))
    number = Amount(low=1, high=100, unit="%", label="Humidity", required=False)

    def carry_out(self, write: ChangeSet) -> None:
        what, spot, percent = (self.cleaned_data[name] for name in ("what", "spot", "number"))
        if what == "humidity" and percent is None:
            raise Refused("number", _("humidity: give a number"))
        if spot == ALL_PLACES:
            stops = the_round(load(self.garden, self.actor.today)).stops
            spots = list({s.spot.pk: s.spot for s in stops if s.spot is not None}.values())
        else:
            spots = list(Spot.objects.filter(pk=Row.sane(spot), garden=self.garden))
        if not spots:
            raise Refused("spot", _("choose a place on which something stands"))
        percent = percent if what == "humidity" else None
        self.facts = {"what": what, "percent": percent, "places": [spot.code for spot in spots]}
        for spot in spots:
            write.save(AirLook(spot=spot, day=self.actor.today, hour=self.actor.hour, what=what, number=percent))

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        places = facts["places"]
        where = places[0] if len(places) == 1 else say.plural(len(places), "place")
        percent = f"{facts['percent'] or 0:g}"
        said = {
            "fan on": _("Fan on"),
            "fan off": _("Fan off"),
            "brushed": _("Brushed"),
            "humidity": _("%s %% humidity") % percent,
        }[facts["what"]]
        return f"{said}: {where}"


# ---------------------------------------------------------------- feeds

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


# ---------------------------------------------------------------- moving on


@register("care.stage")
class Stage(StageSeen):
    """How far one batch is; what its days become by it."""

    def told(self) -> str:
        batch = self.of
        after = load(self.garden, self.actor.today, [batch.planting_id]).item_of(batch.pk)
        changed = "" if after is None else moved_said(moved(self.before, after), self.actor.today)
        return f"{super().told()} {changed}{'.' if changed else ''}".strip()


@register("care.roots")
class Roots(OfBatch):
    """What was seen of the roots, and whether leaves stand over each other: two taps."""

    roots = Choice(alike(EVENTS), missing=gettext_lazy(f"what do the roots look like: {', '.join(EVENTS)}?"))
    crowded = Flag()

    says = gettext_lazy("Roots of %(what)s: %(roots)s")

    def carry_out(self, write: ChangeSet) -> None:
        batch, today = self.held(write), self.actor.today
        item = load(self.garden, today, [batch.planting_id]).item_of(batch.pk)
        if item is None or up_since(item) is None:
            raise Refused("batch", _("nothing of it is up yet, as far as anybody wrote down: count them first"))
        self.facts = {"what": str(batch.planting), "roots": self.cleaned_data["roots"]}
        add_event(write, batch, EVENTS[self.cleaned_data["roots"]], today, today)
        if self.cleaned_data["crowded"]:
            add_event(write, batch, "crowded", today, today)


@register("care.done")
class MovedOn(OfBatch):
    """The work that is due, done; fewer than all leave the rest open."""

    kind = Choice(lambda: [(k, STEPS[k].verb) for k in KINDS], missing=gettext_lazy("choose the work that was done"))
    count = Count(high=MANY, required=False, label="Count")

    def carry_out(self, write: ChangeSet) -> None:
        batch, kind, count = self.of, self.cleaned_data["kind"], self.cleaned_data["count"]
        today, user = self.actor.today, self.actor.user
        now = load(self.garden, today, [batch.planting_id])
        todo = next((t for t in now.todos(now.horizon, KINDS) if t.batch == batch and t.task.kind == kind), None)
        if todo is None:
            raise Refused("kind", _("there is nothing of that kind to do with them any more: look at the page again"))
        self.facts = {"what": str(batch.planting), "kind": kind, "count": count}
        write.touch(batch, self.seen)
        write_done(write, now, user, todo, today, today, count)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        many = "" if facts["count"] is None else f", {facts['count']}"
        return f"{STEPS[facts['kind']].verb} {facts['what']}{many}"

    def told(self) -> str:
        return f"{super().told()} {_('It can be taken back.')}"


@register("care.separate")
class Separate(OfBatch):
    """Those that are too many in their cells are separated and all kept, not thinned."""

    says = gettext_lazy("%(what)s: separated, not thinned")

    def carry_out(self, write: ChangeSet) -> None:
        batch = self.held(write)
        if batch.surplus == "keep":
            raise Refused("surplus", _("they are to be separated already"))
        self.facts = {"what": str(batch.planting)}
        batch.surplus = "keep"
        write.save(batch)

    def told(self) -> str:
        return _("%s: separated and all kept, each in a cell of its own.") % self.facts["what"]


OVER = {
    "keep": gettext_lazy("Kept as spares"),
    "give": gettext_lazy("Given away"),
    "sell": gettext_lazy("Sold"),
    "snip": gettext_lazy("Snipped"),
}


@register("care.over")
class WhatIsOver(OfBatch):
    """What becomes of those that are over."""

    way = Choice(list(OVER.items()), missing=gettext_lazy("choose what becomes of them"))
    count = Count(low=1, high=MANY, label="Count")

    def carry_out(self, write: ChangeSet) -> None:
        way, count, today = self.cleaned_data["way"], self.cleaned_data["count"], self.actor.today
        batch = self.held(write)
        self.facts = {"what": str(batch.planting), "way": way, "count": count}
        if way == "keep":
            split(write, batch, count, today, today)
            return
        kind, note = "thinned" if way == "snip" else "given", "sold" if way == "sell" else ""
        add_event(write, batch, kind, today, today, count=count, note=note)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{OVER[facts['way']]}: {facts['count']} {facts['what']}"

    def told(self) -> str:
        return f"{super().told()} {_('It can be taken back.')}"


# ---------------------------------------------------------------- trouble


def _causes() -> list[tuple[str, str]]:
    return [(cause.key, cause.name) for cause in book().causes.values()]


@register("care.trouble")
class TakenFor(OfBatch):
    """It is taken for that, and that was done; those taken out are written down with their cause."""

    s = Words(lambda: alike(book().signs), missing=gettext_lazy("what is it that you see? Choose at least one sign"))
    cause = Choice(_causes, missing=gettext_lazy("choose what it is taken for"))
    act = Text(most=40, required=False)
    product = Text(most=60, required=False)
    on_label = Flag()
    wait_days = Count(high=3650, required=False, label="Days to wait")
    taken = Count(high=MANY, required=False, label="Taken out")

    says = gettext_lazy("%(what)s: %(cause)s; %(act)s")

    def answers(self) -> dict[str, str]:
        """What was answered to the questions; what nobody knows is left out."""
        given = {q.key: self.data.get(f"q_{q.key}", "") for q in book().questions.values()}
        return {key: answer for key, answer in given.items() if answer in book().questions[key].answers}

    def carry_out(self, write: ChangeSet) -> None:
        typed, today, known = self.cleaned_data, self.actor.today, book()
        signs = [sign for sign in known.signs if sign in typed["s"]]
        cause = known.causes[typed["cause"]]
        if typed["act"] not in (*cause.acts, "other", "nothing"):
            raise Refused("act", _("choose what was done, or “nothing yet”"))
        self._label(typed)
        batch, taken = self.held(write), typed["taken"] or 0
        self.facts = {"what": str(batch.planting), "cause": cause.name, "act": typed["act"]}
        write.save(
            Ailment(
                batch=batch,
                day=today,
                signs=",".join(signs),
                answers=",".join(f"{key}={answer}" for key, answer in self.answers().items()),
                cause=cause.key,
                act=typed["act"],
                product=typed["product"],
                lost=taken,
            )
        )
        if taken:
            add_event(write, batch, "died", today, today, count=taken, note=cause.name)

    def _label(self, typed: Facts) -> None:
        """Raise Refused for a product that its label does not allow here."""
        if not typed["product"]:
            return
        planting = self.of.planting_id
        now = load(self.garden, self.actor.today, [planting])
        item = next((i for i in now.items if i.planting.pk == planting), None)
        edible = item is not None and item.crop.word("yields") == "harvest"
        until = None if item is None else (item.raised.dates.first.start - now.today).days
        if wrong := wrong_treatment(edible, typed["product"], typed["on_label"], typed["wait_days"], until):
            raise Refused("product", wrong)

    def told(self) -> str:
        return _("%(what)s: %(cause)s. Say what became of it when you know.") % self.facts


@register("care.trouble.ended")
class TroubleEnded(Command):
    """What became of it, and how many were lost; what it really was, where that turned out otherwise."""

    scope = "tasks"

    ailment = Row(Ailment, f"batch__{OF_BATCH}")
    outcome = Choice(alike(OUTCOMES[1:]), missing=gettext_lazy("what became of it: better, the same, or lost?"))
    lost = Count(high=MANY, required=False, label="Lost")
    cause = Choice(_causes, required=False, missing=gettext_lazy("choose what it really was"))

    says = gettext_lazy("%(what)s: %(cause)s, %(outcome)s")

    def carry_out(self, write: ChangeSet) -> None:
        typed, today = self.cleaned_data, self.actor.today
        row = write.touch(typed["ailment"], self.seen)
        lost, cause = typed["lost"] or 0, typed["cause"] or row.cause
        name = book().causes[cause].name
        self.facts = {"what": str(row.batch.planting), "cause": name, "outcome": typed["outcome"]}
        if lost:
            add_event(write, row.batch, "died", today, today, count=lost, note=name)
        row.outcome, row.ended, row.cause, row.lost = typed["outcome"], today, cause, min(MANY, row.lost + lost)
        write.save(row)

    def told(self) -> str:
        return _("%(what)s: %(outcome)s. It can be taken back.") % self.facts
