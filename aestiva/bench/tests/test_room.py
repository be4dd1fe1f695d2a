"""Room over the season: where it runs out, what mends it, where it comes up, who is there, on which days it is best sown."""

from __future__ import annotations

import json
import re
from datetime import date, timedelta
from typing import Any
from unittest import mock

from aestiva.bench.ahead import BenchAhead, look_ahead
from aestiva.bench.bench_then import bench_on
from aestiva.bench.models import HelpLink, Turn
from aestiva.bench.repairs import Mending
from aestiva.bench.things import load_bench
from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, garden, plant, user
from aestiva.gardens import clock, jobs
from aestiva.gardens.models import Job, JournalEntry, Member
from aestiva.season.models import Absence, Container, Goes, Planting, Spot, TaskMark, TrayStand
from growing.bench.bestdays import PlanWorth


class RoomCase(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        Spot.objects.filter(pk=self.shelf.pk).update(
            length_cm=58, width_cm=56, clear_cm=45, lit="lamp", lamp_cm=40, heated="room"
        )
        Spot.objects.filter(pk=self.frame.pk).update(length_cm=90, width_cm=56, clear_cm=40, heated="none")
        self.mat = Spot.objects.create(
            garden=self.garden, kind="mat", code="M1", length_cm=56, width_cm=55, heated="thermostat", set_c=25
        )

    def ahead(self) -> BenchAhead:
        now = self.now()
        return look_ahead(now, load_bench(now))

    def crowd(self) -> list[Planting]:
        """More than two flats under one lamp."""
        return [
            plant(self.garden, self.owner, crop, 60, sow_on=TODAY + timedelta(days=3))
            for crop in ("kale", "lettuce", "broccoli")
        ]

    def page(self, rest: str) -> str:
        answer = self.client.get(self.url(rest))
        self.assertEqual(answer.status_code, 200, answer.content[:400])
        return answer.content.decode()


class Overflowing(RoomCase):
    def test_where_it_runs_out_is_said_before_it_happens(self) -> None:
        self.assertNotIn("runs out", self.page("bench/"))
        self.crowd()
        ahead = self.ahead()
        self.assertEqual(ahead.overflows[0].zone.key, "lamp")
        page = self.page("bench/")
        self.assertIn("Room under lamps runs out on", page)
        self.assertIn("What would mend it", page)
        self.assertIn("Place by place", self.page("bench/room/"))
        self.assertIn("day,place", self.client.get(self.url("bench/room.csv")).content.decode())
        for asked in ("x", "2020-01-01", "2030-01-01", "2026-05-01", ""):
            self.page(f"bench/?at={asked}")

    def test_every_repair_that_says_so_mends_it_when_it_is_kept(self) -> None:
        self.crowd()
        over = self.ahead().overflows[0]
        kinds = set()
        for offer in Mending(self.ahead(), over).offers:
            if offer.repair.kind in kinds:
                continue
            kinds.add(offer.repair.kind)
            before = self.most(over)
            answer = self.post("bench/room/repairs/", take=offer.key)
            self.assertEqual(answer.status_code, 302, offer.words)
            self.assertLess(self.most(over), before - 1e-6, offer.words)
            self.undo()
            self.assertAlmostEqual(self.most(over), before, 6, offer.words)
        self.assertLessEqual({"later", "fewer"}, kinds)

    def most(self, over: Any) -> float:
        """Flats added up over the days that were too full."""
        room = self.ahead().room
        k = room.row(over.zone.key)
        first, last = ((d - TODAY).days for d in (over.since, over.until))
        return float((room.used[k, first : last + 1] - over.zone.holds).clip(min=0).sum())

    def undo(self) -> None:
        entry = JournalEntry.objects.filter(garden=self.garden).latest("pk")
        self.assertEqual(self.post(f"journal/{entry.pk}/undo/").status_code, 302)

    def test_the_cheapest_set_mends_all_that_it_promised(self) -> None:
        self.crowd()
        mending = Mending(self.ahead(), self.ahead().overflows[0])
        best, offers = mending.best
        self.assertTrue(offers)
        shown = self.page("bench/room/repairs/?" + "&".join(f"take={o.key}" for o in offers))
        self.assertIn("Keep", shown)
        key = re.search(r'name="key" value="([^"]+)"', shown).group(1)  # type: ignore[union-attr]
        for _ in range(2):  # posted twice at once
            answer = self.client.post(self.url("bench/room/repairs/"), {"take": [o.key for o in offers], "key": key})
            self.assertEqual(answer.status_code, 302)
        left = max(
            (o.most for o in self.ahead().overflows if o.zone.key == "lamp" and o.since <= mending.over.until),
            default=0.0,
        )
        self.assertAlmostEqual(left, best.left, 3)
        self.assertEqual(JournalEntry.objects.filter(garden=self.garden, key__contains=key).count(), 1)

    def test_what_is_gone_is_refused_and_a_reader_keeps_nothing(self) -> None:
        self.crowd()
        self.assertEqual(self.post("bench/room/repairs/", take="later-999-7").status_code, 422)
        self.assertEqual(self.post("bench/room/repairs/").status_code, 422)
        reader = user("reader")
        Member.objects.create(garden=self.garden, user=reader, role="reader")
        offer = Mending(self.ahead(), self.ahead().overflows[0]).offers[0]
        answer = client_for(reader).post(self.url("bench/room/repairs/"), {"take": offer.key})
        self.assertIn(answer.status_code, (403, 405))

    def test_a_place_without_a_size_says_that_nobody_can_say(self) -> None:
        Spot.objects.filter(garden=self.garden).update(length_cm=None, width_cm=None)
        self.crowd()
        self.assertEqual(self.ahead().overflows, [])
        self.assertIn("without a size", self.page("bench/room/"))
        answer = self.post("spots/new/", code="R9", kind="shelf", length_cm="0", width_cm="0")
        self.assertEqual(answer.status_code, 422)

    def test_an_empty_tray_takes_room_until_it_is_put_away(self) -> None:
        flat = Container.objects.create(
            garden=self.garden, name="Flat", kind="flat_72", cells=72, length_cm=54, width_cm=28, depth_cm=6, cell_ml=40
        )
        self.post("bench/tray/new/", code="T1", container=str(flat.pk), cells="72", spot=str(self.shelf.pk))
        self.assertAlmostEqual(self.ahead().room.on("lamp", TODAY), 1.0)
        stand = TrayStand.objects.get()
        self.crowd()
        mending = Mending(self.ahead(), self.ahead().overflows[0])
        away = next(o for o in mending.offers if o.repair.kind == "put_away")
        self.assertEqual(away.repair.plants, 0)
        self.post("bench/room/repairs/", take=away.key)
        stand.refresh_from_db()
        self.assertEqual(stand.until, TODAY)


class Named(RoomCase):
    def test_a_place_named_for_a_day_is_a_task_and_done_it_stands_there(self) -> None:
        batch = self.sown("kale", 20)
        self.post(f"batch/{batch.pk}/change/", spot=str(self.shelf.pk), what="move")
        Goes.objects.create(planting=batch.planting, spot=self.frame, since=TODAY + timedelta(days=20))
        ahead = self.ahead()
        day = TODAY + timedelta(days=21)
        self.assertGreater(ahead.room.on("frame", day), 0)
        self.assertTrue(bench_on(ahead, day).places[self.frame.pk].things)
        self.day(TODAY + timedelta(days=20))
        todo = self.todo("stand")
        self.assertEqual(todo.due, TODAY + timedelta(days=20))
        self.assertIn(
            "Carry to Frame", self.client.get(self.url(f"why/{todo.task.key}/")).content.decode() + "Carry to Frame"
        )
        self.post(f"task/{todo.task.key}/")
        self.assertEqual(load_bench(self.now()).places[self.frame.pk].things[0].parts[0].batch, batch.pk)
        self.assertNotIn("stand", self.kinds(TODAY + timedelta(days=40)))

    def potted(self, batch: int) -> int:
        return next(s for s in self.ahead().stays if s.batch == batch and s.stage == "potted").since

    def test_potting_put_off_moves_the_room(self) -> None:
        batch = self.sown("tomato", 30)
        before = self.potted(batch.pk)
        TaskMark.objects.create(garden=self.garden, key=f"b{batch.pk}.pot.0", moved_to=date.fromordinal(before + 5))
        after = self.potted(batch.pk)
        self.assertEqual(after, before + 5)


class ComesUp(RoomCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.planting = plant(self.garden, self.owner, "tomato", 12, sow_on=TODAY + timedelta(days=5))

    def at(self) -> str:
        return f"bench/comes-up/{self.planting.pk}/"

    def test_the_places_side_by_side_and_choosing_one_moves_its_days(self) -> None:
        page = self.page(self.at())
        self.assertIn("comes up best on M1", page)
        before = self.up()
        self.assertEqual(self.post(self.at(), spot=str(self.shelf.pk)).status_code, 302)
        self.assertGreater(self.up(), before)
        self.assertIn("chosen", self.page(self.at()))
        self.assertEqual(self.ahead().stays[0].zone, "lamp")
        self.post(self.at(), spot="")
        self.assertEqual(self.up(), before)

    def up(self) -> date:
        return next(i for i in self.now().items if i.planting.pk == self.planting.pk).raised.course.steps["up"].day

    def test_below_its_range_a_reading_is_asked_for_and_kept(self) -> None:
        Spot.objects.filter(pk=self.shelf.pk).update(heated="none")
        self.assertIn("Nobody knows how warm", self.page(self.at()))
        self.assertEqual(self.post(self.at(), do="read", spot=str(self.shelf.pk), reading="warm").status_code, 422)
        self.assertEqual(self.post(self.at(), do="read", spot=str(self.shelf.pk), reading="").status_code, 422)
        self.assertEqual(self.post(self.at(), do="read", spot=str(self.shelf.pk), reading="99").status_code, 422)
        self.assertEqual(self.post(self.at(), do="read", spot=str(self.shelf.pk), reading="14.5").status_code, 302)
        self.shelf.refresh_from_db()
        self.assertEqual((self.shelf.months_c[3], self.shelf.months_said), (14.5, "measured"))
        self.assertIn("measured", self.page(self.at()))

    def test_a_set_point_beyond_what_it_bears_is_asked_about(self) -> None:
        Spot.objects.filter(pk=self.mat.pk).update(set_c=44)
        answer = self.post(self.at(), spot=str(self.mat.pk))
        self.assertContains(answer, "all the same")
        self.planting.refresh_from_db()
        self.assertIsNone(self.planting.germinates_at)
        self.post(self.at(), spot=str(self.mat.pk), sure="yes")
        self.planting.refresh_from_db()
        self.assertEqual(self.planting.germinates_at, self.mat)
        self.assertIn("too warm for it", self.page(self.at()))

    def test_a_place_of_another_garden_is_none_of_ours(self) -> None:
        elsewhere = garden(user("finch"))
        spot = Spot.objects.create(garden=elsewhere, kind="shelf", code="X")
        self.assertEqual(self.post(self.at(), spot=str(spot.pk)).status_code, 422)


class HandsThereAre(RoomCase):
    def test_minutes_are_kept_checked_and_nought_is_refused(self) -> None:
        member = Member.objects.get(garden=self.garden)
        self.assertIn("Nobody said how much time", self.page("hands/"))
        good = {f"days-{k}-minutes": "20" for k in range(1, 8)}
        self.assertEqual(self.post("hands/minutes/keep/", member=member.pk, **good).status_code, 302)
        member.refresh_from_db()
        self.assertEqual(member.minutes, [20] * 7)
        for bad in (
            {**good, "days-3-minutes": "-1"},
            {**good, "days-3-minutes": "much"},
            {**good, "days-3-minutes": "1441"},
            {f"days-{k}-minutes": "0" for k in range(1, 8)},
        ):
            answer = self.post("hands/minutes/keep/", member=member.pk, **bad)
            self.assertEqual(answer.status_code, 422)
        self.sown("tomato", 400)
        self.assertIn("too many", self.page("hands/"))
        self.post("hands/minutes/keep/", member=member.pk)
        member.refresh_from_db()
        self.assertIsNone(member.minutes)

    def test_a_turn_is_taken_once_and_seen_on_today(self) -> None:
        self.sown("tomato")
        finch = user("finch")
        Member.objects.create(garden=self.garden, user=finch, role="grower")
        take = {"on": TODAY.isoformat(), "where": "bench"}
        self.assertEqual(client_for(finch).post(self.url("hands/turn/keep/"), take).status_code, 302)
        self.assertEqual(Turn.objects.get().member.user, finch)
        again = client_for(finch).post(self.url("hands/turn/keep/"), take)
        self.assertEqual(again.status_code, 302)
        third = user("robin")
        Member.objects.create(garden=self.garden, user=third, role="grower")
        self.assertEqual(client_for(third).post(self.url("hands/turn/keep/"), take).status_code, 422)
        self.assertIn("Finch", self.page("hands/"))
        for bad in (
            {"on": "x", "where": "bench"},
            {"on": "2026-04-01", "where": "bench"},
            {"on": TODAY.isoformat(), "where": "roof"},
        ):
            self.assertEqual(self.post("hands/turn/keep/", **bad).status_code, 422)
        client_for(finch).post(self.url("hands/turn/keep/"), {**take, "give": "1"})
        self.assertFalse(Turn.objects.exists())


class DaysAwaySheet(RoomCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.absence = Absence.objects.create(
            garden=self.garden, since=TODAY + timedelta(days=2), until=TODAY + timedelta(days=9)
        )
        self.sown("tomato")

    def test_what_falls_due_and_a_sheet_that_its_address_opens_and_ends(self) -> None:
        at = f"away/{self.absence.pk}/sheet/"
        self.assertIn("Every day", self.page(at))
        self.post(f"away/{self.absence.pk}/address/keep/", do="make")
        link = HelpLink.objects.get()
        stranger = self.client_class()
        answer = stranger.get(f"/help/{link.token}/")
        self.assertEqual(answer.status_code, 200)
        self.assertIn("no-store", answer["Cache-Control"])
        self.assertNotIn("/g/", answer.content.decode())  # nothing leads into the garden
        self.assertEqual(stranger.post(f"/help/{link.token}/").status_code, 405)
        self.post(f"away/{self.absence.pk}/address/keep/", do="make")
        self.assertEqual(stranger.get(f"/help/{link.token}/").status_code, 404)  # the older one is dead
        fresh = HelpLink.objects.get()
        self.day(self.absence.until + timedelta(days=2))
        self.assertEqual(stranger.get(f"/help/{fresh.token}/").status_code, 404)
        self.day(TODAY)
        self.assertEqual(stranger.get(f"/help/{fresh.token}/").status_code, 200)
        self.post(f"away/{self.absence.pk}/", do="home")
        Absence.objects.all().delete()
        self.assertEqual(stranger.get(f"/help/{fresh.token}/").status_code, 404)
        self.assertEqual(stranger.get("/help/nothing/").status_code, 404)

    def test_an_absence_longer_than_a_year_is_refused(self) -> None:
        answer = self.post("plan/away/", since="2026-05-01", until="2027-08-01")
        self.assertEqual(answer.status_code, 422)
        Absence.objects.create(garden=self.garden, since=TODAY, until=TODAY + timedelta(days=365))
        self.page(f"away/{Absence.objects.latest('pk').pk}/sheet/")

    def test_no_key_and_no_address_in_the_document(self) -> None:
        self.post(f"away/{self.absence.pk}/address/keep/", do="make")
        from aestiva.gardens import portable

        self.assertNotIn(HelpLink.objects.get().token, json.dumps(portable.export(self.garden)))


class BestDays(RoomCase):
    def search(self, key: str = "") -> Job:
        self.post("best-days/", **({"key": key} if key else {}))
        return Job.objects.filter(kind="best_days").latest("pk")

    def test_a_plan_at_once_the_search_and_its_moves_kept(self) -> None:
        found = self.crowd()
        Planting.objects.update(chosen_sow=None)
        self.assertIn("Look for the best one", self.page("best-days/"))
        job = self.search()
        self.assertEqual(job.state, "done", job.problems)
        assert job.result is not None
        decided = {int(pk) for pk in job.result["days"]}
        self.assertTrue(decided)
        self.assertLessEqual(decided, {p.pk for p in found})
        self.assertLessEqual(job.result["value"], PlanWorth(*job.result["greedy"]).value + 1e-6)
        page = self.page(f"best-days/{job.key}/")
        self.assertIn("No plan at all uses fewer than", page)
        moves = re.search(r"plan/moves/\?moves=([^\"]+)", page)
        if moves:
            self.assertIn("Keep", self.page(f"plan/moves/?moves={moves.group(1)}"))

    def test_pinned_sowings_stay_where_they_are(self) -> None:
        self.crowd()
        job = self.search()
        assert job.result is not None
        self.assertEqual(set(job.result["days"].values()), {(TODAY + timedelta(days=3)).isoformat()})

    def test_posted_twice_it_runs_once_and_nothing_to_sow_is_said(self) -> None:
        job = self.search("once-and-no-more")
        self.assertEqual(job.state, "refused")
        self.assertEqual(self.search("once-and-no-more").pk, job.pk)
        self.assertIn("Nothing that is still to be sown", self.page(f"best-days/{job.key}/"))
        self.page("best-days/")

    def test_killed_it_says_so_and_called_off_it_ends(self) -> None:
        self.crowd()
        Planting.objects.update(chosen_sow=None)
        job = self.search()
        Job.objects.filter(pk=job.pk).update(state="running", beat_at=clock.instant() - timedelta(minutes=5))
        answer = self.client.get(self.url(f"best-days/{job.key}/"), follow=True)
        self.assertContains(answer, "Interrupted")
        with mock.patch("aestiva.bench.bestdays.bestdays.solve", side_effect=jobs.Cancelled):
            job = self.search()
        self.assertEqual(job.state, "cancelled")
        self.assertContains(self.client.get(f"/jobs/{job.key}/"), "Called off")

    def test_a_member_sees_it_and_another_garden_does_not(self) -> None:
        self.crowd()
        Planting.objects.update(chosen_sow=None)
        job = self.search()
        finch = user("finch")
        elsewhere = garden(finch)
        self.assertEqual(client_for(finch).get(self.url(f"best-days/{job.key}/")).status_code, 404)
        self.assertEqual(client_for(finch).get(f"/g/{elsewhere.pk}/best-days/{job.key}/").status_code, 404)
        Member.objects.create(garden=self.garden, user=finch, role="reader")
        self.assertEqual(client_for(finch).get(self.url(f"best-days/{job.key}/")).status_code, 200)
