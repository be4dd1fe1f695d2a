"""Seeds: what have I, will it come, how many do I sow?"""

from __future__ import annotations

from datetime import date
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.frame.say import shown
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.posting import actor_of, carry_out, kept, posted
from aestiva.gardens.providers import link
from aestiva.place.dating import Dating, dating_of
from aestiva.season.crops import Crops, how_of
from aestiva.season.models import Lot
from aestiva.seeds import actions, picture, queries
from aestiva.seeds.commands import DropFact, OwnValue, PacketFacts, PutPacket, RemoveTest, SeedTested, crop_name
from aestiva.seeds.models import SeedTest
from growing.chain.raising import raising_of
from growing.crops import Crop, CropError
from growing.crops.schema import FIELDS
from growing.seeds import packetfacts
from growing.seeds.packettext import MOST_LETTERS, read_packet
from growing.seeds.shortfall import Stake
from growing.seeds.sowing import Seed, case_for
from growing.seeds.testing import TestPlan, plan_test
from growing.seeds.viability import Germination, viability


@garden_view(no_frost="seeds", back="seeds")
def seeds(request: Any) -> HttpResponse:
    """The seed box, with a line to type the next packet in."""
    garden, today = request.garden, clock.today(request.garden)
    crops = Crops(garden)
    form = PutPacket(actor_of(request), request.POST or None)
    if request.method == "POST" and kept(request, form) and form.same is None:
        return redirect(f"{request.path}?next")
    dating = dating_of(garden, waits=False)
    found = queries.rows(garden, dating, today)
    unlisted = [n for n in queries.needs(queries.unsown(garden), dating, {}) if n.lot is None]
    context = {
        "view": "seeds",
        "form": form,
        "same": form.same,
        "rows": [(r, picture.bar(r.found)) for r in found],
        "crops": list(crops),
        "troubles": dating.troubles(garden),
        "headline": _headline(found, queries.orders(garden, dating, today)),
        "unlisted": unlisted,
        "next": "next" in request.GET or form.errors,
    }
    return render(request, "seeds/seeds.html", context, status=422 if form.errors else 200)


def _headline(found: list[queries.PacketRow], wanted: list[queries.Short]) -> str:
    """The sentence that matters now."""
    if wanted:
        first = wanted[0]
        more = f" and {len(wanted) - 1} more" if len(wanted) > 1 else ""
        return f"Short of {first.crop.name} {first.variety}".strip() + f"{more}: order by {first.order.by:%-d %B}"
    if not found:
        return "Put the packets on the table, and type them in"
    dead = [r for r in found if r.hopeless]
    if dead:
        return f"{dead[0].crop.name} {dead[0].lot.variety}: hardly any will come, order fresh seed".replace(" :", ":")
    weak = [r for r in found if not r.lot.used_up and r.found.mean < 0.5 and r.needs]
    if weak:
        return f"{weak[0].crop.name} {weak[0].lot.variety}: fewer than half will come".strip()
    said = say.plural(sum(not r.lot.used_up for r in found), "packet")
    return f"{said}, enough for the plan" if any(r.needs for r in found) else f"{said} in the box; no sowing waits"


def _mine(request: Any, lot_id: int) -> tuple[Lot, Crop, Dating]:
    lot = get_object_or_404(Lot, pk=lot_id, garden=request.garden)
    dating = dating_of(request.garden, waits=False)
    if lot.crop_key not in dating.crops:
        raise Http404(
            f"The crop of this packet, “{lot.crop_key}”, is not known here any more: bring it back in the journal."
        )
    return lot, dating.crop_of_lot(lot.crop_key, lot.pk), dating


@garden_view(no_frost="seeds", back="lot")
def lot(request: Any, lot_id: int) -> HttpResponse:
    """One packet: what will come of it, its ageing, its tests, what the plan wants of it."""
    return _lot_page(request, lot_id, None)


