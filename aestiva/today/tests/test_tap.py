"""A tap answers with what it changed, and what is kept of the day is what would be worked out anew."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.models import ForecastNight
from aestiva.season.models import Batch, BatchEvent, Spot
from aestiva.today.listing import Listing, kept, listing, states

HTMX = {"HX-Request": "true"}


class Taps(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        for crop, days in (("tomato", 5), ("tomato", 9), ("onion", 70), ("lettuce", 30), ("kale", 12), ("leek", 3)):
            self.begun(crop, days)
        plant(self.garden, self.owner, "basil", 10, sow_on=TODAY)

    def begun(self, crop: str, days: int) -> Batch:
        on = TODAY - timedelta(days=days)
        batch = Batch.objects.create(planting=plant(self.garden, self.owner, crop, 10, sow_on=on), sown_on=on, cells=14)
        BatchEvent.objects.create(batch=batch, kind="sown", on=on, count=28)
        return batch

    def page(self) -> str:
        return str(self.client.get(self.url("today/")).content.decode())

    def tap(self, rest: str, **data: Any) -> Any:
        return self.client.post(self.url(rest), data, headers=HTMX)

    def short(self) -> tuple[Listing | None, Listing]:
        """What is kept of today, and what it would be worked out anew."""
        now = self.now()
        return kept(states(self.garden, TODAY)[0], "today"), listing(now, now.todos(TODAY))

    def keys(self) -> list[str]:
        return re.findall(r'action="[^"]*/task/([^/"]+)/"', self.page())

    def test_what_is_kept_is_what_would_be_worked_out(self) -> None:
        done = 0
        while keys := self.keys()[:1]:
            answer = self.tap(f"task/{keys[0]}/", count="9")
            self.assertIn(answer.status_code, (200, 204))
            if answer.status_code == 200:
                found, anew = self.short()
                assert found is not None
                self.assertEqual(set(found.lines), set(anew.lines))
                self.assertEqual(set(found.outdoors), set(anew.outdoors))
                self.assertContains(answer, f'id="t-{keys[0].replace(".", "-")}" hx-swap-oob="delete"')
                done += 1
            self.assertLess(done, 40)
        self.assertGreater(done, 5)

    def test_the_answer_is_the_row_the_minutes_and_the_sentence(self) -> None:
        whole = self.page()
        key = next(k for k in self.keys() if ".lamp." in k)
        answer = self.tap(f"task/{key}/").content.decode()
        for part in ('id="headline"', 'id="sub"', 'id="note-bench"', 'id="done"', "Take back"):
            self.assertIn(part, answer)
        self.assertLess(len(answer), len(whole) / 4)
        minutes = re.search(r'id="note-bench"[^>]*>(about \d+ min)', answer)
        assert minutes is not None
        self.assertIn(minutes[1], self.page())

    def test_one_of_an_errand_leaves_the_others_in_their_row(self) -> None:
        frame = Spot.objects.create(garden=self.garden, kind="frame", code="F1")
        for crop in ("kale", "leek", "kale"):
            batch = self.begun(crop, 40)
            self.post(f"batch/{batch.pk}/record/", kind="up", count="14", on=(TODAY - timedelta(days=20)).isoformat())
            self.post(f"batch/{batch.pk}/change/", what="move", spot=frame.pk)
        ForecastNight.objects.create(garden=self.garden, day=TODAY, tmin_c=-9)
        self.page()
        watched = [t.task.key for t in self.now().todos(TODAY) if t.task.kind == "carry_in"]
        answer = self.tap(f"task/{watched[0]}/")
        self.assertEqual(answer.status_code, 200)
        self.assertContains(answer, '<div class="num">28</div>')
        found, anew = self.short()
        assert found is not None
        self.assertEqual(set(found.lines), set(anew.lines))

    def test_what_is_wrong_stands_in_the_row(self) -> None:
        self.page()
        key = next(k for k in self.keys() if ".look." in k)
        answer = self.tap(f"task/{key}/", count="many")
        self.assertEqual(answer.status_code, 422)
        self.assertContains(answer, "is not a whole number", status_code=422)
        self.assertContains(answer, f'id="t-{key.replace(".", "-")}" hx-swap-oob="true"', status_code=422)

    def test_the_page_is_asked_for_anew_where_more_has_changed_or_nothing_is_kept(self) -> None:
        self.page()
        key = next(k for k in self.keys() if ".lamp." in k)
        once = {"key": "tap-once"}
        self.assertEqual(self.tap(f"task/{key}/", **once).status_code, 200)
        again = self.tap(f"task/{key}/", **once)
        self.assertEqual((again.status_code, again.headers["HX-Refresh"]), (204, "true"))
        self.page()
        other = next(k for k in self.keys() if ".lamp." in k)
        JournalEntry.objects.create(
            garden=self.garden, day=TODAY, at="2026-04-12T08:00Z", by="x", summary="x", key="other"
        )
        Garden.objects.filter(pk=self.garden.pk).update(revision=500)
        self.assertEqual(self.tap(f"task/{other}/").status_code, 204)
        self.assertFalse(any(t.task.key == other for t in self.now().todos(TODAY)))
