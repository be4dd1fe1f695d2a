"""The worked chains of the documentation hold line by line, and what weather says in them is found by plain loops."""

from __future__ import annotations

import math
from datetime import date, timedelta
from statistics import NormalDist
from unittest import TestCase

from growing.chain.dates import PlantingDates
from growing.chain.windows import needs_of
from growing.tests.chains import DOC, Chain, now_said, read, total
from growing.tests.climates import Slow
from growing.tests.reading import shown

CASES = (
    *("hardy", "very tender", "very slow", "packet", "transplanting", "autumn", "southern", "leap", "shortfall"),
    *(
        "no free day",
        "soil",
        "nights",
        "cautious",
        "bold",
        "in the ground",
        "sown in place",
        "tunnel",
        "frame",
        "fortnight",
    ),
    *("not closed", "does not catch up", "slow", "into heat", "catches up", "too late", "no autumn frost", "too short"),
    *("through winter", "33°", "spring gates", "bought", "own experience", "plateau", "above q = 0.5", "below q = 0.5"),
    *("hardly any frost", "few seasons", "subtropical", "heat gap", "after the heat", "twelve seasons", "hopeless"),
    *("by the calendar, not by warmth", "kills it"),
)
SCALE = {"hardy": 2.5, "half-hardy": 1.5, "tender": 1.0, "very tender": 1.0}
SHELTER = {"": 0.0, "tunnel": 1.5, "frame": 2.0}


def computed(chain: Chain, dates: PlantingDates) -> dict[str, object]:
    """The program's answer to each label of a chain."""
    why = dates.workings
    gates = {f"{g.kind} line": g.day for g in chain.place.gates(needs_of(chain.crop(), dates.method))}
    if "spared" in " ".join(label for label, *_ in chain.lines):
        gates["spared line"] = gates.pop("frost line")
    return gates | {
        "last frost": chain.place.last_frost[0],
        "out from": dates.out.start,
        "out to": dates.out.end,
        "sow from": dates.sow.start,
        "sow to": dates.sow.end,
        "sow on": dates.sow_on,
        "out on": dates.out_on,
        "first from": dates.first.start,
        "first to": dates.first.end,
        "useful until": dates.useful_out,
        "until": dates.last,
        "ideal": shown(why["sow_on"], "ideal"),
        "finish": shown(why["out_from"], "finish"),
        "soil cold": shown(why["out_from"], "soil cold from"),
    }


def risk_of(chain: Chain) -> float:
    """The accepted risk of its crop, worked out by itself."""
    return min(0.5, float(chain.given.get("risk", 0.1)) * SCALE[chain.crop().hardiness])


