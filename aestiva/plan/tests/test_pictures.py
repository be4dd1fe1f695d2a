"""The pictures hold what the dates say: geometry of the season and of the frost curve."""

from __future__ import annotations

import re
from datetime import date, timedelta
from unittest import TestCase
from xml.etree import ElementTree

from aestiva.plan.picture import PHONE, WIDE, FurrowRow, close_scale, scale_for, season_svg
from aestiva.plan.picture.row import MOST_PX
from aestiva.plan.picture.row import room as _room
from growing.calendar import Window
from growing.place.frost import TypedDate, TypedFrost
from growing.place.year import PlaceYear

PLACE = PlaceYear(2026, TypedFrost(False, TypedDate(5, 9, "average", 8), TypedDate(10, 4, "average", 8)), latitude=52.0)
TODAY = date(2026, 4, 12)


def row(**change: object) -> FurrowRow:
    values: dict[str, object] = {
        "name": "Tomato", "note": "10 plants", "window": Window(date(2026, 3, 25), date(2026, 4, 18)), "sow": date(2026, 4, 6),
        "up": date(2026, 4, 13), "pot": date(2026, 5, 4), "harden": date(2026, 5, 16), "out": date(2026, 5, 26),
        "first": date(2026, 7, 25), "last": date(2026, 9, 20), "sown": False, "indoors": 0.3, "potted": 0.6,
    }  # fmt: skip
    return FurrowRow(**(values | change))  # type: ignore[arg-type]


def numbers(svg: str, css: str, attribute: str) -> list[float]:
    return [float(m) for m in re.findall(rf'class="{css}"[^>]* {attribute}="([-\d.]+)"', svg)]


class Season(TestCase):
    def svg(self, *rows: FurrowRow, today: date = TODAY) -> str:
        return season_svg(rows or (row(),), PLACE, today)

    def test_as_narrow_as_a_phone_it_says_the_same(self) -> None:
        wide = self.svg(row(), row(name="Leek"))
        narrow = season_svg((row(), row(name="Leek")), PLACE, TODAY, frame=PHONE)
        self.assertIn(f'viewBox="0 0 {PHONE.width} ', narrow)
        for css in ("furrow", "out", "yield", "today"):
            self.assertEqual(narrow.count(f'class="{css}"'), wide.count(f'class="{css}"'), css)
        for picture, frame in ((wide, WIDE), (narrow, PHONE)):
            share = [
                (x - frame.labels) / (frame.width - frame.labels - frame.right) for x in numbers(picture, "out", "x1")
            ]
            self.assertAlmostEqual(share[0], numbers(wide, "out", "x1")[0] / 882 - 196 / 882, places=2)
            self.assertTrue(all(0 <= x <= frame.width for x in numbers(picture, "axis", "x1")))

    def test_is_well_formed_whatever_the_names(self) -> None:
        for name in ("<script>", 'a"b', "a & b", "ok ‘x’", "x" * 90):
            root = ElementTree.fromstring(season_svg([row(name=name)], PLACE, TODAY, export=True))
            self.assertNotIn("script", [e.tag for e in root.iter()])

    def test_shapes_are_seen_right_of_the_names_in_every_frame(self) -> None:
        for frame in (WIDE, PHONE):
            svg = season_svg([row(), row(name="Leek")], PLACE, TODAY, frame=frame)
            clip = re.search(
                r'<clipPath id="ground[^>]*><rect x="(\d+)" y="(-?\d+)" width="([\d.]+)" height="(\d+)"', svg
            )
            assert clip is not None
            x, y, width, height = (float(n) for n in clip.groups())
            self.assertEqual((x, x + width - 1), (frame.labels, frame.width - frame.right))
            self.assertTrue(y <= 0 and y + height >= frame.row)

    def test_a_month_and_a_week_show_their_days_and_only_theirs(self) -> None:
        month, week = close_scale("month", date(2026, 2, 14), 0), close_scale("week", date(2026, 4, 12), 6)
        self.assertEqual((month.start, month.end), (date(2026, 2, 1), date(2026, 3, 1)))
        self.assertEqual((week.start, week.end), (date(2026, 4, 12), date(2026, 4, 19)))
        may = season_svg([row()], PLACE, TODAY, scale=close_scale("month", date(2026, 5, 2), 0))
        self.assertIn("Mon 4", may)
        self.assertNotIn('class="today"', may)
        out = numbers(may, "out", "x1")[0]
        self.assertAlmostEqual(out, WIDE.labels + 25 * (WIDE.width - WIDE.labels - WIDE.right) / 31, delta=0.1)

    def test_what_cannot_be_is_hatched_and_what_was_made_is_over_it(self) -> None:
        svg = self.svg(
            row(bad=(Window(date(2026, 5, 1), date(2026, 5, 9)),), made=(date(2026, 4, 1), date(2026, 5, 20)))
        )
        self.assertIn('class="bad"', svg)
        self.assertIn('class="made"', svg)

    def test_scale_rises_with_the_days_and_stays_inside(self) -> None:
        scale = scale_for([row()], PLACE, TODAY)
        xs = [scale.x(scale.start + timedelta(days=k)) for k in range(-30, 430, 5)]
        self.assertEqual(xs, sorted(xs))
        self.assertEqual((min(xs), round(max(xs))), (WIDE.labels, WIDE.width - WIDE.right))
        self.assertLessEqual((scale.end - scale.start).days, 460)

    def test_seed_lies_in_its_furrow_and_the_arrow_on_its_day(self) -> None:
        svg, scale = self.svg(), scale_for([row()], PLACE, TODAY)
        (seed,) = numbers(svg, "seed", "cx")
        self.assertAlmostEqual(seed, scale.x(date(2026, 4, 6)), delta=0.1)
        self.assertTrue(scale.x(date(2026, 3, 25)) <= seed <= scale.x(date(2026, 4, 18)))
        (out,) = numbers(svg, "out", "x1")
        self.assertAlmostEqual(out, scale.x(date(2026, 5, 26)), delta=0.1)

    def test_what_is_sown_is_filled_and_what_is_not_raised_has_no_bench(self) -> None:
        self.assertIn('class="seed sown"', self.svg(row(sown=True)))
        bought = self.svg(row(up=None, pot=None, harden=None))
        self.assertNotIn("furrow", bought)
        self.assertNotIn('class="up"', bought)
        self.assertIn('class="garden"', bought)

    def test_height_is_room_and_never_bursts_its_row(self) -> None:
        heights = [_room(t) for t in (0, 0.2, 1, 4, 9, 100)]
        self.assertEqual(heights, sorted(heights))
        self.assertEqual(heights[-1], MOST_PX)

    def test_light_grows_step_by_step_through_hardening(self) -> None:
        path = re.search(r'class="light" d="([^"]+)"', self.svg())
        assert path is not None
        widths = [float(w) for w in re.findall(r"h([\d.]+)V", path[1])]
        self.assertEqual(widths, sorted(widths))
        self.assertGreaterEqual(len(widths), 3)

    def test_sky_and_lines_name_their_days(self) -> None:
        svg = self.svg()
        for said in (
            "9 in 10",
            "1 in 10 · your line",
            "20 May",
            "first frost, 1 in 2",
            "4 Oct",
            "today, Sun 12 April",
        ):
            self.assertIn(said, svg)
        self.assertNotIn("today,", self.svg(today=date(2029, 1, 1)).split("Frost still")[0])

    def test_nothing_carries_inline_style(self) -> None:
        self.assertNotIn("style=", self.svg())
        self.assertEqual(self.svg().count("<style>"), 0)
