"""Is the warmth right?  Every alarm with its neighbour that is silent, and what a mat is to be set to."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from unittest import TestCase

import numpy as np

from growing.crops import library
from growing.emergence.alarms import Alarm, HeatSite, SownThere, alarms, setting
from growing.place.nights import Night

TODAY = date(2026, 4, 12)


def sown(crop: str, celsius: float, days: int = 5, swing: float = 0.0, **more: Any) -> SownThere:
    hours = celsius + swing * np.sin(np.linspace(0, 2 * np.pi, 24))
    given = {"up": False, "measured": True, "lidded": True} | more
    return SownThere(crop, library()[crop], days, last_c=hours, **given)


def site(*there: SownThere, **more: Any) -> HeatSite:
    given: dict[str, Any] = {
        "code": "M1", "kind": "shelf", "heated": "room", "lit": "lamp", "set_c": None, "gives_c": 19.0, "room_c": 19.0, "sun_h": None,
        "read_days": 0,
    } | more  # fmt: skip
    return HeatSite(sown=there, **given)


def nights(tmax: float = 12.0, cloud: float = 0.8) -> list[Night]:
    return [Night(TODAY + timedelta(days=k), tmax - 8, cloud, 5.0, tmax) for k in range(7)]


def said(where: HeatSite, ahead: list[Night] | None = None, usual_c: float | None = 8.0) -> list[Alarm]:
    return alarms(where, nights() if ahead is None else ahead, usual_c)


def kinds(where: HeatSite, ahead: list[Night] | None = None, usual_c: float | None = 8.0) -> list[str]:
    return [a.kind for a in said(where, ahead, usual_c)]


class OfSeed(TestCase):
    def test_under_its_minimum_and_just_over_it(self) -> None:
        least = library()["tomato"].number("min_c")
        self.assertEqual(kinds(site(sown("tomato", least - 1))), ["under"])
        self.assertEqual(kinds(site(sown("tomato", least + 2))), [])
        self.assertEqual(kinds(site(sown("tomato", least - 1, up=True))), [])  # what is up is no seed any more

    def test_warm_seed_is_injured_in_its_first_two_days_only(self) -> None:
        self.assertEqual(kinds(site(sown("cucumber", 11.5, days=1))), ["injury"])
        self.assertNotIn("injury", kinds(site(sown("cucumber", 11.5, days=4))))
        self.assertNotIn("injury", kinds(site(sown("cabbage", 9.0, days=1))))

    def test_lettuce_goes_dormant_where_a_pepper_is_well(self) -> None:
        self.assertEqual(kinds(site(sown("lettuce", 27, swing=4))), ["over"])
        self.assertEqual(kinds(site(sown("pepper", 27, swing=2))), [])

    def test_who_cannot_be_suited_together_is_named(self) -> None:
        found = said(site(sown("pepper", 24), sown("lettuce", 20)))
        apart = next(a for a in found if a.kind == "apart")
        self.assertEqual(apart.name, "lettuce")
        self.assertEqual(setting(site(sown("pepper", 24), sown("tomato", 24))).apart, ())  # type: ignore[union-attr]


class OfPlaces(TestCase):
    def mat(self, celsius: float, **more: Any) -> HeatSite:
        return site(sown("pepper", celsius, measured=more.pop("measured", True)), kind="mat", **more)

    def test_the_mat_is_on_but_the_mix_is_at_fifteen(self) -> None:
        self.assertIn("mat", kinds(self.mat(15, heated="thermostat", set_c=24.0)))
        self.assertNotIn("mat", kinds(self.mat(22, heated="thermostat", set_c=24.0)))
        self.assertIn("mat", kinds(self.mat(18, heated="mat", gives_c=26.0)))
        self.assertNotIn("mat", kinds(self.mat(15, heated="thermostat", set_c=24.0, measured=False)))  # nobody read it

    def test_a_closed_lid_in_sun(self) -> None:
        sill = {"kind": "sill", "lit": "window", "sun_h": 6.0}
        bright = nights(15, cloud=0.2)
        self.assertEqual(kinds(site(sown("tomato", 22), **sill), bright), ["lid_sun"])
        self.assertEqual(kinds(site(sown("tomato", 22), **sill), nights(15, cloud=0.9)), [])
        self.assertEqual(kinds(site(sown("tomato", 22, lidded=False), **sill), bright), [])
        self.assertEqual(kinds(site(sown("tomato", 22), lit="lamp"), bright), [])
        seen = said(site(sown("tomato", 22, swing=9), **sill))
        self.assertEqual((seen[0].kind, seen[0].working.rule), ("lid_sun", "emergence.alarm_lid_sun"))

    def test_mild_days_ahead_only_where_nobody_has_read_lately(self) -> None:
        mild = nights(20)
        self.assertEqual(kinds(site(sown("tomato", 20, measured=False), read_days=None), mild), ["mild"])
        self.assertEqual(kinds(site(sown("tomato", 20), read_days=1), mild), [])
        self.assertEqual(kinds(site(sown("tomato", 20), read_days=None, heated="thermostat"), mild), [])
        self.assertEqual(kinds(site(sown("tomato", 20), read_days=None), mild, usual_c=15.0), [])
        self.assertEqual(kinds(site(sown("tomato", 20), read_days=None), mild, usual_c=None), [])

    def test_worst_first(self) -> None:
        found = kinds(site(sown("cucumber", 8, days=1), sown("tomato", 5), read_days=None), nights(20))
        self.assertEqual(found, sorted(found, key=("injury", "under", "over", "mat", "lid_sun", "mild", "apart").index))

    def test_a_setting_suits_all_that_can_be_suited(self) -> None:
        found = setting(site(sown("pepper", 24), sown("tomato", 24)))
        assert found is not None
        self.assertTrue(found.low_c <= found.set_c <= found.high_c)
        self.assertIsNone(setting(site()))
        self.assertTrue(setting(site(sown("cabbage", 18), room_c=19.0)).room_does)  # type: ignore[union-attr]
        self.assertFalse(setting(site(sown("pepper", 24), room_c=15.0)).room_does)  # type: ignore[union-attr]
