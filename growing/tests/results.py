"""The results that estimates move, each worked out anew for a case in which it bears on them; named as `assumptions.toml` names them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import UTC, date, datetime, timedelta
from typing import Any

import numpy as np

from growing.batch import climb, harm, outlook, posterior
from growing.batch.facts import BatchFacts
from growing.batch.ledger import Entry
from growing.beds import bedplan, shading
from growing.beds.bedplan import Rect
from growing.bench import cells, germinating, hands, mending, mix
from growing.bench import day as bench_day
from growing.care import feed, feeding, heat, water
from growing.chain import leaves, path, roomwarmth, winterbox
from growing.chain.choice import Choice
from growing.chain.dates import date_planting
from growing.chain.happened import Facts
from growing.crops import library
from growing.emergence import alarms, stage
from growing.hardening import frames
from growing.ladders import ahead, ladder
from growing.light import advice, had, height, lamps, shelf, targets, window
from growing.light import steps as light
from growing.place import (
    covers,
    frost,
    guess,
    nightgate,
    nights,
    shift,
    soil,
    sureness,
    trend,
    weatherfile,
)
from growing.place.year import PlaceYear
from growing.plan import options
from growing.plantingout import gates, kit
from growing.plantingout import verdict as standing
from growing.seeds import clock, sowing, testing, viability, ways
from growing.shelves import containers, laying, room
from growing.shelves import shelf as shelves
from growing.tests import test_alarms, test_light_hours, test_worth
from growing.tests.test_care import TODAY, growing, seen
from growing.tests.test_tasks import FAR, PLACE, every, raised
from growing.waiting import lost, waits

CROPS = library()
RESULTS: dict[str, Callable[[], object]] = {}


def result(name: str) -> Callable[[Callable[[], object]], Callable[[], object]]:
    def put(function: Callable[[], object]) -> Callable[[], object]:
        RESULTS[name] = function
        return function

    return put


def night(tmin: float, d: int = 0, **more: Any) -> nights.Night:
    return nights.Night(TODAY + timedelta(days=d), tmin, **more)


def fresh() -> PlaceYear:
    """A place of which nothing has been worked out yet."""
    return PlaceYear(2026, frost.TypedFrost(False, frost.TypedDate(5, 9), frost.TypedDate(10, 4)), latitude=52.0)


def batches() -> Iterator[BatchFacts]:
    """Batches of every age: to be sown, under the mix, just up, raised, out and back."""
    yield raised("leek")
    for key in ("tomato", "pepper", "lettuce"):
        yield raised(key, Facts(date(2026, 3, 20)), cells=12)
        counted = Facts(date(2026, 3, 20), last_count=date(2026, 4, 5), counts=1)
        yield raised(key, counted, entries=(Entry("sown", 12), Entry("up", 0)), cells=12)
        up = Facts(
            date(2026, 3, 10), 26.0, date(2026, 3, 16), date(2026, 3, 18), last_count=date(2026, 3, 18), counts=1
        )
        yield raised(key, up, entries=(Entry("sown", 40), Entry("up", 30)), cells=40)
        cooler = up._replace(temperature_c=18.0)
        yield raised(key, cooler, entries=(Entry("sown", 40), Entry("up", 30)), cells=40)
        out = up._replace(planted_on=date(2026, 4, 8))
        yield raised(key, out, entries=(Entry("sown", 40), Entry("up", 30), Entry("planted", 12)), cells=40)


def tasks(*kinds: str) -> list[tuple[str, date]]:
    return sorted(
        (t.key, t.due)
        for one in batches()
        for day in (TODAY, TODAY + timedelta(days=20))
        for t in every(one, day, FAR)
        if t.kind in kinds
    )


@result("tasks at the bench")
def _() -> object:
    checked = Facts(date(2026, 3, 1), last_count=date(2026, 4, 5), counts=3, days={"lifted": (date(2026, 4, 10),)})
    one = raised("pepper", checked, entries=(Entry("sown", 12), Entry("up", 0)), cells=12)
    return [(t.key, t.due) for t in every(one, TODAY) if t.kind == "lift"]


@result("tasks of care")
def _() -> object:
    trimmed = Facts(
        date(2026, 2, 1), half_up=date(2026, 2, 12), first_up=date(2026, 2, 10), days={"trimmed": (date(2026, 3, 20),)}
    )
    up = trimmed._replace(days={})
    return [
        [t.due for t in every(raised("onion", f, cells=40), date(2026, 3, 1)) if t.kind == "trim"]
        for f in (up, trimmed)
    ]


@result("tasks of planting out")
def _() -> object:
    return tasks("spare")


@result("tasks of light")
def _() -> object:
    lamp = lamps.DescribedLamp("thin", watts=54.0)
    return [t.due for t in light.upkeep("s1", lamp, TODAY - timedelta(days=10), 16.0, TODAY, FAR, 1)]


@result("cost of a day's delay")
def _() -> object:
    found: list[object] = []
    for one in batches():
        for k in (4, 9, 14, 30):
            day = date(2026, 3, 20) + timedelta(days=k)
            for task in every(one, day, FAR):
                if task.spec.waits is not None:
                    found.append((task.key, k, lost(waits(task, one, day))))
    near = test_light_hours.said(
        test_light_hours.board((test_light_hours.stand("kale", 47, 17, plants=20),)), test_light_hours.at(24.0)
    )
    task = next(iter(light.of_shelf("s1", near, 16.0, "x", TODAY)))
    found.append(lost(waits(task, None, TODAY)))  # type: ignore[arg-type]
    for tmax in (22.0, 28.0, 45.0):
        why = frames.opens(night(10.0, tmax_c=tmax, cloud=0.0), "frame")
        assert why is not None
        task = task._replace(spec=frames.VENT, why=why, count=40)
        found.append(lost(waits(task, None, TODAY)))  # type: ignore[arg-type]
    return found


@result("first outing")
def _() -> object:
    facts = Facts(date(2026, 5, 1), first_up=date(2026, 5, 16))
    case = climb.case_of(raised("kale", facts, cells=12), date(2026, 5, 20))
    return case and (case.since, case.begins)


@result("harm by cold")
def _() -> object:
    return [
        harm.harm(raised(key, Facts(date(2026, 3, 20)))).harm_c for key in ("kale", "lettuce", "tomato", "cucumber")
    ]


@result("plants lost to a night")
def _() -> object:
    plant = nights.at_plant(night(-5.0, cloud=0.0, wind_kmh=2.0), TODAY)
    return [harm.share_lost(-2.0, plant, kind) for kind in ("hardy", "half-hardy", "tender", "very tender")]


@result("a garden's own pace")
def _() -> object:
    return outlook.pace_of([0.8]), outlook.pace_of([0.2] * 40)


@result("share of seed nobody tested")
def _() -> object:
    return posterior.priors(0.8), posterior.priors(0.8, 0.5)


@result("what still comes up")
def _() -> object:
    look = posterior.CountLook
    first = posterior.SowingSoFar(40, 0.3, 6.0, 2.0, (look(0.7, 2),), posterior.Lifted(1, 2, 1), 0.7)
    slow = posterior.SowingSoFar(40, 0.3, 6.0, 2.0, (look(1.2, 0),))
    found = posterior.posterior([first, slow], [1, 0])
    return found.final_share.tolist()


def areas() -> list[bedplan.Area]:
    since, until = date(2026, 5, 1), date(2026, 10, 1)
    return [
        bedplan.Area(name, name, Rect(0, y, 100, 30), high, 30, since, until, date(2026, 8, 1))
        for name, y, high in (
            ("tall", 0, 125),
            ("less", 40, 95),
            ("middle", 80, 70),
            ("low", 120, 30),
            ("lower", 160, 20),
        )
    ]


@result("plants hidden in a bed")
def _() -> object:
    return [
        [(h.front.ref, h.behind.ref) for h in bedplan.hidden(areas(), side, date(2026, 7, 1))]
        for side in ("above", "below")
    ], [a.height(date(2026, 5, 10)) for a in areas()]


@result("shade in a bed")
def _() -> object:
    return [
        (s.smaller.ref, s.lost_h, s.parts)
        for month in (5, 8, 9)
        for s in shading.shaded(areas(), 52.0, 180.0, date(2026, month, 25))
    ]


@result("what a tray is asked about")
def _() -> object:
    grid, corner = cells.Grid(60, 10), [1, 2, 3, 4, 5, 11, 12, 13, 14, 15, 21]
    found: list[object] = []
    for few in range(1, 12):
        marks = {n: (1, cells.SMALL if n <= few else cells.UP) for n in range(1, 41)}
        lone = {n: (1, cells.SMALL if n <= few else cells.UP) for n in range(1, few * 2 + 1)}
        found += [cells.uneven(marks) is None, cells.uneven(lone) is None]
        gone = dict.fromkeys(corner[:few], (1, cells.DIED))
        found.append(
            (cells.lopsided(grid, gone), cells.lopsided(grid, gone | dict.fromkeys((60, 59, 58), (1, cells.DIED))))
        )
    return found


@result("minutes of a bench day")
def _() -> object:
    begin = datetime(2026, 4, 12, 9, tzinfo=UTC)
    history = [bench_day.Done(1, 1, begin + timedelta(minutes=20 * n), "seed", 60) for n in range(4)]
    return [bench_day.expected(stage, 40) for stage in bench_day.SOW_STAGES], bench_day.own_pace(history)


@result("current of a mat")
def _() -> object:
    found = []
    for heated in ("mat", "thermostat"):
        where = roomwarmth.room_of("mat", "mat", heated, PLACE, set_c=24.0)
        site = germinating.GerminatingSite(1, "mat", where, 1.0, 1.0)
        found.append(germinating.comes_up(CROPS["pepper"], site, date(2026, 3, 1), 1.0).kwh)
    return found


@result("current for a planting")
def _() -> object:
    return options.kwh_each(CROPS["tomato"], date_planting(CROPS["tomato"], fresh()), 24, 20)


@result("minutes of a week")
def _() -> object:
    monday = date(2026, 4, 13)
    return hands.weeks([(monday, 30.0)], {monday: 4.0}, {monday: 2.0}, None, monday, 1)[0].needs


@result("price of a repair")
def _() -> object:
    return mending.Repair("r", "later", 1, np.zeros((1, 1)), minutes=30.0).cost


@result("how hungry a crop is")
def _() -> object:
    return [mix.feeder_of(float(n)) for n in range(20, 140, 5)]


@result("feed in a can")
def _() -> object:
    return feed.Product("powder", 20, 20, 20).density


@result("day of the next feed")
def _() -> object:
    tomato, given = CROPS["tomato"], TODAY - timedelta(days=3)
    return feeding.next_feed(tomato, 6.0, TODAY, None, given, True).on, feeding.next_feed(
        tomato, 6.0, TODAY, None, None, None, None, given
    ).on


@result("crops that mind heat")
def _() -> object:
    return [heat.minds(CROPS[key]) for key in ("lettuce", "celery")]


@result("water left in a tray")
def _() -> object:
    return [water.WateringLook(0.0, found, False).before for found in water.FOUND]


@result("first harvest")
def _() -> object:
    sown = date_planting(CROPS["tomato"], fresh()).sow_on
    return [date_planting(CROPS["tomato"], fresh(), Choice(sow_on=sown - timedelta(days=n))).first for n in (0, 10, 20)]


@result("day of pricking out")
def _() -> object:
    return path.prick_days(CROPS["tomato"].overlaid("garden", {"thin_days": (0, "")}))


@result("day of planting out")
def _() -> object:
    out = TODAY + timedelta(days=5)
    return [leaves.out_later(seen(1, late=late), CROPS["tomato"], out) for late in np.arange(0.5, 9, 0.5).tolist()]


@result("warmth of the mix")
def _() -> object:
    rooms = [roomwarmth.room_of("x", "shelf", heated, PLACE) for heated in ("room", "mat")]
    return [r and r.germinates_c(date(2026, 3, 1)) for r in rooms]


@result("sowing in winter")
def _() -> object:
    crop, dates = CROPS["kale"], date_planting(CROPS["kale"], fresh(), Choice("winter"))
    return winterbox.box_days(crop, PLACE, date(2026, 1, 10)), dates.hold_until


@result("alarms of warmth")
def _() -> object:
    def rules(where: alarms.HeatSite, ahead_: list[nights.Night]) -> list[str]:
        return [one.working.rule for one in alarms.alarms(where, ahead_, 8.0)]

    found: list[object] = []
    sown, grey = test_alarms.sown, test_alarms.nights()
    for under in np.arange(0.5, 13.0, 0.5).tolist():
        mat = test_alarms.site(sown("pepper", 24.0 - under), kind="mat", heated="thermostat", set_c=24.0)
        lid = test_alarms.site(sown("tomato", 22.0, swing=under), kind="sill", lit="window", sun_h=5.0)
        found += [rules(mat, grey), rules(lid, grey)]
    unread = test_alarms.site(sown("tomato", 22.0), read_days=None)
    for over in range(9):
        for mild in range(8):
            warm = [n._replace(tmax_c=12.0 + over, tmin_c=4.0 + over) for n in grey[:mild]]
            found.append(rules(unread, warm))
    return found


@result("how far seedlings are")
def _() -> object:
    found: list[object] = []
    for key in ("lettuce", "tomato", "onion"):
        one = growing(key)
        for ago in (10, 30):
            up = TODAY - timedelta(days=ago)
            for n in range(7):
                for cm in (2.0, 5.0, 8.0, 12.0, 20.0, 30.0):
                    was = leaves.LeavesSeen(n, cm, TODAY)
                    for warm in (None, 30.0):
                        now = stage.growing(one, TODAY, up, was, warm)
                        found.append((now.kind, now.drawn))
    quick = growing("lettuce")
    quick.crop = quick.crop.overlaid("garden", {"leaf_days": (1.0, "")})
    for ago in range(1, 40):
        for n in range(40):
            found.append(
                stage.growing(quick, TODAY, TODAY - timedelta(days=ago), leaves.LeavesSeen(n, None, TODAY)).kind
            )
    return found


@result("when a frame is opened")
def _() -> object:
    days_ = [night(2.0, tmax_c=float(t), cloud=c) for t in range(2, 30) for c in (0.0, 0.3, 0.5, 0.7, 0.9)]
    return [why and why.inputs for why in (frames.opens(day, "frame") for day in days_)]


def climbed(door: ahead.HardeningSite, *forecast: nights.Night) -> object:
    one = next(iter(ladder.ladders().values()))
    case = ahead.LadderCase(
        one,
        ladder.progress(one, [], TODAY),
        0,
        None,
        TODAY,
        ahead.LadderLimits(5.0, 5.0, 5.0, 0.0, 0.5),
        forecast,
        TODAY,
        0.0,
        "",
        door,
    )
    return ahead.ahead(case)


@result("ladder in wind and rain")
def _() -> object:
    found = []
    for shelter in ahead.WIND_LEFT:
        for wind, rain, hail in ((30.0, 0.0, 0.0), (22.0, 6.0, 0.2), (60.0, 12.0, 0.4), (45.0, 5.0, 0.2)):
            forecast = [
                night(12.0, d, wind_kmh=wind, tmax_c=20.0, gust_kmh=wind, rain_mm=rain, hail=hail, cloud=0.9)
                for d in range(12)
            ]
            found.append(climbed(ahead.HardeningSite(shelter), *forecast))
    return found


@result("rungs climbed")
def _() -> object:
    found: list[object] = []
    for one in ladder.ladders().values():
        for hours in (5.0, 8.0, 9.0, 10.0, 12.0):
            had_ = [ladder.Outing(TODAY - timedelta(days=20 - n), hours, 24.0) for n in range(20)]
            found.append(ladder.progress(one, had_, TODAY))
        half = [ladder.Outing(TODAY - timedelta(days=20 - n), r / 2, r) for n, r in enumerate([2.0] * 20)]
        found.append(ladder.progress(one, half, TODAY))
    found.append(climbed(ahead.HardeningSite("wall"), *(night(-3.0, d, tmax_c=15.0, cloud=0.9) for d in range(14))))
    return found


@result("short plants on boxes")
def _() -> object:
    board = test_light_hours.board(
        (test_light_hours.stand("lettuce", 0, 4), test_light_hours.stand("cabbage", 60, 17, 2))
    )
    return [under for _, under in advice._boxed(board)[1]]


@result("light had")
def _() -> object:
    way, days_ = had.ways([CROPS["tomato"]]), 30
    dark, light_ = np.zeros((1, days_), np.float32), np.full((1, days_), 8.0, np.float32)
    places = had.Places(np.zeros((1, 50), np.float32), dark, dark, dark, light_)
    return had.live(way, places, test_light_hours.one_place(days_), {15: [(0, 4.0, None)]}).leaves.tolist()


@result("are they leggy")
def _() -> object:
    return [had.leggy("x", want, 5.0, 10.0, 0.0, 0).kind for want in np.arange(0.0, 6.0, 0.05).tolist()]


@result("height of a lamp")
def _() -> object:
    return [height.step_of(by) for by in ("chain", "ratchet")], shelf.highest_cm(40.0)


@result("light of a lamp")
def _() -> object:
    return [lamps.flux(lamps.DescribedLamp("thin", watts=54.0, dusty_days=n)).umol for n in (60, 900)]


@result("light wanted")
def _() -> object:
    return [targets.band(CROPS["tomato"], n) for n in (0.5, 1.5, 2.5, 3.5)]


@result("light on a sill")
def _() -> object:
    day = date(2026, 3, 15)
    return [window.sill(52.4, day, "south", None, 8.0, card).dli for card in (False, True)], window.sun_before(
        52.4, day, 150.0
    )


@result("light under cover")
def _() -> object:
    return [window.under(kind, 52.4, TODAY, 8.0) for kind in window.UNDER]


@result("what is laid out for planting")
def _() -> object:
    out = [
        kit.kit(CROPS[key], 12, 600.0)
        for key in ("cabbage", "tomato", "sweet_pea", "snapdragon", "zinnia", "cosmos", "larkspur")
    ]
    return out, covers.needed(700.0).pegs, kit.dip_l(100)


@result("frost date at a risk")
def _() -> object:
    typed = frost.TypedFrost(False, frost.TypedDate(5, 9), frost.TypedDate(10, 4))
    days_ = [float(d) for d in (100, 104, 110, 111, 113, 118, 121, 125, 131, 140)]
    quantiles = [typed.last(2026, at).risk(date(2026, 5, 20)) for at in (0.0, -2.0)]
    return quantiles, [sureness.bandwidth(days_, risk) for risk in (0.02, 0.1, 0.5)]


@result("first frost guessed")
def _() -> object:
    return guess.usual_first_frost(44.0, date(2026, 5, 1)), guess.usual_first_frost(57.0, date(2026, 5, 1))


@result("nights after warm days")
def _() -> object:
    minima, maxima = np.full((1, 40), 8.0), np.repeat(np.arange(16.0, 36.0, 0.5), 1)[None, :]
    return nightgate.nights_ahead(minima, maxima)


@result("a night at the plant")
def _() -> object:
    found = [nights.at_plant(night(2.0, cloud=0.0, wind_kmh=float(w)), TODAY).celsius for w in range(2, 30)]
    return found, [nights.at_plant(night(2.0), TODAY, 0.0, kind).celsius for kind in nights.SHELTER_C]


@result("a garden against its station")
def _() -> object:
    clear = [shift.was_clear(2.0, 2.0 + n) for n in range(5, 18)]
    few = shift.garden_shift([shift.Pair(TODAY + timedelta(days=n), 2.0, 1.0 - 0.01 * n, True) for n in range(2)])
    far = [shift.remote((52.0, 5.0, 10.0), (52.0 + n / 20, 5.0, 10.0 + 20 * n)) for n in range(16)]
    return clear, few, far


@result("soil under cover")
def _() -> object:
    return [test_worth.Situations.place.warmth.under(kind).soil_from(2026, 10.0) for kind in soil.COVERS]  # type: ignore[attr-defined]


@result("does a trend matter")
def _() -> object:
    years = list(range(2000, 2020))
    return [trend.trend_of(years, [300.0 - k * n / 8 for k in range(20)]).matters for n in (1, 2, 3, 5, 7)]


@result("odd rows of a weather file")
def _() -> object:
    found = []
    for run in range(3, 20):
        same = np.r_[np.arange(10.0), np.full(run, 5.0), np.arange(10.0)]
        found.append(weatherfile._flat(weatherfile.WeatherFile((), same, same + 4)))
    return found


@result("gates of planting out")
def _() -> object:
    case = gates.Asked(CROPS["lettuce"], TODAY, 7, 7, None, 5.0, True, (), None, gates.Bed("A"), 0.1, None, None, None)
    wind = [gates.the_day(case._replace(night=night(8.0, wind_kmh=float(w), tmax_c=15.0))).state for w in range(10, 32)]
    return wind, gates.the_bed(case._replace(bed=gates.Bed("A", state="wet"))).opens


@result("warmth of a day by one reading")
def _() -> object:
    return clock.day_by_one(18.0, 8).tolist()


@result("work for a planting")
def _() -> object:
    found = []
    for how in (
        sowing.How(),
        sowing.How("cells", "thin", 3),
        sowing.How("box", "prick", 1),
        sowing.How("cells", "divide", 4, 4),
    ):
        seed = sowing.Seed(0.8)
        found.append(
            ways.way(CROPS["tomato"], 40, how, seed, sowing.count_for(CROPS["tomato"], 40, how, seed)).care.minutes
        )
    return found


@result("is a test worth it")
def _() -> object:
    found = []
    for key in ("onion", "pepper", "tomato", "leek"):
        for age in np.arange(0.0, 6.0, 0.5).tolist():
            crop, how = CROPS[key], sowing.How()
            known = viability.germination(crop, viability.Packet(age))
            seed = sowing.Seed(known.mean, (known.a, known.b))
            case = sowing.case_for(crop, 40, how, seed)
            plan = testing.plan_test(known, 1.0, case, date(2026, 4, 1), date(2026, 2, 1), 9.0, 800)
            found.append(plan)
    return found


@result("share of tested seed")
def _() -> object:
    test = viability.Test(TODAY, 40, 10, True, True)
    return viability.germination(CROPS["tomato"], viability.Packet(0.0), [test], TODAY).mean


@result("fine seed in pinches")
def _() -> object:
    begonia = next(c for c in CROPS.values() if (c.maybe("seeds_per_g") or 0) > ways.FINE_SEEDS_PER_G)
    how, seed = sowing.How("box", "prick", 1), sowing.Seed(0.7)
    strewn = ways.fine(begonia, sowing.count_for(begonia, 60, how, seed))
    return strewn and strewn.pinches


@result("age to which a container carries")
def _() -> object:
    return [containers.carries_weeks(75, 7, ml) for ml in (1, 20, 75, 150, 900)]


@result("how seed is laid")
def _() -> object:
    return [(laying.laying(crop).low_c, laying.laying(crop).high_c) for crop in CROPS.values()]


@result("room of a box")
def _() -> object:
    return room.trays_in_box(600)


@result("height by days")
def _() -> object:
    crop = next(c for c in CROPS.values() if c.maybe("leaf_days") is None and c.maybe("ready_height_cm"))
    up = date(2026, 4, 1)
    grown = [shelves.growth(crop, up, up + timedelta(days=n)) for n in (0, 5, 20, 90, 300)]
    return grown, [shelves.under_lid("x", one) for one in grown]


@result("what keeps plants longer")
def _() -> object:
    springs, one = (
        test_worth.made(11, 1.0),
        test_worth.sort(11, "hardy", hardened=1.0, harm_c=-15.0, usual=40.0, limit=1, over=0.05),
    )
    case = gates.Asked(
        CROPS["tomato"],
        TODAY,
        4,
        7,
        TODAY + timedelta(days=12),
        5.0,
        True,
        (),
        None,
        gates.Bed("A"),
        0.1,
        None,
        None,
        None,
    )
    return standing.judged([gates.gates(case, None)], [one], springs, TODAY, [()])


@result("air under cover")
def _() -> object:
    there = test_worth.Situations.place.warmth
    return [there.under(kind).winter_lows().tolist() for kind in ("tunnel", "frame")]  # type: ignore[attr-defined]