def _lot_page(request: Any, lot_id: int, test_form: SeedTested | None) -> HttpResponse:
    garden, today = request.garden, clock.today(request.garden)
    lot, crop, dating = _mine(request, lot_id)
    tests = list(SeedTest.objects.filter(lot=lot))
    found = queries.lot_found(lot, crop, dating, tests, today, garden.year)
    needs = [n for n in queries.needs(queries.unsown(garden), dating, {lot.pk: found}) if n.lot == lot]
    had, needed = queries.had(lot), sum(n.seeds for n in needs)
    plan = _test_plan(needs, found, crop, dating, today, had)
    context = {
        "view": "seeds",
        "lot": lot,
        "crop": crop,
        "found": found,
        "tests": tests,
        "test_form": test_form or SeedTested(actor_of(request)),
        "needs": needs,
        "had": had,
        "needed": needed,
        "hopeless": any(n.hopeless for n in needs),
        "short": None if had is None else max(0, needed - had),
        "plan": plan,
        "picture": picture.ageing(
            found,
            [(max(0.0, found.age_years - (today - t.on).days / 365.25), t.up / t.sown) for t in tests if t.sown],
        ),
        "next_year": viability(found.fresh, found.life_years, found.age_years + 1),
        "facts": [(f, crop.values[f], why) for f, (_, why) in sorted(lot.facts.items()) if f in crop.values],
        "crop_page": link("crop", garden.pk, lot.crop_key),
        "ways_page": link("ways", garden.pk),
        "fields": [
            (key, f"{f.label}{f', {shown(1, f.unit, request.reader)[1]}' if f.unit else ''}")
            for key, f in FIELDS.items()
        ],
        "crosses": lot.saved and crop.word("crosses") == "crosses",
    }
    return render(request, "seeds/lot.html", context, status=422 if test_form and test_form.errors else 200)


def _test_plan(
    needs: list[queries.SeedNeed], found: Germination, crop: Crop, dating: Dating, today: date, had: int | None
) -> TestPlan | None:
    """What a test would change for the first sowing that waits for this packet, with what all of them take of it."""
    if not needs:
        return None
    first, ratio = needs[0], queries.seed_of(crop, None).ratio
    at = queries.stake_of(first.planting, first.crop, dating) if dating.knows_frost else Stake()
    how, wanted = how_of(first.planting, first.crop), sum(n.planting.wanted for n in needs)

    case = case_for(crop, wanted, how, Seed(1.0), at.confidence)
    return plan_test(found, ratio, case, first.sow_on, today, queries.days_up(crop), had)


@garden_view("grower", no_frost="seeds", back="lot")
@require_POST
def test(request: Any, lot_id: int) -> HttpResponse:
    """Write down a germination test, or take one away."""
    if removed := request.POST.get("remove"):
        carry_out(RemoveTest, request, {"row": whole_number(removed) or 0})
        return redirect("lot", request.garden.pk, lot_id)
    form = SeedTested(actor_of(request), posted(SeedTested, request, {"lot_id": lot_id}))
    if kept(request, form):
        return redirect("lot", request.garden.pk, lot_id)
    return _lot_page(request, lot_id, form)


@garden_view(back="lot")
def facts(request: Any, lot_id: int) -> HttpResponse:
    """Quantity, storage, year, price; the packet's own facts added and removed one by one."""
    lot = get_object_or_404(Lot, pk=lot_id, garden=request.garden)
    if request.method == "POST" and request.POST.get("drop"):
        carry_out(DropFact, request, {"lot_id": lot_id})
        return redirect("lot", request.garden.pk, lot.pk)
    if request.method == "POST" and "field" in request.POST:
        try:
            carry_out(OwnValue, request, {"lot_id": lot_id})
        except Refused as refused:
            messages.error(request, f"{str(refused)[:1].upper()}{str(refused)[1:]}.")
        return redirect("lot", request.garden.pk, lot.pk)
    data = posted(PacketFacts, request, {"lot_id": lot_id}) if request.method == "POST" else None
    form = PacketFacts(actor_of(request), data, initial=PacketFacts.filled_in(lot))
    if data is not None and kept(request, form):
        return redirect("lot", request.garden.pk, lot.pk)
    context = {"view": "seeds", "lot": lot, "name": crop_name(lot), "form": form}
    return render(request, "seeds/facts.html", context, status=422 if form.errors else 200)


