"""The can: what a spoon of a feed makes of it, the spoon that is right, who is due, and that they were fed."""

from __future__ import annotations

from collections import defaultdict
from datetime import date
from typing import Any, NamedTuple

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.bench.models import Filled
from aestiva.care.draw import can_svg
from aestiva.care.models import Feed
from aestiva.care.round import Stop, the_round
from aestiva.course.light import up_since
from aestiva.course.state import Item, SeasonState, load
from aestiva.frame import say, wording
from aestiva.frame.forms import decimal, whole_number
from aestiva.frame.say import Reader, shown, stored
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import BatchEvent
from growing.care import feed as rules
from growing.care.feeding import Flush, NextFeed, flush, next_feed

USUAL_N = 75.0
USUAL_LITRES = 9.0
USUAL_SPOON = {"metric": ("ml", 5.0), "us": ("US teaspoon", 1.0), "imperial": ("imperial teaspoon", 1.0)}


class Fed(NamedTuple):
    """One batch on the feed page: when it was fed last, when next, litres that its tray takes; are its salts to be washed out."""

    item: Item
    last: date | None
    next: NextFeed
    stops: list[Stop]
    due: bool
    salts: Flush

    @property
    def batch(self) -> int:
        return self.item.batch_pk

    @property
    def target(self) -> float:
        return self.item.crop.number("feed_n_mg_l")

    @property
    def litres(self) -> float:
        return sum(stop.litres for stop in self.stops)


class Can(NamedTuple):
    """Those that are fed alike: what they want [mg/l of nitrogen], who they are, the litres that their trays take."""

    target: float
    fed: list[Fed]
    litres: float

    @property
    def who(self) -> str:
        return say.listed(list(dict.fromkeys(f.item.name for f in self.fed)), 4)


def _litres(fed: list[Fed]) -> float:
    """What their trays take together; a shared tray once."""
    return sum({stop.key: stop.litres for f in fed for stop in f.stops}.values())


def feeding(now: SeasonState) -> list[Fed]:
    """Everything that grows indoors, those that are due first."""
    stops: dict[int, list[Stop]] = defaultdict(list)
    leaves: dict[int, float] = defaultdict(float)
    for stop in the_round(now).stops:
        for part in stop.thing.parts:
            stops[part.batch].append(stop)
            leaves[part.batch] = max(leaves[part.batch], part.growth.leaves)
    here = [i for i in now.items if i.batch is not None and i.raised.growing and i.batch.pk in stops]
    given: dict[tuple[int, str], date] = {}
    feeds: dict[int, list[tuple[date, float | None]]] = defaultdict(list)
    for pk, kind, on, data in (
        BatchEvent.objects.filter(batch__planting__season__garden=now.garden, kind__in=("fed", "granules", "flushed"))
        .order_by("on")
        .values_list("batch_id", "kind", "on", "data")
    ):
        given[pk, kind] = on
        if kind == "fed":
            feeds[pk].append((on, (data or {}).get("n_mg_l")))
    mixes = Filled.objects.filter(recipe__garden=now.garden).select_related("recipe").order_by("on")
    mix = {f.batch_id: (f.recipe.fed, f.on) for f in mixes}
    found = []
    for item in here:
        pk, facts = item.batch_pk, item.raised.facts
        carries, since = mix.get(pk, (None, None))
        up = up_since(item) is not None
        what = next_feed(
            item.crop,
            leaves[pk],
            now.today,
            given.get((pk, "fed")),
            facts.first("potted"),
            carries,
            since,
            given.get((pk, "granules")),
        )
        washed = max(filter(None, (given.get((pk, "flushed")), facts.first("potted"), since)), default=None)
        salts = flush(item.crop, feeds[pk], washed)
        due = up and what.on is not None and what.on <= now.today
        found.append(Fed(item, given.get((pk, "fed")), what, stops[pk], due, salts))
    return sorted(found, key=lambda f: (not f.due, f.next.on or date.max, f.item.full_name))


