"""The worked chains of the documentation hold line by line."""

from __future__ import annotations

import math
from datetime import date
from statistics import NormalDist
from unittest import TestCase

from growing.chain.dates import PlantingDates
from growing.crops import library
from growing.tests.chains import Chain, read, total
from growing.tests.reading import shown


def computed(chain: Chain, dates: PlantingDates) -> dict[str, date]:
    """The program's answer to each label of a chain."""
    place, why = chain.place(), dates.workings
    return {
        "last frost": place.last_frost[0],
        "out from": dates.out.start,
        "out to": dates.out.end,
        "sow from": dates.sow.start,
        "sow to": dates.sow.end,
        "sow on": dates.sow_on,
        "out on": dates.out_on,
        "first from": dates.first.start,
        "first to": dates.first.end,
        "ideal": shown(why["sow_on"], "ideal"),  # type: ignore[dict-item]
        "finish": shown(why["out_from"], "finish"),  # type: ignore[dict-item]
    }


class WorkedChains(TestCase):
    def test_at_least_twelve_and_every_case_the_rules_name(self) -> None:
        titles = " ".join(c.title for c in read()).lower()
        self.assertGreaterEqual(len(read()), 12)
        for case in (
            "hardy",
            "very tender",
            "very slow",
            "packet",
            "transplanting",
            "autumn",
            "southern",
            "leap",
            "shortfall",
            "no free day",
        ):
            self.assertIn(case, titles)

    def test_every_line_adds_up_by_itself_and_agrees_with_the_program(self) -> None:
        for chain in read():
            dates = chain.dates()
            answers = computed(chain, dates)
            self.assertGreaterEqual(len(chain.lines), 9, chain.title)
            for label, start, terms, result in chain.lines:
                with self.subTest(chain.title, line=label):
                    self.assertEqual(total(start, terms), result)
                    if label in answers:
                        self.assertEqual(answers[label], result)

    def test_frost_lines_from_the_normal_curve(self) -> None:
        for chain in read():
            given = chain.given
            crop = library()[given["crop"]]
            risk = 0.25 if "hardy" in crop.hardiness else given.get("risk", 0.1)
            later = NormalDist().inv_cdf(1 - risk) * given.get("spread", 8) + 6 * crop.number("damage_c")
            for label, start, _, result in chain.lines:
                if label == "frost line":
                    self.assertEqual((result - start).days, math.ceil(later), chain.title)

    def test_soil_lines_are_typed_days(self) -> None:
        for chain in read():
            for label, start, _, _ in chain.lines:
                if label == "soil line":
                    self.assertIn(start, chain.given["soil"].values())

    def test_problems_are_said_with_their_days(self) -> None:
        for chain in read():
            said = ", ".join(f"{p.code} {p.days}" for p in chain.dates().problems)
            self.assertEqual(said, chain.given.get("problems", ""), chain.title)

    def test_the_two_packets_differ_by_the_planting_offset(self) -> None:
        by_title = {c.title: c.dates() for c in read()}
        frost = by_title["A packet that counts from last frost: tomato"]
        out = by_title["The same numbers counted from transplanting: tomato"]
        self.assertEqual((out.sow.start - frost.sow.start).days, 14)
        self.assertEqual(out.out, frost.out)
