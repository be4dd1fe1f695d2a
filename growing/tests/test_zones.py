"""A rough place from a time zone: by places whose latitude everybody knows."""

from __future__ import annotations

from unittest import TestCase

from growing.place.zones import zone_place, zone_places


class Zones(TestCase):
    def test_places_that_give_a_zone_its_name(self) -> None:
        for zone, country, latitude, longitude in (
            ("Europe/London", "GB", 51.5, -0.1),
            ("America/New_York", "US", 40.7, -74.0),
            ("Pacific/Auckland", "NZ", -36.9, 174.8),
            ("America/Argentina/Ushuaia", "AR", -54.8, -68.3),
            ("Africa/Nairobi", "KE", -1.3, 36.8),
        ):
            found = zone_place(zone)
            assert found is not None, zone
            self.assertEqual(found.country, country)
            self.assertAlmostEqual(found.latitude, latitude, delta=0.15)
            self.assertAlmostEqual(found.longitude, longitude, delta=0.15)

    def test_what_belongs_to_no_one_place_is_not_guessed(self) -> None:
        for zone in ("UTC", "Etc/GMT-3", "US/Eastern", "GB", "", "Mars/Base"):
            self.assertIsNone(zone_place(zone), zone)

    def test_every_place_is_on_earth(self) -> None:
        self.assertGreater(len(zone_places()), 300)
        for zone, found in zone_places().items():
            self.assertTrue(-90 <= found.latitude <= 90 and -180 <= found.longitude <= 180, zone)
