"""What is to be done on which day: derived from facts, stable keys, nothing twice."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.batch.climb import night_limit_c
from growing.batch.facts import BatchFacts
from growing.batch.ledger import Entry, accounts
from growing.bench import steps as bench
from growing.care import steps as care
from growing.chain.choice import Choice
from growing.chain.course import course
from growing.chain.dates import date_planting
from growing.chain.happened import Facts
from growing.crops import library
from growing.drawer import steps as seeds
from growing.emergence import steps as emergence
from growing.hardening import steps as hardening
from growing.hardening.steps import OutingDetail
from growing.ladders.ladder import Outing, ladders, progress
from growing.place.frost import TypedDate, TypedFrost
from growing.place.nights import Night, at_plant, chance_below
from growing.place.year import PlaceYear
from growing.plantingout import steps as plantingout
from growing.steps import Task, derive
from growing.tests.reading import shown

PLACE = PlaceYear(2026, TypedFrost(False, TypedDate(5, 9, "average", 8), TypedDate(10, 4, "average", 8)), latitude=52.0)
LADDER = ladders()["seven"]
FAR = date(9999, 1, 1)


def raised(
    key: str,
    facts: Facts = Facts(),
    method: str = "raised",
    entries: tuple[Entry, ...] = (),
    today: date = date(2026, 4, 12),
    **more: object,
) -> BatchFacts:
    crop = library()[key]
    dates = date_planting(crop, PLACE, Choice(method=method, sow_on=facts.sown_on))
    ledger = accounts(entries) if entries else None
    hardened = progress(LADDER, facts.outings, today) if facts.sown_on else None
    return BatchFacts(
        "b1", crop, 12, dates, course(crop, dates, LADDER, facts), facts, LADDER, ledger, hardened=hardened, **more
    )  # type: ignore[arg-type]


def every(one: BatchFacts, today: date, until: date = FAR) -> list[Task]:
    stages = (seeds, bench, emergence, care, hardening, plantingout)
    return list(derive([spec for stage in stages for spec in stage.STEPS], one, today, until))


class BeforeSowing(TestCase):
    def test_seed_soak_chill_and_sow_in_order(self) -> None:
        for key, kinds in (
            ("tomato", ["seed", "sow"]),
            ("sweet_pea", ["seed", "soak", "sow"]),
            ("larkspur", ["seed", "chill", "sow"]),
        ):
            tasks = sorted(every(raised(key), date(2026, 1, 1)), key=lambda t: t.due)
            self.assertEqual([t.kind for t in tasks], kinds)
        chill = next(t for t in every(raised("larkspur"), date(2026, 1, 1)) if t.kind == "chill")
        sow = next(t for t in every(raised("larkspur"), date(2026, 1, 1)) if t.kind == "sow")
        self.assertEqual(sow.due - chill.due, timedelta(days=14))

    def test_seed_in_hand_is_not_looked_for(self) -> None:
        self.assertNotIn("seed", [t.kind for t in every(raised("tomato", has_seed=True), date(2026, 1, 1))])

    def test_cells_carry_their_odds_and_what_is_sown_counts(self) -> None:
        sow = next(t for t in every(raised("tomato"), date(2026, 4, 12)) if t.kind == "sow")
        odds = shown(sow.why, "odds")
        assert isinstance(odds, float) and sow.count is not None
        self.assertGreaterEqual(odds, 0.8)  # a second sowing still makes the window
        rest = next(t for t in every(raised("tomato", secured=5), date(2026, 4, 12)) if t.kind == "sow")
        self.assertEqual((rest.count, rest.total), (sow.count - 5, sow.count))

    def test_other_methods(self) -> None:
        self.assertEqual(
            [t.kind for t in every(raised("calendula", method="direct"), date(2026, 4, 1))], ["seed", "sow_direct"]
        )
        bought = raised("pepper", method="bought")
        self.assertEqual(
            [t.kind for t in every(bought, date(2026, 4, 1))], ["buy"]
        )  # and the whole ladder once they are there
        self.assertEqual(bought.dates.out_on - every(bought, date(2026, 4, 1))[0].due, timedelta(days=LADDER.days))
        outdoors = raised("pepper", method="bought", stood="outdoors")
        self.assertEqual([t.kind for t in every(outdoors, date(2026, 4, 1))], ["buy", "plant"])


class AfterSowing(TestCase):
    SOWN = date(2026, 4, 4)

    def test_everything_that_lies_ahead_once(self) -> None:
        one = raised("tomato", Facts(self.SOWN), entries=(Entry("sown", 30),), cells=15)
        tasks = every(one, self.SOWN)
        kinds = [t.kind for t in tasks]
        self.assertEqual(len({t.key for t in tasks}), len(tasks))
        for kind in ("look", "lamp", "thin", "pot", "plant"):
            self.assertEqual(kinds.count(kind), 1, kind)
        self.assertEqual(kinds.count("harden"), 7)

    def test_late_sowing_moves_what_follows(self) -> None:
        early, late = (raised("tomato", Facts(self.SOWN + timedelta(days=n)), cells=15) for n in (0, 5))
        for kind in ("look", "up", "thin", "pot"):
            self.assertEqual(late.course.steps[kind].due - early.course.steps[kind].due, timedelta(days=5), kind)
        self.assertGreaterEqual(late.dates.out_on, early.dates.out_on)

    def test_lamp_by_light_need(self) -> None:
        for key, days in (("lettuce", 0), ("tomato", 3), ("petunia", 0)):
            self.assertEqual(
                raised(key, Facts(self.SOWN)).course.steps["lamp"].due, self.SOWN + timedelta(days=days), key
            )
        dark = raised("calendula", Facts(self.SOWN)).course.steps
        self.assertEqual(dark["lamp"].due, dark["look"].due)

    def test_counts_go_on_every_second_day_until_half_are_up(self) -> None:
        facts = Facts(
            self.SOWN, first_up=self.SOWN + timedelta(days=5), last_count=self.SOWN + timedelta(days=5), counts=2
        )
        one = raised("tomato", facts, entries=(Entry("sown", 30), Entry("up", 4)), cells=15)
        count = next(t for t in every(one, self.SOWN + timedelta(days=6)) if t.kind == "count")
        self.assertEqual(
            (count.due, count.count, count.total, count.key), (self.SOWN + timedelta(days=7), 4, 15, "b1.count.2")
        )
        done = raised(
            "tomato",
            facts._replace(half_up=self.SOWN + timedelta(days=7)),
            entries=(Entry("sown", 30), Entry("up", 14)),
            cells=15,
        )
        self.assertNotIn("count", [t.kind for t in every(done, self.SOWN + timedelta(days=9))])

    def test_what_is_still_under_the_mix_is_not_carried_out(self) -> None:
        late = raised("cabbage", Facts(self.SOWN), cells=15)
        late.course.steps["harden"] = late.course.steps["harden"]._replace(due=self.SOWN + timedelta(days=2))
        first = min(t.due for t in every(late, self.SOWN + timedelta(days=2)) if t.kind == "harden")
        self.assertGreaterEqual(first, late.course.steps["up"].due)

    def test_lid_stays_on_until_half_are_really_up(self) -> None:
        late = self.SOWN + timedelta(days=12)
        one = raised("tomato", Facts(self.SOWN), entries=(Entry("sown", 30),), cells=15)
        self.assertNotIn("lid", [t.kind for t in every(one, late, late)])

    def test_no_potting_without_three_weeks_to_go(self) -> None:
        self.assertNotIn("pot", raised("cosmos", Facts(self.SOWN)).course.steps)
        self.assertIn("pot", raised("celery", Facts(date(2026, 3, 15))).course.steps)


class OutOfDoors(TestCase):
    TODAY = date(2026, 4, 12)

    def hardening(self, tmax: float | None, wind: float | None = 5.0) -> Task:
        facts = Facts(date(2026, 2, 28), outings=(Outing(self.TODAY - timedelta(days=1), 2, 2),))
        night = Night(self.TODAY, 4.0, 0.9, wind, tmax)
        one = raised("kale", facts, entries=(Entry("up", 12),), cells=12, nights=(night,), today=self.TODAY)
        return next(t for t in every(one, self.TODAY) if t.kind in ("harden", "stay_in"))

    def test_weather_decides_about_an_outing(self) -> None:
        self.assertEqual(self.hardening(12.0).kind, "harden")
        self.assertEqual(self.hardening(3.0).kind, "stay_in")  # hardy: 5 °C by day
        self.assertEqual(self.hardening(12.0, wind=30).kind, "harden")  # 12 km/h in the sheltered corner
        self.assertEqual(self.hardening(12.0, wind=60).kind, "stay_in")
        self.assertEqual(self.hardening(None).kind, "harden")
        self.assertEqual(shown(self.hardening(12.0).why, "rung"), 2)

    def watch(self, stands: str, tmin: float, outings: int = 7, planted: bool = False) -> list[Task]:
        had = tuple(
            Outing(self.TODAY - timedelta(days=8 - i), LADDER.rungs[i].hours, LADDER.rungs[i].hours)
            for i in range(outings)
        )
        facts = Facts(date(2026, 2, 28), outings=had, planted_on=self.TODAY if planted else None)
        entries = (Entry("up", 12), Entry("planted", 12 if planted else 0))
        nights = (Night(self.TODAY, tmin, 0.1, 3.0), Night(self.TODAY + timedelta(days=3), 12.0, 0.1, 3.0))
        one = raised("broccoli", facts, entries=entries, cells=12, stands=stands, nights=nights, today=self.TODAY)
        return [t for t in every(one, self.TODAY, self.TODAY) if t.kind in ("carry_in", "cover")]

    def test_frost_watch_speaks_only_of_harm(self) -> None:
        self.assertEqual(self.watch("shelf", -8.0), [])
        self.assertEqual(
            [t.kind for t in self.watch("frame", -3.0)], ["carry_in"]
        )  # −4 in the closed frame, harm at −4
        self.assertEqual(self.watch("frame", -1.0), [])  # −2 in the frame: hardened broccoli stands it
        soft = self.watch("frame", -1.0, outings=3)  # with three of seven rungs harm begins at −2.3
        self.assertEqual([t.kind for t in soft], ["carry_in"])
        self.assertEqual(self.watch("frame", 1.0, outings=3), [])  # 0 in the frame keeps them safe
        covered = self.watch("bed", -3.0, planted=True)
        self.assertEqual([(t.kind, t.count, t.urgent) for t in covered], [("cover", 12, 2)])

    def out_tonight(self, tmin: float, had: int = 6, crop: str = "broccoli", **sky: float | None) -> Task:
        """The next outing after so many rungs, in a clear calm night of that forecast unless the sky says otherwise."""
        given = {"cloud": 0.1, "wind_kmh": 3.0, "tmax_c": 16.0} | sky
        day = raised(crop, Facts(date(2026, 2, 20)), cells=12).course.steps["harden"].due + timedelta(days=had)
        begun = day - timedelta(days=had)
        outings = tuple(Outing(begun + timedelta(days=i), r.hours, r.hours) for i, r in enumerate(LADDER.rungs[:had]))
        one = raised(
            crop, Facts(date(2026, 2, 20), outings=outings), entries=(Entry("up", 12),), cells=12,
            nights=(Night(day, tmin, **given),), today=day,
        )  # fmt: skip
        return next(t for t in every(one, day, day) if t.kind in ("harden", "stay_in"))

    def test_a_night_out_is_a_decision_of_its_own(self) -> None:
        mild, cold = self.out_tonight(8.0), self.out_tonight(-0.4)
        self.assertEqual((mild.why.rule, cold.why.rule), ("hardening.night_out", "hardening.day_only"))
        assert isinstance(mild.detail, OutingDetail) and isinstance(cold.detail, OutingDetail)
        self.assertEqual((mild.detail.hours, mild.detail.night), (24, True))
        self.assertEqual(
            (cold.detail.hours, cold.detail.wanted, cold.detail.night), (10, 24, False)
        )  # the rung stays open
        self.assertEqual(self.out_tonight(5.5).why.rule, "hardening.day_only")  # 2.5 at the plant is too near to 2

    @given(
        st.sampled_from(("broccoli", "lettuce", "tomato", "basil", "celery")), st.integers(0, 6), st.floats(-8, 16),
        st.floats(0, 30), st.floats(0, 80), st.floats(0, 1),
    )  # fmt: skip
    def test_nothing_is_ordered_out_that_the_forecast_forbids(
        self, key: str, had: int, tmin: float, tmax: float, wind: float, cloud: float
    ) -> None:
        task = self.out_tonight(tmin, had, key, cloud=cloud, wind_kmh=wind, tmax_c=tmax)
        out, crop = task.detail, library()[key]
        assert isinstance(out, OutingDetail)
        if task.kind == "stay_in":
            return
        self.assertGreaterEqual(tmax, crop.number("day_out_c"))
        third = (
            len(LADDER.rungs) / 3
        )  # behind the shelter for one, in the site's own wind for the last, between them less by steps
        share = 0.4 if out.half else 0.4 + 0.6 * min(max(had - third, 0.0) / third, 1.0)
        self.assertLessEqual(wind * share, 20.0 + 1e-9)
        if out.night:
            plant = at_plant(Night(task.due, tmin, cloud, wind, tmax), task.due)
            self.assertGreater(plant.celsius, crop.number("damage_c") + 2)
            self.assertLessEqual(chance_below(plant, crop.number("night_out_c")), 0.1)

    def test_what_went_out_comes_in_the_same_day_and_is_asked_for_until_it_has(self) -> None:
        out = Outing(self.TODAY, 2.0, 2.0)
        for today in (self.TODAY, self.TODAY + timedelta(days=2)):
            one = raised("kale", Facts(date(2026, 2, 28), out=out), entries=(Entry("up", 12),), cells=12, today=today)
            tasks = [t for t in every(one, today, today) if t.where == "door"]
            self.assertEqual(tasks[0].key, "b1.in.2026-04-12")
            self.assertEqual(len({t.key for t in tasks if t.kind == "harden"}), int(today > self.TODAY))

    def test_plants_out_on_a_night_that_harms_are_brought_in_first(self) -> None:
        nights = (Night(self.TODAY, -2.0, 0.1, 3.0, 14.0),)
        one = raised(
            "broccoli", Facts(date(2026, 2, 28), out=Outing(self.TODAY, 2.0, 2.0)), entries=(Entry("up", 12),), cells=12,
            nights=nights, today=self.TODAY,
        )  # fmt: skip
        task = next(t for t in every(one, self.TODAY, self.TODAY) if t.kind == "bring_in")
        self.assertEqual((task.urgent, task.why.rule), (2, "hardening.in_cold"))

    def test_a_hardy_crop_bears_a_colder_night_after_each_it_has_been_out(self) -> None:
        day = self.TODAY

        def limit(nights: int, crop: str = "kale") -> float:
            had = tuple(Outing(day - timedelta(days=9 - n), 24, 24) for n in range(nights))
            return night_limit_c(raised(crop, Facts(date(2026, 2, 28), outings=had), cells=12, today=day))

        self.assertEqual([limit(n) for n in range(5)], [2, 0, -2, -4, -4])  # never nearer than two to its −6
        self.assertEqual([limit(n, "tomato") for n in (0, 3)], [limit(0, "tomato")] * 2)

    def test_a_planting_says_what_speaks_against_its_day(self) -> None:
        def said(tmin: float, key: str = "tomato", **sky: float) -> str:
            crop = raised(key, Facts(date(2026, 3, 1)), cells=12)
            day = crop.dates.out_on
            had = tuple(Outing(day - timedelta(days=8 - i), r.hours, r.hours) for i, r in enumerate(LADDER.rungs))
            given = {"cloud": 0.1, "wind_kmh": 3.0, "tmax_c": 18.0} | sky
            one = raised(
                key, Facts(date(2026, 3, 1), outings=had), entries=(Entry("up", 12),), cells=12,
                nights=(Night(day, tmin, **given),), today=day,
            )  # fmt: skip
            return next(t.why.rule for t in every(one, day, day) if t.kind == "plant")

        self.assertEqual(said(12.0), "plan.out_on")
        self.assertEqual(said(4.0), "plantingout.cold")  # 1 at the plant: under its chill of 3
        self.assertEqual(said(12.0, wind_kmh=45.0), "plantingout.wind")
        self.assertEqual(said(14.0, tmax_c=30.0), "plantingout.hot")
        self.assertEqual(said(14.0, "kale", tmax_c=26.0), "plantingout.hot")  # cool crops sooner
        self.assertEqual(said(1.0, "kale"), "plan.out_on")  # −2 is nothing to hardened kale