class WorkedChains(TestCase):
    def test_at_least_forty_and_every_case_the_rules_name(self) -> None:
        titles = " ".join(c.title for c in read()).lower()
        self.assertGreaterEqual(len(read()), 40)
        for case in CASES:
            self.assertIn(case, titles)

    def test_every_line_adds_up_by_itself_and_agrees_with_the_program(self) -> None:
        for chain in read():
            dates = chain.dates()
            answers = computed(chain, dates)
            self.assertGreaterEqual(len(chain.lines), 7, chain.title)
            for label, start, terms, result in chain.lines:
                with self.subTest(chain.title, line=label):
                    self.assertEqual(total(start, terms), result)
                    if label in answers:
                        self.assertEqual(answers[label], result)

    def test_frost_lines_from_the_normal_curve(self) -> None:
        checked = 0
        for chain in read():
            if chain.computed:
                continue
            screen = chain.crop().number("damage_c") + 1 - SHELTER[chain.given.get("cover", "")]
            base = -SHELTER[chain.given.get("cover", "")]
            later = NormalDist().inv_cdf(1 - risk_of(chain)) * chain.given.get("spread", 8) + 6 * (screen - base)
            for label, start, _, result in chain.lines:
                if label == "frost line":
                    checked += 1
                    self.assertAlmostEqual((result - start).days, later, delta=1.0, msg=chain.title)
        self.assertGreater(checked, 25)

    def test_frost_lines_of_records_by_a_slow_reader(self) -> None:
        checked = 0
        for chain in read():
            day = next((start for label, start, *_ in chain.lines if label == "frost line"), None)
            if not chain.computed or day is None:
                continue
            screen = chain.crop().number("damage_c") + 1 - SHELTER[chain.given.get("cover", "")]
            slow = Slow(chain.southern, chain.weather()[0], screen)
            start = date(2026, 1, 16) if chain.southern else date(2025, 7, 16)
            days = slow.days("last")
            found = days[-1] if len(days) < 8 and risk_of(chain) <= 0.1 else slow.day_for("last", risk_of(chain))
            assert found is not None, chain.title
            checked += 1
            self.assertEqual(start + timedelta(days=found), day, chain.title)
        self.assertGreater(checked, 11)

    def test_first_harvests_by_warmth_day_by_day(self) -> None:
        checked = 0
        for chain in read():
            dates = chain.dates()
            if (
                not dates.workings["first"].rule.startswith("plan.first")
                or "_warmth" not in dates.workings["first"].rule
            ):
                continue
            found = sorted(_ripe(chain, dates, year) for year in _years(chain))
            self.assertEqual(dates.first.start, found[(len(found) - 1) // 2], chain.title)
            checked += 1
        self.assertGreater(checked, 10)

    def test_problems_are_said_with_their_days(self) -> None:
        for chain in read():
            said = ", ".join(f"{p.code} {p.days}" for p in chain.dates().problems)
            self.assertEqual(said, chain.given.get("problems", ""), chain.title)

    def test_the_table_of_situations_says_what_is_said_now(self) -> None:
        by_title = {c.title: c for c in read()}
        page = (DOC.parent / "before-and-now.md").read_text(encoding="utf-8")
        rows = [line.strip("|").split(" | ") for line in page.splitlines() if line.startswith("| ") and " | " in line][
            1:
        ]
        self.assertGreaterEqual(len(rows), 30)
        for title, before, now, because in rows:
            self.assertEqual(now, now_said(by_title[title.strip()].dates()), title)
            self.assertTrue(before and because)

    def test_the_two_packets_differ_by_the_planting_offset(self) -> None:
        by_title = {c.title: c.dates() for c in read()}
        frost = by_title["A packet that counts from last frost: tomato"]
        out = by_title["The same numbers counted from transplanting: tomato"]
        self.assertEqual((out.sow.start - frost.sow.start).days, 14)
        self.assertEqual(out.out, frost.out)

    def test_colder_by_a_little_moves_no_window_across_the_half(self) -> None:
        by_title = {c.title: c.dates() for c in read()}
        starts = [by_title[t].out.start for t in by_title if "mild climate" in t or "Hardly any" in t]
        self.assertEqual(len(set(starts)), 1)

    def test_two_sowings_do_not_crop_on_one_day(self) -> None:
        by_title = {c.title: c.dates() for c in read()}
        older, younger = (by_title[f"Two sowings for one planting day: lettuce, the {w}"] for w in ("older", "younger"))
        self.assertEqual(older.out_on, younger.out_on)
        self.assertGreater(younger.first.start, older.first.start)
        first, second = by_title["Sown again in June: lettuce"], by_title["Sown again a fortnight later: lettuce"]
        self.assertEqual((second.first.start - first.first.start).days, 14)


def _years(chain: Chain) -> list[int]:
    """The years whose spring, summer and autumn the made-up record holds."""
    first = 2025 - int(chain.given["climate"]["years"])
    return list(range(first, 2026))[-30:]


def _ripe(chain: Chain, dates: PlantingDates, year: int) -> date:
    """The first harvest in that year's weather, as a day of the planned season: one day after the other, in tenths."""
    crop, (low, high) = chain.crop(), chain.weather()
    base, std = crop.number("base_c"), crop.number("std_c")
    midwinter = date(year, 6, 21) if chain.southern else date(year - 1, 12, 21)
    planned = date(2026, 6, 21) if chain.southern else date(2025, 12, 21)
    check = 0 if chain.given.get("method") == "direct" else 8
    need = (int(crop.number("mature_min")) - check) * 10 + round(6 * -_aged(chain, dates))
    light = date(2027, 3, 20) if chain.southern else date(2026, 9, 22)
    warmer = {"": (0.0, 0.0), "tunnel": (1.5, 4.0), "frame": (2.0, 4.0)}[chain.given.get("cover", "")]
    start = (dates.out_on - planned).days + check
    had, before = 0.0, 0
    day = -158  # tenths are counted from half a year before spring
    while True:
        tenths = math.floor(had * 10 + 1e-6)
        before = tenths if day == start else before
        if day >= start and tenths - before >= need:
            found = planned + timedelta(days=day)
            return found + timedelta(days=14) if found > light else found
        when = midwinter + timedelta(days=day)
        mean = (float(low.between(when, when)[0]) + warmer[0] + float(high.between(when, when)[0]) + warmer[1]) / 2
        had += min(1.3, max(0.0, (mean - base) / (std - base))) if mean == mean else 0.0
        day += 1
        if day > 372:
            return date.max


def _aged(chain: Chain, dates: PlantingDates) -> int:
    """Days the plants are older than at the middle raising time when they go out, no more than their limit."""
    if chain.given.get("method", "raised") != "raised":
        return 0
    crop = chain.crop()
    low, high, hold = (int(crop.number(f) * 7) for f in ("raise_min", "raise_max", "hold"))
    return min((dates.out_on - dates.sow_on).days, hold) - (low + high) // 2
