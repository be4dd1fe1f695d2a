"""Onion tops are trimmed when they have grown long, again and again, until the plants go out; other crops are left alone."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

from growing.care.steps import TRIM_AFTER_DAYS, TRIM_AGAIN_DAYS
from growing.chain.happened import Facts
from growing.tests.test_tasks import every, raised

SOWN = date(2026, 1, 20)
UP = SOWN + timedelta(days=12)


def trims(key: str, **days: tuple[date, ...]) -> list[tuple[str, date]]:
    one = raised(key, Facts(SOWN, half_up=UP, days=days), cells=30)
    return [(t.key, t.due) for t in every(one, date(2026, 2, 1)) if t.kind == "trim"]


class Trim(TestCase):
    def test_first_and_again_with_a_number_never_used_twice(self) -> None:
        first = UP + timedelta(days=TRIM_AFTER_DAYS)
        self.assertEqual(trims("onion"), [("b1.trim.0", first)])
        again = first + timedelta(days=3)
        self.assertEqual(trims("onion", trimmed=(again,)), [("b1.trim.1", again + timedelta(days=TRIM_AGAIN_DAYS))])

    def test_not_on_the_day_they_go_out_and_not_for_others(self) -> None:
        late = date(2026, 4, 20)  # and three weeks on they are in the garden
        self.assertEqual(trims("onion", trimmed=(late,)), [])
        self.assertEqual(trims("tomato"), [])