@garden_view(back="lot")
def text(request: Any, lot_id: int) -> HttpResponse:
    """The packet's text read into fields; each confirmed, both readings where it contradicts itself."""
    lot = get_object_or_404(Lot, pk=lot_id, garden=request.garden)
    crops = Crops(request.garden)
    name = crops[lot.crop_key].name if lot.crop_key in crops else lot.crop_key
    said = request.POST.get("text", "").strip()
    problem = ""
    if len(said) > MOST_LETTERS:
        problem = (
            f"The text has {len(said):,} letters; up to {MOST_LETTERS:,} are read: leave the growing instructions only."
        )
    read = read_packet(said) if said and not problem else None
    if request.method == "POST" and "keep" in request.POST and read is not None:
        chosen = {
            r.field: which
            for r in read.readings
            if request.POST.get(f"take-{r.field}")
            and (which := whole_number(request.POST.get(f"which-{r.field}", "0"))) is not None
        }
        base = read.base or request.POST.get("base", "")
        if "weeks" in chosen and base not in ("last_frost", "transplanting"):
            problem = "Before what are these weeks: the last frost, or transplanting? Say which."
        else:
            raising = raising_of(crops[lot.crop_key], "raised", None).middle if lot.crop_key in crops else 0
            problem = _keep_text(request, lot, name, packetfacts.packet_facts(read, chosen, base, raising))
            if not problem:
                return redirect("lot", request.garden.pk, lot.pk)
    context = {"view": "seeds", "lot": lot, "name": name, "text": said, "read": read, "problem": problem}
    return render(request, "seeds/text.html", context, status=422 if problem else 200)


def _keep_text(request: Any, lot: Lot, name: str, found: packetfacts.PacketFacts) -> str:
    """Write what was confirmed; the problem in words when a value cannot stand."""
    today = clock.today(request.garden)
    if found.year is not None and found.year > today.year + 1:
        return f"Packed for {found.year} cannot be: leave it out, or correct the text."
    values = {field: list(value) for field, value in found.values.items()}
    try:
        Crops(request.garden)[lot.crop_key].overlaid(
            "lot", {f: (v[0], v[1]) for f, v in {**lot.facts, **values}.items()}
        )
    except CropError as error:
        return f"{error} Leave that field out, or correct the text."
    lot.facts = {**lot.facts, **values}
    lot.packet = found.weeks._asdict() if found.weeks is not None else lot.packet
    lot.packed_year = found.year or lot.packed_year
    actions.keep(request.garden, request.user, lot, name, request.POST.get("key", ""), request.POST.get("revision"))
    messages.success(request, f"Kept with the packet: {len(values) + bool(found.weeks)}. Dates count with it.")
    return ""


@garden_view(no_frost="seeds")
def orders(request: Any) -> HttpResponse:
    """What to buy, by when, from where, for how much."""
    dating = dating_of(request.garden, waits=False)
    found = queries.orders(request.garden, dating, clock.today(request.garden))
    groups: dict[str, list[queries.Short]] = {}
    for one in found:
        groups.setdefault(one.origin or "from anywhere", []).append(one)
    cost = sum(o.order.cost or 0 for o in found)
    context = {
        "view": "seeds",
        "groups": groups,
        "cost": cost,
        "unpriced": sum(o.order.cost is None for o in found),
        "count": len(found),
    }
    return render(request, "seeds/orders.html", context)