@garden_view(no_frost="care")
def feed(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None) -> HttpResponse:
    garden, units = request.garden, request.reader
    now = load(garden, clock.today(garden))
    all_of_them = feeding(now)
    due = [f for f in all_of_them if f.due]
    products = list(Feed.objects.filter(garden=garden))
    asked = whole_number(request.GET.get("feed") or request.POST.get("feed"))
    product = next((p for p in products if p.pk == asked), products[0] if products else None)
    also = whole_number(request.GET.get("with"))
    second = next((p for p in products if p.pk == also and p != product), None)
    typed, problem = request.GET, ""
    spoon, spoons = USUAL_SPOON[units.units]
    if typed.get("unit") in rules.SPOONS_ML:
        spoon = typed["unit"]
    litres, amount, water = USUAL_LITRES, spoons * rules.SPOONS_ML[spoon], 0.0
    second_ml = amount
    try:
        litres = stored(_number(typed.get("litres", ""), shown(USUAL_LITRES, "l", units)[0], "litres"), "l", units)
        water = _number(typed.get("water", ""), 0.0, "the water’s salts")
        amount = _number(typed.get("spoon", ""), spoons, "the spoon") * rules.SPOONS_ML[spoon]
        second_ml = _number(typed.get("spoon2", ""), spoons, "the second spoon") * rules.SPOONS_ML[spoon]
    except Refused as wrong:
        problem = str(wrong)
    if second is not None and product is not None:
        problem = problem or rules.wrong_mix(product.name, product.not_with, second.name, second.not_with)
    alike = sorted({f.target for f in due})
    n = whole_number(typed.get("n"))
    target = next((t for t in alike if round(t) == n), alike[0] if alike else USUAL_N)
    context: dict[str, Any] = {
        "view": "care",
        "products": products,
        "product": product,
        "fed": all_of_them,
        "due": due,
        "needed": _litres(due),
        "cans": [Can(t, [f for f in due if f.target == t], _litres([f for f in due if f.target == t])) for t in alike],
        "spoons": rules.SPOONS_ML,
        "unit": spoon,
        "spoon": typed.get("spoon") or f"{spoons:g}",
        "litres_typed": typed.get("litres") or say.number(shown(litres, "l", units)[0]),
        "water": typed.get("water", ""),
        "second": second,
        "second_spoon": typed.get("spoon2") or f"{spoons:g}",
        "volume": shown(1, "l", units)[1],
        "target": target,
        "refused": refused,
        "headline": "What is in the can?",
        "today_day": now.today,
    }
    if product is not None and not problem:
        try:
            beside = None if second is None else (second, second_ml)
            context |= _reckoned(product, (amount, spoon), litres, water, target, units, beside)
        except ValueError as error:
            problem = str(error)
    context["problem"] = problem
    return render(request, "care/feed.html", context, status=422 if refused else 200)


def _reckoned(
    product: Feed,
    taken: tuple[float, str],
    litres: float,
    water: float,
    target: float,
    units: Reader,
    beside: tuple[Feed, float] | None = None,
) -> dict[str, Any]:
    core, (amount, spoon) = core_of(product), taken
    if not core.analysis:
        said = f"{product.name}: strength unknown, only its dilution can be said"
        return {"headline": said, "dilutions": [(n, round(rules.diluted(n, litres))) for n in (5, 10, 20)]}
    found, beside_n = rules.in_can(core, amount, litres, water), 0.0
    if beside is not None:
        other = rules.in_can(core_of(beside[0]), beside[1], litres, water)
        found, beside_n = rules.together([found, other], water), other.n
    judged = rules.verdict(core, found, target, litres, amount, spoon, beside_n)
    return {
        "found": found,
        "judged": judged,
        "headline": wording.headline(judged.working, units),
        "can": can_svg(litres, amount, found, judged, units, spoon),
        "salty": found.ec_high > rules.SEEDLING_EC,
    }


def core_of(row: Feed) -> rules.Product:
    """A feed as the rules see it."""
    return rules.Product(row.name, row.n, row.p, row.k, row.oxides, row.liquid, row.g_per_ml, row.urea, row.analysis)


def _number(text: str, usual: float, what: str) -> float:
    try:
        number = decimal(text)
    except ValueError as error:
        raise Refused("", f"{what}: {error}") from None
    if number is None:
        return usual
    if not 0 <= number < 1e5:
        raise Refused("", f"{what}: {text.strip()[:20]} cannot be")
    return number
