"""Something is wrong with these: what is seen, two or three questions, the log weighed already; what it was, and what became of it."""

from __future__ import annotations

from collections import defaultdict
from typing import Any, NamedTuple

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.care.draw_trouble import letters_of, log_svg, plant_svg, roots_svg, sign_figure
from aestiva.care.log import Fortnight, fortnight
from aestiva.care.models import Ailment
from aestiva.course.state import Item, load
from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from growing.care.trouble import Cause, Found, book, shows, weigh

PLACES = {
    "plant": "Whole plant",
    "leaf": "Leaves",
    "stem": "Stem, gaps",
    "surface": "Surface",
    "root": "Roots",
    "mix": "Under the mix",
}
BINNED = ("rot", "dampingoff")
MOST_LISTED = 60


class SignTold(NamedTuple):
    """What was chosen so far."""

    signs: list[str]
    answers: dict[str, str]

    @property
    def signs_kept(self) -> str:
        return ",".join(self.signs)

    @property
    def answers_kept(self) -> str:
        return ",".join(f"{q}={a}" for q, a in self.answers.items())


def told(data: Any) -> SignTold:
    """Signs and answers of an address or a form; what nobody knows is left out."""
    known = book()
    signs = [s for s in known.signs if s in data.getlist("s")]
    answers = {q.key: a for q in known.questions.values() if (a := data.get(f"q_{q.key}", "")) in q.answers}
    return SignTold(signs, answers)


@garden_view(no_frost="care")
def trouble(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, ailment_id: int | None = None) -> HttpResponse:
    """Choose a batch; then what is seen of it; then what it is."""
    garden, today = request.garden, clock.today(request.garden)
    now = load(garden, today)
    data = request.POST if refused else request.GET
    items = [i for i in now.items if i.batch is not None and i.raised.alive]
    pk = whole_number(data.get("batch"))
    item = next((i for i in items if i.batch_pk == pk), None)
    context: dict[str, Any] = {
        "view": "care",
        "refused": refused,
        "troubles": now.troubles,
        "open": list(_open(garden)),
        "typed": {k: data.get(k, "") for k in ("act", "product", "wait_days", "on_label", "taken", "cause")},
    }
    status = 422 if refused else 200
    if item is None:
        context |= {
            "items": sorted(items, key=lambda i: (i.spot_code, i.full_name))[:MOST_LISTED],
            "more": max(0, len(items) - MOST_LISTED),
            "was": what_it_was(garden),
            "headline": "Something is wrong: with which?" if items else "Nothing grows here that could ail",
        }
        return render(request, "care/trouble_choose.html", context, status=status)
    said = told(data)
    log = fortnight(now, item)
    facts = shows(log.log)
    found = weigh(item.full_name, said.signs, said.answers, facts, log.log.lying) if said.signs else None
    context |= _asked(request, item, said, log, found, facts)
    return render(request, "care/trouble.html", context, status=status)


def _asked(
    request: Any, item: Item, said: SignTold, log: Fortnight, found: Found | None, facts: dict[str, bool]
) -> dict[str, Any]:
    known = book()
    letters = letters_of(found)
    groups = [
        (
            title,
            [
                (s.key, s.word, sign_figure(s.key), s.key in said.signs)
                for s in known.signs.values()
                if s.where == where
            ],
        )
        for where, title in PLACES.items()
        if not (where == "mix" and not log.log.lying) and not (log.log.lying and where in ("leaf", "root"))
    ]
    asked = [q for q in known.questions.values() if q.key in said.answers] + list(
        found.ask if found is not None else ()
    )
    return {
        "item": item,
        "said": said,
        "groups": groups,
        "questions": [
            (q, [(key, word, said.answers.get(q.key) == key) for key, word in q.answers.items()]) for q in asked
        ],
        "found": found,
        "causes": [] if found is None else [_shown(c, letters, n) for n, c in enumerate(found.causes)],
        "headline": headline(item, found),
        "log": log_svg(log, letters, () if found is None else found.first.facts, request.reader),
        "roots": roots_svg(found),
        "plant": plant_svg(said.signs),
        "edible": item.crop.word("yields") == "harvest",
        "spreads": found is not None and found.first.kind.key == "dampingoff",
        "binned": found is not None and found.first.kind.key in BINNED,
        "facts": [known.facts[f][0] for f, so in facts.items() if so],
    }


