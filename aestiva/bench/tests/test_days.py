"""A sowing or potting day: by stage, resumed by anybody, written once; soaks that ring; mix, and what must not follow what."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any
from unittest.mock import patch

from aestiva.bench.models import BenchDay, Filled, Recipe, StageDone, Timer
from aestiva.bench.tests.test_trays import TrayCase
from aestiva.frame.tests.garden import TODAY, client_for, plant, user
from aestiva.gardens.models import Garden, Member
from aestiva.season.contents import contents_of, open_runs
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, Spot, Tray, TrayStand
from growing.bench.codes import code
from growing.bench.day import SOW_STAGES
from growing.bench.mix import feeder_of

NOON = datetime(2026, 4, 12, 11, 0, tzinfo=UTC)


class DayCase(TrayCase):
    def begun(self, kind: str = "sow", **more: Any) -> BenchDay:
        answer = self.post("bench/days/", kind=kind, on=TODAY.isoformat(), **more)
        self.assertEqual(answer.status_code, 302, answer.content[:500])
        return BenchDay.objects.get(kind=kind)

    def tap(self, day: BenchDay, line: Any, stage: str, client: Any = None, **data: Any) -> Any:
        address = self.url(f"bench/day/{day.pk}/stage/")
        return (client or self.client).post(
            address, {"what": "done", "line": getattr(line, "pk", line), "stage": stage, **data}
        )

    def page(self, day: BenchDay, client: Any = None) -> str:
        return (client or self.client).get(self.url(f"bench/day/{day.pk}/")).content.decode()


class Sowing(DayCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.tomato = plant(self.garden, self.owner, "tomato", 6, sow_on=TODAY, per_cell=1)
        self.basil = plant(self.garden, self.owner, "basil", 4, sow_on=TODAY, per_cell=2)

    def test_every_stage_of_every_line_and_the_sowing_is_written_once(self) -> None:
        recipe = Recipe.objects.create(garden=self.garden, name="Seed mix", parts=[["coir", 2], ["sand", 1]])
        day = self.begun(minutes="90")
        self.assertEqual(day.recipe, recipe)
        self.assertEqual(day.lines.count(), 2)
        second = user("finch")
        Member.objects.create(garden=self.garden, user=second, role="grower")
        other = client_for(second)
        for taps in range(40):
            from aestiva.bench import days

            found = days.sheet(BenchDay.objects.get(pk=day.pk), NOON)
            if found.next is None:
                break
            client = self.client if taps % 3 else other
            more = {"spot": self.shelf.pk} if found.next.stage == "place" else {}
            answer = self.tap(day, found.next.line, found.next.stage, client, **more)
            self.assertEqual(answer.status_code, 302, answer.content[:600])
        self.assertIn("all done", self.page(day))
        self.assertEqual(Batch.objects.filter(planting__in=(self.tomato, self.basil)).count(), 2)
        for line in day.lines.select_related("tray", "batch"):
            assert line.tray is not None and line.batch is not None
            self.assertEqual(
                sum(b == line.batch.pk for b, _ in contents_of(open_runs(line.tray)).values()), line.places
            )
            self.assertEqual(line.tray.stands.get(until=None).spot, self.shelf)
            self.assertEqual(Filled.objects.get(batch=line.batch).recipe, recipe)
        self.assertNotIn("sow", self.kinds())
        self.assertEqual(set(StageDone.objects.values_list("by", flat=True)), {self.owner.pk, second.pk})

    def test_a_place_with_room_is_offered_first(self) -> None:
        other = Spot.objects.create(
            garden=self.garden, kind="shelf", code="R1·2", length_cm=120, width_cm=56, clear_cm=45, order=9
        )
        TrayStand.objects.create(tray=self.tray("T90", 24, self.flat), spot=other, since=TODAY)
        Spot.objects.filter(pk=self.shelf.pk).update(length_cm=20)
        day = self.begun()
        line = day.lines.first()
        for stage in SOW_STAGES[:-1]:
            for one in day.lines.all():
                self.tap(day, one, stage)
        select = self.page(day).split('name="spot"')[1].split("</select>")[0]
        self.assertLess(select.index("R1·2"), select.index("R1·1"))
        self.assertEqual(self.tap(day, line, "place", spot=other.pk).status_code, 302)

    def test_two_people_at_one_stage(self) -> None:
        day = self.begun()
        line = day.lines.first()
        self.tap(day, line, "label")
        again = self.client.post(
            self.url(f"bench/day/{day.pk}/stage/"), {"what": "done", "line": line.pk, "stage": "label"}, follow=True
        )
        self.assertIn("Somebody has done that already", again.content.decode())
        self.assertEqual(self.garden.journal.filter(summary__startswith="Labels").count(), 1)
        self.assertFalse(self.garden.journal.filter(summary="").exists(), "nothing done is no entry")
        self.assertEqual(StageDone.objects.filter(line=line, stage="label").count(), 1)

    def test_a_stage_taken_back_is_open_again_and_so_is_the_sowing(self) -> None:
        day = self.begun()
        line = day.lines.first()
        for stage in SOW_STAGES[:5]:
            self.tap(day, line, stage)
        self.assertEqual(Batch.objects.count(), 1)
        self.undo_last()
        self.assertEqual(Batch.objects.count(), 0)
        self.assertFalse(StageDone.objects.filter(line=line, stage="seed").exists())
        self.assertIn("sow", self.kinds())
        self.tap(day, line, "seed")
        self.assertEqual(Batch.objects.count(), 1)

    def test_fewer_cells_leave_the_rest_to_be_sown(self) -> None:
        day = self.begun()
        line = day.lines.get(planting=self.tomato)
        places = line.places
        self.tap(day, line, "seed", count=str(places - 2))
        batch = Batch.objects.get(planting=self.tomato)
        self.assertEqual(batch.cells, places - 2)
        rest = next(t for t in self.now().todos(TODAY) if t.item.planting.pk == self.tomato.pk and t.task.kind == "sow")
        self.assertEqual(rest.task.count, 2)
        for count, said in (
            ("0", "not a number to sow"),
            ("x", "not a whole number"),
            ("999", "has"),
            ("-3", "not a number to sow"),
        ):
            answer = self.tap(day, day.lines.get(planting=self.basil), "seed", count=count)
            self.assertEqual(answer.status_code, 422, count)
            self.assertIn(said, answer.content.decode())

    def test_a_soak_rings_and_its_line_is_passed_over_until_it_is_drained(self) -> None:
        parsley = plant(self.garden, self.owner, "parsley", 6, sow_on=TODAY, per_cell=1)
        day = self.begun()
        line = day.lines.get(planting=parsley)
        self.assertIn("To soak first", self.page(day))
        with patch("aestiva.gardens.clock.instant", return_value=NOON):
            self.post(f"bench/day/{day.pk}/timer/", line=line.pk, minutes="120")
            timer = Timer.objects.get()
            self.assertEqual(timer.due, NOON + timedelta(hours=2))
            page = self.page(day)
            self.assertIn("drain at 13:00", page)
            self.assertIn("2:00", page)
            today = self.client.get(self.url("today/")).content.decode()
            self.assertIn("drain at 13:00", today)
            Garden.objects.filter(pk=self.garden.pk).update(clock="12")
            self.assertIn("drain at 1 pm", self.page(day))
        calendar = self.client.get(self.url("calendar/tasks.ics")).content.decode().replace("\r\n ", "")
        self.assertIn("drain the soak", calendar)
        self.assertIn("DTSTART:20260412T130000Z", calendar)
        self.assertIn("BEGIN:VALARM", calendar)
        from aestiva.bench import days

        for _ in range(40):
            found = days.sheet(BenchDay.objects.get(pk=day.pk), NOON)
            if found.next is None or found.next.waits_until is not None:
                break
            more = {"spot": self.shelf.pk} if found.next.stage == "place" else {}
            self.tap(day, found.next.line, found.next.stage, **more)
        assert found.next is not None
        self.assertEqual((found.next.line, found.next.stage), (line.pk, "seed"))
        self.post(f"bench/timer/{timer.pk}/end/")
        self.assertIsNone(days.sheet(BenchDay.objects.get(pk=day.pk), NOON).next.waits_until)  # type: ignore[union-attr]

    def test_nothing_boils_after_compost(self) -> None:
        recipe = Recipe.objects.create(garden=self.garden, name="Plain", parts=[["coir", 1]])
        day = self.begun()
        self.assertEqual(day.recipe, recipe)
        self.assertEqual(self.post(f"bench/day/{day.pk}/stage/", what="evening", stage="compost").status_code, 302)
        answer = self.post(f"bench/day/{day.pk}/stage/", what="evening", stage="scald")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("compost was added already", answer.content.decode())
        living = Recipe.objects.create(garden=self.garden, name="Living", parts=[["compost", 1]], living=True)
        BenchDay.objects.filter(pk=day.pk).update(recipe=living)
        self.undo_last()
        self.assertIn(
            "heat kills", self.post(f"bench/day/{day.pk}/stage/", what="evening", stage="scald").content.decode()
        )

    def test_the_mix_of_the_day_is_weighed_out(self) -> None:
        recipe = Recipe.objects.create(
            garden=self.garden, name="Seed mix", parts=[["coir", 2], ["sand", 1]], grams=[["lime", 1.5]]
        )
        day = self.begun()
        from aestiva.bench import days

        found = days.sheet(BenchDay.objects.get(pk=day.pk), NOON)
        cells = sum(r.line.places for r in found.rows)
        self.assertAlmostEqual(found.litres, cells * 60 / 1000 * 1.12)
        [(mix, litres, measures)] = found.mixed
        self.assertEqual((mix, round(litres, 6)), (recipe, round(found.litres, 6)))
        self.assertAlmostEqual(sum(m.amount for m in measures if m.unit == "l"), found.litres)
        self.post(f"bench/day/{day.pk}/stage/", what="recipe", recipe="", revision=day.revision)
        self.assertIn("nobody said which", self.page(day))
        self.assertEqual(Recipe.objects.get(), recipe)

    def test_a_line_off_the_sheet_and_the_sheet_itself(self) -> None:
        day = self.begun()
        first, last = day.lines.all()
        self.tap(day, first, "label")
        self.post(f"bench/day/{day.pk}/stage/", what="drop", line=first.pk)
        self.assertEqual(day.lines.count(), 1)
        self.undo_last()
        self.assertEqual((day.lines.count(), StageDone.objects.filter(line=first).count()), (2, 1))
        self.tap(day, last, "seed")
        self.assertEqual(self.post(f"bench/day/{day.pk}/stage/", what="drop", line=last.pk).status_code, 422)
        self.assertEqual(self.post(f"bench/day/{day.pk}/stage/", what="leave").status_code, 422)
        self.undo_last()
        self.assertEqual(self.post(f"bench/day/{day.pk}/stage/", what="leave").status_code, 302)
        self.assertFalse(BenchDay.objects.exists())
        self.assertFalse(Tray.objects.exists(), "trays that were only meant go with it")

    def test_labels_before_plants_move_say_tray_and_cells(self) -> None:
        day = self.begun()
        line = day.lines.get(planting=self.tomato)
        assert line.tray is not None
        page = self.client.get(self.url(f"bench/labels/?of=P{self.tomato.pk}")).content.decode()
        self.assertIn(f"{line.tray.code} A1", page)
        self.assertIn("sown 12 Apr 2026", page)
        typed = code("P", self.tomato.pk)
        self.assertEqual(self.client.get(f"/l/{typed}/").url, self.url(f"plan/{self.tomato.pk}/"))
        self.tap(day, line, "seed")
        batch = Batch.objects.get(planting=self.tomato)
        self.assertEqual(
            self.client.get(f"/l/{typed}/").url, self.url(f"batch/{batch.pk}/"), "its batch, once there is one"
        )

    def test_what_cannot_begin(self) -> None:
        for data, said in (
            ({"kind": "pot"}, "nothing is to be potted"),
            ({"kind": "eat"}, "sowing day or a potting day"),
            ({"kind": "sow", "minutes": "0"}, "1 to 1440"),
            ({"kind": "sow", "on": "2027-01-01"}, "too far"),
            ({"kind": "sow", "on": "soon"}, "not a day"),
        ):
            answer = self.post("bench/days/", **({"on": TODAY.isoformat()} | data))
            self.assertEqual(answer.status_code, 422, data)
            self.assertIn(said, answer.content.decode())
        self.assertFalse(BenchDay.objects.exists())

    def test_a_sheet_for_tomorrow_sows_nothing_today(self) -> None:
        ahead = TODAY + timedelta(days=1)
        answer = self.post("bench/days/", kind="sow", on=ahead.isoformat())
        self.assertEqual(answer.status_code, 302)
        day = BenchDay.objects.get()
        self.assertIn("evening before", self.page(day))
        answer = self.tap(day, day.lines.first(), "seed")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("sowing is not", answer.content.decode())

    def test_what_gets_on_shares_a_tray(self) -> None:
        day = self.begun()
        lettuce = plant(self.garden, self.owner, "lettuce", 6, sow_on=TODAY, per_cell=1)
        pepper = plant(self.garden, self.owner, "pepper", 4, sow_on=TODAY, per_cell=1)
        trays = {line.planting_id: line.tray_id for line in day.lines.all()}
        self.assertNotIn(lettuce.pk, trays, "planned after the sheet was made: it is on Today")
        self.post(f"bench/day/{day.pk}/stage/", what="leave")
        day = self.begun()
        by = {line.planting_id: line.tray_id for line in day.lines.all()}
        self.assertNotEqual(by[lettuce.pk], by[pepper.pk], "warm and cool seed do not share")
        self.assertEqual(by[self.tomato.pk], by[self.basil.pk], "what gets on does")


class Potting(DayCase):
    def ready(self) -> Batch:
        """A batch whose potting is due."""
        batch = self.sown("tomato", 8, on=TODAY - timedelta(days=40), per_cell=1)
        self.post(f"batch/{batch.pk}/record/", kind="up", count="8", on=(TODAY - timedelta(days=32)).isoformat())
        for task in self.now().todos(TODAY):
            if task.item.batch is not None and task.task.kind in ("look", "count", "lamp", "lid", "thin"):
                self.post(f"task/{task.task.key}/", count="8")
        return batch

    def test_the_rest_goes_to_a_named_place(self) -> None:
        batch = self.ready()
        self.pots()
        self.assertIn("pot", self.kinds())
        day = self.begun("pot")
        line = day.lines.get()
        for stage in ("label", "fill", "lift"):
            self.tap(day, line, stage)
        answer = self.tap(day, line, "pot", count="5", rest=self.frame.pk)
        self.assertEqual(answer.status_code, 302, answer.content[:500])
        child = Batch.objects.exclude(pk=batch.pk).get()
        self.assertEqual((accounts_of(child).indoors, accounts_of(batch).indoors), (5, 3))
        self.assertTrue(child.events.filter(kind="potted", count=5).exists())
        rest = {str(s.spot) for s in batch.stands.filter(until=None)} | {
            str(r.tray.stands.get(until=None).spot) for r in batch.runs.filter(until=None)
        }
        self.assertEqual(rest, {"Frame"})
        self.tap(day, line, "water")
        self.assertEqual(self.tap(day, line, "place", spot=self.shelf.pk).status_code, 302)
        self.assertEqual(child.stands.get(until=None).spot, self.shelf)
        answer = self.tap(day, line, "pot", count="50")
        self.assertEqual(answer.status_code, 302, "done already: nothing is written twice")

    def test_a_mix_for_feeders_like_it(self) -> None:
        self.ready()
        plain = Recipe.objects.create(garden=self.garden, name="All", use="potting", parts=[["coir", 1]])
        feeder = feeder_of(self.now().items[0].crop.number("feed_n_mg_l"))
        own = Recipe.objects.create(garden=self.garden, name="Own", use="potting", parts=[["coir", 1]], feeder=feeder)
        day = self.begun("pot")
        self.assertEqual(day.recipe, plain)
        self.tap(day, day.lines.get(), "pot")
        self.assertEqual(Filled.objects.get().recipe, own)
        self.assertEqual([feeder_of(n) for n in (0, 50, 75, 100)], ["light", "light", "medium", "heavy"])

    def test_more_than_there_are(self) -> None:
        self.ready()
        day = self.begun("pot")
        answer = self.tap(day, day.lines.get(), "pot", count="50")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("more than there are", answer.content.decode())
