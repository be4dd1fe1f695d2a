"""Trays and cells through their pages: marks, lifting, sowing again, turning, finding; and what is refused, with the reason."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, plant, user
from aestiva.gardens.models import Member
from aestiva.season.contents import contents_of, open_runs
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, BatchLink, CellRun, Container, Spot, Tray, TrayStand
from growing.bench.cells import MOVED, NEVER, SMALL, STRONG, UNSEEN, UP

SOWN = date(2026, 4, 1)


class TrayCase(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        for name, value in (("length_cm", 120), ("width_cm", 56), ("clear_cm", 45)):
            setattr(self.shelf, name, value)
        self.shelf.save()
        self.flat = Container.objects.create(
            garden=self.garden,
            name="Flat of 24 cells",
            kind="flat_24",
            cells=24,
            length_cm=54,
            width_cm=28,
            depth_cm=6,
            cell_ml=60,
        )

    def tray(self, code: str = "T50", cells: int = 24, container: Any = "own") -> Tray:
        kept = self.flat if container == "own" else container
        return Tray.objects.create(garden=self.garden, code=code, container=kept, cells=cells)

    def pots(self) -> Container:
        """A pot that stands with others in a tray."""
        return Container.objects.create(
            garden=self.garden,
            name="Pot 9 cm",
            kind="pot_9_square",
            cells=1,
            length_cm=9,
            width_cm=9,
            depth_cm=9,
            cell_ml=400,
        )

    def filled(self, crop: str = "tomato", wanted: int = 10) -> tuple[Tray, Batch]:
        """A batch sown through its task, one seed a cell, in its tray on the shelf."""
        batch = self.sown(crop, wanted, on=SOWN, per_cell=1)
        self.post(f"batch/{batch.pk}/change/", what="move", spot=self.shelf.pk, on=SOWN.isoformat())
        return CellRun.objects.get(batch=batch).tray, batch

    def act(self, tray: Tray, what: str, client: Any = None, **data: Any) -> Any:
        tray.refresh_from_db()
        data.setdefault("revision", str(tray.revision))
        return (client or self.client).post(self.url(f"bench/tray/{tray.pk}/act/"), {"what": what, **data})

    def held(self, tray: Tray) -> dict[int, tuple[int, str]]:
        return contents_of(open_runs(tray))

    def undo_last(self) -> None:
        entry = self.garden.journal.order_by("-pk").first()
        self.post(f"journal/{entry.pk}/undo/")


class Marks(TrayCase):
    def test_what_is_seen_is_counted_once(self) -> None:
        tray, batch = self.filled()
        self.assertEqual(self.act(tray, "marku", cells="A1–A3").status_code, 302)
        self.assertEqual(accounts_of(batch).emerged, 3)
        self.act(tray, "marks", cells="A1–A2")
        self.assertEqual(accounts_of(batch).emerged, 3, "a plant that grew is the same plant")
        self.act(tray, "markx", cells="A4")
        self.act(tray, "markd", cells="A3")
        a = accounts_of(batch)
        self.assertEqual((a.emerged, a.never_up, a.died, a.indoors), (3, 1, 1, 2))
        page = self.client.get(self.url(f"bench/tray/{tray.pk}/")).content.decode()
        self.assertIn('aria-label="A1, Tomato, strong"', page)
        self.assertNotIn("The map shows", page)

    def test_where_map_and_counts_differ_the_page_says_so(self) -> None:
        tray, batch = self.filled()
        cells = batch.cells or 0
        self.act(tray, "marku", cells="A1–A3")
        rest = ", ".join(_names(tray)[3:cells])
        self.act(tray, "mark.", cells=rest)
        self.post(f"batch/{batch.pk}/record/", kind="died", count="1")
        page = self.client.get(self.url(f"bench/tray/{tray.pk}/")).content.decode()
        self.assertIn("The map shows <b>3</b> plants of it, what was written down <b>2</b>", page)

    def test_undo_gives_the_cells_back(self) -> None:
        tray, batch = self.filled()
        before = self.held(tray)
        self.act(tray, "marks", cells="A")
        self.undo_last()
        self.assertEqual(self.held(tray), before)
        self.assertIsNone(accounts_of(batch).emerged)


def _names(tray: Tray) -> list[str]:
    from aestiva.bench.things import grid

    return [grid(tray).name(n) for n in range(1, tray.cells + 1)]


class Lifting(TrayCase):
    def test_some_become_a_batch_of_their_own_with_all_their_history(self) -> None:
        tray, batch = self.filled()
        self.act(tray, "marks", cells="A1–A4")
        other = self.tray()
        answer = self.act(tray, "lift", cells="A1–A2", target=f"t{other.pk}")
        self.assertEqual(answer.status_code, 302, answer.content[:300])
        child = Batch.objects.exclude(pk=batch.pk).get()
        self.assertEqual((child.sown_on, child.planting_id), (SOWN, batch.planting_id))
        self.assertEqual(self.held(other), {1: (child.pk, STRONG), 2: (child.pk, STRONG)})
        self.assertEqual([self.held(tray)[n] for n in (1, 2)], [(batch.pk, MOVED)] * 2)
        self.assertEqual((accounts_of(batch).indoors, accounts_of(child).indoors), (2, 2))
        self.undo_last()
        self.assertEqual((accounts_of(batch).indoors, Batch.objects.count()), (4, 1))

    def test_potted_into_a_new_thing_of_pots(self) -> None:
        tray, batch = self.filled()
        pots = self.pots()
        self.act(tray, "marks", cells="A1–A3")
        self.act(tray, "pot", cells="A1–A3", target=f"c{pots.pk}", spot=self.shelf.pk)
        child = Batch.objects.exclude(pk=batch.pk).get()
        new = child.runs.get(until=None).tray
        self.assertEqual((new.cells, new.container), (3, pots))
        self.assertTrue(child.events.filter(kind="potted", count=3).exists())
        self.assertEqual(new.stands.get(until=None).spot, self.shelf)

    def test_two_people_lift_the_same_cells(self) -> None:
        tray, batch = self.filled()
        self.act(tray, "marks", cells="A1–A4")
        other = self.tray()
        second = user("finch")
        Member.objects.create(garden=self.garden, user=second, role="grower")
        seen = str(Tray.objects.get(pk=tray.pk).revision)
        first = self.act(tray, "lift", cells="A1", target=f"t{other.pk}", revision=seen)
        late = self.act(tray, "lift", client_for(second), cells="A1", target=f"t{other.pk}", revision=seen)
        self.assertEqual((first.status_code, late.status_code), (302, 409))
        self.assertEqual(accounts_of(batch).indoors, 3)

    def test_what_cannot_be_lifted(self) -> None:
        tray, _ = self.filled()
        self.act(tray, "marks", cells="A1–A4")
        small = self.tray("T51", 1, None)
        for data, said in (
            ({"cells": "A1", "target": f"t{tray.pk}"}, "that is the tray they are in"),
            ({"cells": "A1–A3", "target": f"t{small.pk}"}, "has 1 free cells, 3 are to come"),
            ({"cells": "B1", "target": f"t{small.pk}"}, "no plant stands in|nothing|hold nothing"),
            ({"cells": "Z9", "target": f"t{small.pk}"}, "beyond the tray"),
            ({"cells": "", "target": f"t{small.pk}"}, "name at least one cell"),
            ({"cells": "A1", "target": ""}, "choose where they go"),
            ({"cells": "A1", "target": "t999999"}, None),
        ):
            answer = self.act(tray, "lift", **data)
            if said is None:
                self.assertEqual(answer.status_code, 404)
            else:
                self.assertEqual(answer.status_code, 422)
                self.assertRegex(answer.content.decode(), said)

    def test_uneven_plants_are_regrouped(self) -> None:
        tray, batch = self.filled("broccoli", 12)
        self.act(tray, "marks", cells="A1–A6")
        self.act(tray, "markw", cells="B1–B3")
        page = self.client.get(self.url(f"bench/tray/{tray.pk}/")).content.decode()
        self.assertIn("Uneven: 6 tall, 3 short", page)
        self.act(tray, "regroup")
        child = Batch.objects.exclude(pk=batch.pk).get()
        self.assertEqual((accounts_of(child).indoors, accounts_of(batch).indoors), (3, 6))
        self.assertEqual({m for _, m in self.held(child.runs.get(until=None).tray).values()}, {SMALL})


class Sowing(TrayCase):
    def test_failed_cells_are_sown_again_with_a_clock_of_their_own(self) -> None:
        tray, batch = self.filled()
        self.act(tray, "marks", cells="A1–A3")
        self.act(tray, "markx", cells="A4–A5")
        answer = self.act(tray, "again", cells="A4–A5", per_cell="2")
        self.assertEqual(answer.status_code, 302, answer.content[:300])
        child = Batch.objects.exclude(pk=batch.pk).get()
        self.assertEqual((child.sown_on, child.cells, child.per_cell, accounts_of(child).sown), (TODAY, 2, 2, 4))
        self.assertEqual(BatchLink.objects.get().count, 0)
        a = accounts_of(batch)
        self.assertEqual((a.sown, a.emerged, a.never_up), (batch.cells, 3, 2), "the first sowing keeps its sums")
        self.assertIn("sown again", self.client.get(self.url(f"bench/tray/{tray.pk}/")).content.decode())
        self.undo_last()
        self.assertEqual(self.held(tray)[4], (batch.pk, NEVER))

    def test_a_sowing_into_cells_finishes_its_task(self) -> None:
        tray = self.tray()
        planting = plant(self.garden, self.owner, "lettuce", 6, sow_on=TODAY, per_cell=1)
        wanted = self.todo("sow").task.count
        answer = self.act(tray, "sow", cells=f"A1–A{min(wanted or 0, 6)}", planting=planting.pk)
        self.assertEqual(answer.status_code, 302, answer.content[:400])
        batch = Batch.objects.get(planting=planting)
        self.assertEqual({b for b, _ in self.held(tray).values()}, {batch.pk})
        self.assertEqual(batch.sown_on, TODAY)

    def test_cells_booked_twice(self) -> None:
        tray, _ = self.filled()
        planting = plant(self.garden, self.owner, "lettuce", 6, sow_on=TODAY)
        answer = self.act(tray, "sow", cells="A1", planting=planting.pk)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("booked already", answer.content.decode())
        self.assertFalse(Batch.objects.filter(planting=planting).exists())
        self.assertEqual(self.act(tray, "again", cells="A1").status_code, 422)


class Trays(TrayCase):
    def test_a_full_tray_is_not_put_away(self) -> None:
        tray, _ = self.filled()
        answer = self.act(tray, "delete")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("is not empty", answer.content.decode())
        self.assertTrue(Tray.objects.filter(pk=tray.pk).exists())

    def test_an_empty_one_goes_and_a_used_one_stays_in_what_happened(self) -> None:
        fresh = self.tray()
        self.act(fresh, "delete")
        self.assertFalse(Tray.objects.filter(pk=fresh.pk).exists())
        tray, batch = self.filled()
        self.act(tray, "markx", cells=", ".join(_names(tray)[: batch.cells]))
        self.act(tray, "delete")
        self.assertTrue(Tray.objects.filter(pk=tray.pk).exists())
        self.assertFalse(tray.stands.filter(until=None).exists())

    def test_turned_the_names_stay_at_the_corner(self) -> None:
        tray, _ = self.filled()
        before = self.held(tray)
        self.act(tray, "turn")
        tray.refresh_from_db()
        self.assertEqual((tray.turns, tray.turned_on, self.held(tray)), (1, TODAY, before))

    def test_new_trays_and_what_they_cannot_be(self) -> None:
        self.assertEqual(
            self.post("bench/tray/new/", code="T70", container=self.flat.pk, spot=self.shelf.pk).status_code, 302
        )
        made = Tray.objects.get(code="T70")
        self.assertEqual((made.cells, made.stands.get().spot), (24, self.shelf))
        for data, said in (
            ({"code": "T70", "cells": "6"}, "a tray T70 already"),
            ({"code": "", "cells": "6"}, "short name"),
            ({"code": "T71", "cells": "0"}, "1 to 2000"),
            ({"code": "T71", "cells": "x"}, "not a whole number"),
            ({"code": "T71", "container": self.flat.pk, "cells": "20"}, "has 24 cells"),
        ):
            answer = self.post("bench/tray/new/", **data)
            self.assertEqual(answer.status_code, 422, data)
            self.assertIn(said, answer.content.decode())

    def test_a_tray_larger_than_the_shelf(self) -> None:
        sill = Spot.objects.create(garden=self.garden, kind="sill", code="Sill", length_cm=40, width_cm=12, clear_cm=50)
        tray, _ = self.filled()
        tray.container, tray.cells = self.flat, 24
        tray.save()
        answer = self.post("bench/put/", tray=tray.pk, spot=sill.pk, revision=tray.revision)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("does not fit there", answer.content.decode())
        self.assertEqual(tray.stands.get(until=None).spot, self.shelf)

    def test_put_down_where_something_stands_it_takes_the_nearest_room(self) -> None:
        one, two = self.tray("T80"), self.tray("T81")
        for tray, x in ((one, "0"), (two, "10")):
            answer = self.post("bench/put/", tray=tray.pk, spot=self.shelf.pk, revision=tray.revision, x=x)
            self.assertEqual(answer.status_code, 302, answer.content[:300])
        at = two.stands.get(until=None).x_cm
        assert at is not None
        self.assertAlmostEqual(at, 28.5, delta=1)
        for x in ("nan", "1e9", "left"):
            self.assertEqual(
                self.post("bench/put/", tray=two.pk, spot=self.shelf.pk, revision=two.revision, x=x).status_code, 422
            )

    def test_a_lost_name_is_found_by_tray_and_cell(self) -> None:
        tray, _ = self.filled()
        answer = self.client.get(self.url("bench/find/"), {"q": f"{tray.code.lower()} a2"})
        self.assertEqual(answer.url, self.url(f"bench/tray/{tray.pk}/?cells=A2"))
        page = self.client.get(answer.url).content.decode()
        self.assertIn("What was in A2", page)
        self.assertIn(
            f"/bench/tray/{tray.pk}/?cells=", self.client.get(self.url("bench/find/"), {"q": "tomato"}).content.decode()
        )
        self.assertIn(
            "Nothing here is called", self.client.get(self.url("bench/find/"), {"q": "okra"}).content.decode()
        )

    def test_the_bench_and_a_place_show_every_tray(self) -> None:
        tray, _ = self.filled()
        self.assertEqual({m for _, m in self.held(tray).values()}, {UNSEEN})
        page = self.client.get(self.url("bench/")).content.decode()
        self.assertIn(f'data-tray="{tray.pk}"', page)
        place = self.client.get(self.url(f"bench/at/{self.shelf.pk}/")).content.decode()
        self.assertIn("A1, Tomato, seed lying", place)

    def test_what_has_no_room_is_drawn_said_and_offered_another_place(self) -> None:
        sill = Spot.objects.create(garden=self.garden, kind="sill", code="Sill", length_cm=60, width_cm=56, clear_cm=50)
        for n in range(5):
            TrayStand.objects.create(tray=self.tray(f"T9{n}"), spot=self.shelf, since=TODAY)
        page = self.client.get(self.url("bench/")).content.decode()
        self.assertIn("1 without room", page)
        self.assertIn("T94, empty at R1·1, no room here", page)
        self.assertIn("Put T94 on Sill", page)
        tray = Tray.objects.get(code="T94")
        self.post("bench/put/", tray=tray.pk, spot=sill.pk, revision=tray.revision)
        self.assertNotIn("without room", self.client.get(self.url("bench/")).content.decode())

    def test_set_together(self) -> None:
        batches = []
        for code in ("T90", "T91"):
            tray = self.tray(code)
            planting = plant(self.garden, self.owner, "lettuce", 6, sow_on=TODAY, per_cell=1)
            self.post("bench/put/", tray=tray.pk, spot=self.shelf.pk, revision=tray.revision)
            self.act(tray, "sow", cells="A1–A4", planting=planting.pk)
            batches.append(Batch.objects.get(planting=planting))
        page = self.client.get(self.url("bench/")).content.decode()
        self.assertIn("would do with 1", page)
        trays = [t.pk for t in Tray.objects.filter(code__in=("T90", "T91"))]
        answer = self.post("bench/together/", tray=trays)
        self.assertEqual(answer.status_code, 302, answer.content[:400])
        held = [self.held(t) for t in Tray.objects.filter(pk__in=trays).order_by("pk")]
        self.assertEqual(sorted(map(len, held)), [0, 8])
        self.assertEqual(
            {b for h in held for b, _ in h.values()}, {b.pk for b in batches}, "each stays the batch it is"
        )

    def test_up_is_the_mark_of_a_plant(self) -> None:
        tray, _ = self.filled()
        self.act(tray, "marku", cells="A1")
        self.assertEqual(self.held(tray)[1][1], UP)
        self.assertEqual(self.act(tray, "mark?", cells="A1").status_code, 422)
        self.assertEqual(self.act(tray, "burn", cells="A1").status_code, 404)


class Company(TrayCase):
    """Before anything shares a tray or a mat, what speaks against it is said, and what would mend it; a second tap does it."""

    def test_sown_into_a_tray_with_others(self) -> None:
        tray = self.tray()
        pepper = plant(self.garden, self.owner, "pepper", 3, sow_on=TODAY, per_cell=1)
        lettuce = plant(self.garden, self.owner, "lettuce", 3, sow_on=TODAY, per_cell=1)
        self.act(tray, "sow", cells="A1–A3", planting=pepper.pk)
        asked = self.act(tray, "sow", cells="B1–B3", planting=lettuce.pk)
        self.assertContains(asked, "no warmth does for both")
        self.assertContains(asked, "Sow it there all the same")
        self.assertEqual(Batch.objects.count(), 1)
        self.act(tray, "sow", cells="B1–B3", planting=lettuce.pk, sure="yes")
        self.assertEqual(Batch.objects.count(), 2)
        self.assertContains(self.client.get(self.url(f"bench/tray/{tray.pk}/")), "Company:")

    def test_put_on_a_mat(self) -> None:
        mat = Spot.objects.create(
            garden=self.garden,
            kind="mat",
            code="M1",
            parent=self.shelf,
            length_cm=60,
            width_cm=56,
            heated="thermostat",
            set_c=27,
        )
        tray, _ = self.filled("lettuce")
        tray.refresh_from_db()
        asked = self.post("bench/put/", tray=tray.pk, spot=mat.pk, revision=tray.revision)
        self.assertContains(asked, "it is set to 27 °C")
        self.assertEqual(tray.stands.get(until=None).spot, self.shelf)
        self.post("bench/put/", tray=tray.pk, spot=mat.pk, revision=tray.revision, sure="yes")
        self.assertEqual(tray.stands.get(until=None).spot, mat)

    def test_lifted_beside_others(self) -> None:
        tray, _ = self.filled("lettuce")
        self.act(tray, "marks", cells="A1–A2")
        other = self.tray()
        pepper = plant(self.garden, self.owner, "pepper", 3, sow_on=TODAY, per_cell=1)
        self.act(other, "sow", cells="A1–A3", planting=pepper.pk)
        asked = self.act(tray, "lift", cells="A1–A2", target=f"t{other.pk}")
        self.assertContains(asked, "all the same")
        self.assertContains(asked, "Pepper")

    def test_what_was_sown_and_put_nowhere_is_on_the_bench(self) -> None:
        batch = self.sown("tomato", 6)
        page = self.client.get(self.url("bench/")).content.decode()
        self.assertIn("nowhere said", page)
        self.assertIn("Where does Tomato stand?", page)
        self.assertIn(f"/batch/{batch.pk}/", page)
        cells = self.client.get(self.url("care/")).content.decode()
        self.assertIn(f"{batch.cells} cells", cells)  # in no tray, and as many as were sown

    def test_a_box_sown_in_winter_stands_outdoors_and_not_nowhere(self) -> None:
        box = plant(self.garden, self.owner, "larkspur", 20, method="winter", sow_on=TODAY - timedelta(days=80))
        self.day(TODAY - timedelta(days=80))
        self.post(f"task/p{box.pk}.sow_winter.0/", on=(TODAY - timedelta(days=80)).isoformat())
        self.post(f"task/p{box.pk}.sow.0/", on=(TODAY - timedelta(days=80)).isoformat())
        self.day(TODAY)
        page = self.client.get(self.url("bench/")).content.decode()
        self.assertIn("box outdoors", page)
        self.assertNotIn("nowhere said", page)