def headline(item: Item, found: Found | None) -> str:
    """“Most likely too wet and cold: let it dry”"""
    if found is None:
        return f"What do you see on {item.full_name}?"
    first, second = found.causes[0], found.causes[1]
    close = second.odds > 0.6 * first.odds
    name = first.kind.name[0].lower() + first.kind.name[1:]
    if close:
        return f"{first.kind.name}, or {second.kind.name[0].lower()}{second.kind.name[1:]}: look which"
    return f"Most likely {name}"


def _shown(cause: Cause, letters: dict[str, str], n: int) -> dict[str, Any]:
    known = book()
    return {
        "cause": cause,
        "kind": cause.kind,
        "odds": say.odds(cause.odds),
        "for": [(letters.get(f, ""), known.facts[f][0]) for f in cause.facts],
        "against": [(letters.get(f, ""), f"not {known.facts[f][0]}") for f in cause.facts_against],
        "fits": [*cause.signs, *cause.answers],
        "odd": cause.against,
        "first": n == 0,
    }


def _open(garden: Garden) -> list[dict[str, Any]]:
    rows = Ailment.objects.filter(batch__planting__season__garden=garden, outcome="open").select_related(
        "batch__planting"
    )
    known = book().causes
    return [
        {
            "row": r,
            "name": known[r.cause].name if r.cause in known else r.cause,
            "causes": [(k.key, k.name) for k in known.values()],
        }
        for r in rows[:MOST_LISTED]
    ]


class Was(NamedTuple):
    """What it was: how often, plants lost, how often it got better; of which plantings; after what was done."""

    name: str
    times: int
    lost: int
    better: int
    ended: int
    of: str
    acts: str


def what_it_was(garden: Garden) -> list[Was]:
    """Losses by cause, with the varieties and the treatments, the worst first."""
    rows = Ailment.objects.filter(batch__planting__season__garden=garden).select_related("batch__planting")
    by: dict[str, list[Ailment]] = defaultdict(list)
    for row in rows:
        by[row.cause].append(row)
    known, found = book().causes, []
    for cause, own in by.items():
        of: dict[str, int] = defaultdict(int)
        acts: dict[str, list[str]] = defaultdict(list)
        for row in own:
            of[str(row.batch.planting)] += row.lost
            acts[row.act].append(row.outcome)
        found.append(
            Was(
                known[cause].name if cause in known else cause, len(own), sum(r.lost for r in own), sum(r.outcome == "better" for r in own),
                sum(r.outcome != "open" for r in own),
                say.listed([f"{name}{f', {n} lost' if n else ''}" for name, n in of.items()], 4),
                say.listed([f"{act}: {o.count('better')} of {len(o)} better" for act, o in acts.items()], 4),
            )
        )  # fmt: skip
    return sorted(found, key=lambda w: (-w.lost, -w.times))


@garden_view(no_frost="care")
def trouble_csv(request: Any) -> HttpResponse:
    """Everything that was wrong, and what became of it."""
    rows = Ailment.objects.filter(batch__planting__season__garden=request.garden).select_related("batch__planting")
    known = book().causes
    table = [
        [
            r.day.isoformat(), r.batch_id, str(r.batch.planting), r.signs, r.answers, r.cause, known[r.cause].name if r.cause in known else "", r.act,
            r.product, r.outcome, "" if r.ended is None else r.ended.isoformat(), r.lost,
        ]
        for r in rows
    ]  # fmt: skip
    columns = [
        "day",
        "batch",
        "what",
        "signs",
        "answers",
        "cause",
        "name",
        "done",
        "product",
        "outcome",
        "ended",
        "lost",
    ]
    return csv_response("troubles.csv", columns, table)
