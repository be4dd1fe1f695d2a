"""Plan: adding with dates while typing, changing with differences, moving, copying, cancelling; the picture and files."""

from __future__ import annotations

import csv
import io
import tomllib
from datetime import date, timedelta
from typing import Any
from xml.etree import ElementTree

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from aestiva.frame.tests.garden import TODAY, GardenCase, garden, plant, user
from aestiva.gardens.models import Garden, JournalEntry, Member
from aestiva.place.models import Frost
from aestiva.plan import overview
from aestiva.plan.replan import proposals
from aestiva.season.models import CropValue, GardenCrop, Lot, Planting
from growing.chain.choice import Choice
from growing.chain.dates import date_planting
from growing.crops import library

FORM = {"crop": "Tomato", "variety": "Old Ferry", "wanted": "10", "method": "raised", "term": "spring"}


class Adding(GardenCase):
    def test_the_answer_comes_while_typing_and_writes_nothing(self) -> None:
        answer = self.client.get(self.url("plan/preview/"), FORM)
        place = self.now().place
        dates = date_planting(library()["tomato"], place, Choice(not_before=TODAY))
        self.assertContains(answer, f"Sow {dates.sow_on:%a %-d %B}")
        self.assertContains(answer, "sure of 10 plants")
        self.assertFalse(Planting.objects.exists() or JournalEntry.objects.exists())

    def test_keeping_freezes_what_was_made(self) -> None:
        answer = self.client.post(self.url("plan/add/"), FORM | {"key": "k"}, follow=True)
        planting = Planting.objects.get()
        self.assertContains(answer, "10 Tomato planned")
        self.assertIsNone(planting.chosen_sow)  # a proposal is no choice: it goes on moving
        self.assertContains(answer, "Proposed")
        self.client.post(self.url("plan/add/"), FORM | {"key": "p", "sow_on": "2026-04-20"})
        pinned = Planting.objects.latest("pk")
        self.assertEqual(pinned.chosen_sow, date(2026, 4, 20))
        before = {i.planting.pk: i.raised.dates.sow_on for i in self.now().items}
        frost = Frost.objects.get(garden=self.garden)
        Frost.objects.filter(pk=frost.pk).update(last_on=frost.last_on + timedelta(days=10))
        after = {i.planting.pk: i.raised.dates.sow_on for i in self.now().items}
        self.assertEqual((after[planting.pk] - before[planting.pk]).days, 10)
        self.assertEqual(after[pinned.pk], before[pinned.pk])
        pinned.delete()
        self.client.post(self.url("plan/add/"), FORM | {"key": "k"})
        self.assertEqual(Planting.objects.count(), 1)

    def test_a_proposal_past_its_best_day_is_no_choice_either(self) -> None:
        late = FORM | {"crop": "Leek", "variety": "Long Field"}  # the best day to sow it was weeks ago
        self.client.post(self.url("plan/add/"), late | {"key": "k"})
        planting = Planting.objects.get()
        dates = self.now().items[0].raised.dates
        self.assertGreaterEqual(dates.sow_on, TODAY)
        self.assertIsNone(planting.chosen_sow)
        for page in (f"plan/{planting.pk}/", "plan/"):
            self.assertNotContains(self.client.get(self.url(page)), "Your day")
        self.assertNotContains(self.client.get(self.url(f"plan/{planting.pk}/")), f'value="{dates.sow_on.isoformat()}"')
        self.day(TODAY + timedelta(days=3))  # the day that was shown stands, though it was not sown
        self.assertEqual(self.now().items[0].raised.dates.sow_on, dates.sow_on)
        self.assertContains(self.client.get(self.url(f"plan/{planting.pk}/")), f"Sow {dates.sow_on:%a %-d %B}")
        (proposal,) = proposals(self.now())  # to plan it anew is offered from today on
        self.assertGreaterEqual(proposal.after or dates.sow_on, TODAY + timedelta(days=3))
        self.client.post(self.url(f"plan/{planting.pk}/"), late | {"wanted": "12", "key": "again"})
        self.assertIsNone(Planting.objects.get().chosen_sow)
        self.assertEqual(self.now().items[0].raised.dates.sow_on, dates.sow_on)

    def test_synonyms_and_unknown_crops(self) -> None:
        self.client.post(self.url("plan/add/"), FORM | {"crop": "courgette"})
        self.assertEqual(Planting.objects.get().crop_key, "squash")
        for crop, said in (("cel", "could be Celeriac, Celery"), ("moonfruit", "is not in the library")):
            answer = self.client.post(self.url("plan/add/"), FORM | {"crop": crop})
            self.assertContains(answer, said, status_code=422)
            self.assertContains(answer, f'value="{crop}"', status_code=422)

    def test_absurd_wishes_keep_what_was_typed(self) -> None:
        for change, said in (
            ({"wanted": "0"}, "greater than or equal to 1"),
            ({"wanted": "-5"}, "greater than or equal to 1"),
            ({"wanted": "90000"}, "less than or equal to 20000"),
            ({"wanted": "many"}, "whole number"),
            ({"sow_on": "2026-02-30"}, "valid date"),
            ({"sow_on": "1999-04-01"}, "is not in this season"),
            ({"sow_on": "2026-05-01", "chosen_out": "2026-04-20"}, "cannot come before sowing"),
            ({"packet_min": "8", "packet_max": "6"}, "runs the wrong way"),
            ({"packet_min": "400"}, "less than or equal to 40"),
            ({"per_cell": "99"}, "less than or equal to 12"),
        ):
            answer = self.client.post(self.url("plan/add/"), FORM | change)
            self.assertContains(answer, said, status_code=422, msg_prefix=str(change))
            self.assertContains(answer, "Old Ferry", status_code=422)
        self.assertFalse(Planting.objects.exists())

    def test_a_packet_counts_from_its_own_base(self) -> None:
        frost = FORM | {"packet_min": "6", "packet_max": "8", "packet_base": "last_frost", "packet_out": "2"}
        self.assertContains(self.client.get(self.url("plan/preview/"), frost), "8 weeks to 10 weeks")
        out = frost | {"packet_base": "transplanting"}
        self.assertContains(self.client.get(self.url("plan/preview/"), out), "6 weeks to 8 weeks")

    def test_too_late_says_by_how_much_and_what_follows(self) -> None:
        answer = self.client.get(self.url("plan/preview/"), FORM | {"crop": "Leek"})
        self.assertContains(answer, "after its spring window")
        self.assertContains(answer, "First harvest")

    def test_other_methods_and_autumn(self) -> None:
        for change in (
            {"method": "direct", "crop": "calendula"},
            {"method": "bought"},
            {"term": "autumn", "crop": "kale"},
        ):
            self.assertEqual(self.client.post(self.url("plan/add/"), FORM | change).status_code, 302, change)
        self.assertEqual(self.client.get(self.url("plan/")).status_code, 200)


class Changing(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.planting = plant(self.garden, self.owner, "cosmos", 16, variety="Paper Kite", sow_on=date(2026, 4, 20))
        self.form = FORM | {"crop": "Cosmos", "wanted": "16", "variety": "Paper Kite", "sow_on": "2026-04-27"}

    def test_differences_before_keeping(self) -> None:
        answer = self.client.get(self.url(f"plan/{self.planting.pk}/preview/"), self.form)
        self.assertContains(answer, "What moves")
        self.assertContains(answer, "+7 days")
        self.planting.refresh_from_db()
        self.assertEqual(self.planting.chosen_sow, date(2026, 4, 20))

    def test_keep_then_take_back(self) -> None:
        self.client.post(self.url(f"plan/{self.planting.pk}/"), self.form | {"revision": self.planting.revision})
        self.planting.refresh_from_db()
        self.assertEqual((self.planting.chosen_sow, self.planting.made["sow_on"]), (date(2026, 4, 27), "2026-04-20"))
        self.assertContains(
            self.client.get(self.url(f"plan/{self.planting.pk}/")), "First planned to be sown on Mon 20 April"
        )
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.planting.refresh_from_db()
        self.assertEqual(self.planting.chosen_sow, date(2026, 4, 20))

    def test_two_at_once_see_both_states(self) -> None:
        seen = self.planting.revision
        other = user("moss")
        Member.objects.create(garden=self.garden, user=other, role="grower")
        second = Client()
        second.force_login(other, backend="django.contrib.auth.backends.ModelBackend")
        second.post(self.url(f"plan/{self.planting.pk}/"), self.form | {"wanted": "30", "revision": seen})
        answer = self.client.post(self.url(f"plan/{self.planting.pk}/"), self.form | {"wanted": "12", "revision": seen})
        self.assertContains(answer, "<td>30</td>", status_code=409, html=True)
        self.assertContains(answer, "<td>12</td>", status_code=409, html=True)
        self.planting.refresh_from_db()
        self.assertEqual(self.planting.wanted, 30)
        self.client.post(
            self.url(f"plan/{self.planting.pk}/"), self.form | {"wanted": "12", "revision": self.planting.revision}
        )
        self.planting.refresh_from_db()
        self.assertEqual(self.planting.wanted, 12)

    def test_copy_and_cancel(self) -> None:
        page = self.client.get(self.url(f"plan/add/?copy={self.planting.pk}"))
        self.assertContains(page, 'value="Paper Kite"')
        self.post(f"plan/{self.planting.pk}/cancel/", sure="yes")
        self.assertEqual(self.kinds(date(2027, 1, 1)), [])
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertIn("sow", self.kinds(date(2027, 1, 1)))

    def test_settings_do_not_move_chosen_days(self) -> None:
        Garden.objects.filter(pk=self.garden.pk).update(accepted_risk=0.25, sowing_days="2")
        self.assertEqual(self.now().items[0].raised.dates.sow_on, date(2026, 4, 20))


class Picture(GardenCase):
    def test_empty_season_leads_on(self) -> None:
        self.assertContains(self.client.get(self.url("plan/")), "Add the first planting")

    def test_file_is_svg_that_stands_alone(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, variety="<b>&Old")
        answer = self.client.get(self.url("plan/season.svg"))
        root = ElementTree.fromstring(answer.content)
        self.assertTrue(root.tag.endswith("svg"))
        text = answer.content.decode()
        self.assertIn("<style>", text)
        self.assertNotIn("href", text)
        self.assertIn("&lt;b&gt;&amp;Old", text)

    def test_rows_are_links_and_those_not_sown_can_be_moved_by_keys(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        self.sown("kale", 6)
        page = self.client.get(self.url("plan/")).content.decode()
        self.assertEqual(page.count('class="rowlink'), 2)
        self.assertEqual(page.count('class="handle stop" role="slider"'), 1)
        self.assertIn("sow today", page)

    def test_many_plantings_fold_by_crop_and_week_and_lay_open(self) -> None:
        for n in range(41):
            plant(self.garden, self.owner, "zinnia" if n % 2 else "cosmos", 5, sow_on=date(2026, 4, 20))
        page = self.client.get(self.url("plan/"))
        self.assertEqual(page.content.decode().count('class="rowlink'), 2)
        self.assertContains(page, "Cosmos ×21")
        opened = self.client.get(self.url("plan/?open=cosmos-2026-17"))
        self.assertEqual(opened.content.decode().count('class="rowlink'), 2 + 21)

    def test_csv_has_every_planting_and_runs_nothing(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, variety="=1+1")
        rows = list(csv.DictReader(io.StringIO(self.client.get(self.url("plan/season.csv")).content.decode())))
        self.assertEqual((rows[0]["crop"], rows[0]["variety"], rows[0]["wanted"]), ("Tomato", "'=1+1", "10"))
        self.assertEqual(set(rows[0]), set(overview.COLUMNS))

    def test_without_a_frost_date_every_view_leads_to_it(self) -> None:
        self.garden.frost.delete()
        for rest in ("today/", "plan/", "plan/add/", "place/"):
            self.assertContains(self.client.get(self.url(rest)), "last frost", msg_prefix=rest)
        for rest in ("plan/season.csv", "plan/season.svg", "calendar/tasks.ics"):
            self.assertEqual(self.client.get(self.url(rest)).status_code, 404)


class Crops(GardenCase):
    def test_list_search_and_page_with_sources(self) -> None:
        self.assertContains(self.client.get(self.url("crops/?find=aubergine")), "Eggplant")
        page = self.client.get(self.url("crops/tomato/"))
        for said in ("extension practice", "published table", "estimate", "raising time, shortest"):
            self.assertContains(page, said)
        self.assertEqual(self.client.get(self.url("crops/moonfruit/")).status_code, 404)

    def test_a_crop_of_ones_own_from_a_relative_or_a_class(self) -> None:
        self.client.post(self.url("crops/"), {"name": "Moon cherry", "relative": "Tomato"})
        self.client.post(self.url("crops/"), {"name": "Tree spinach", "hardiness": "tender", "speed": "fast"})
        self.assertContains(self.client.get(self.url("crops/moon_cherry/")), "as Tomato")
        self.client.post(self.url("plan/add/"), FORM | {"crop": "Tree spinach"})
        self.assertEqual(Planting.objects.get().crop_key, "tree_spinach")
        for data, said in (
            ({"name": "tomato", "relative": "Pepper"}, "is there already"),
            ({"name": "Other", "relative": "Moonfruit"}, "is not in the library"),
            ({"name": "Other"}, "Say what it grows like"),
        ):
            self.assertContains(self.client.post(self.url("crops/"), data), said, status_code=422)

    def test_search_forgives_spelling_but_takes_nothing_silently(self) -> None:
        for text, name in (("zuchini", "Squash"), ("brocoli", "Broccoli"), ("snap dragon", "Snapdragon")):
            self.assertContains(self.client.get(self.url(f"crops/?find={text}")), name)
        answer = self.client.post(self.url("plan/add/"), FORM | {"crop": "brocoli"})
        self.assertContains(answer, "Did you mean Broccoli", status_code=422)

    def test_two_crops_compared(self) -> None:
        page = self.client.get(self.url("crops/compare/?a=tomato&b=pepper"))
        self.assertContains(page, "Tomato and Pepper")
        self.assertContains(page, "<b>18 °C</b>")
        self.assertContains(self.client.get(self.url("crops/compare/?a=tomato&b=moonfruit")), "is not here")

    def test_own_crops_and_values_travel_as_toml(self) -> None:
        self.client.post(self.url("crops/"), {"name": "Tree spinach", "hardiness": "tender", "speed": "fast"})
        self.post("crops/tomato/raise_max/", value="9", reason='said "nine"')
        data = self.client.get(self.url("crops/own.toml")).content
        other = garden(self.owner, name="Elsewhere")
        answer = self.client.post(
            f"/g/{other.pk}/crops/import/", {"file": SimpleUploadedFile("c.toml", data)}, follow=True
        )
        self.assertContains(answer, "Tree spinach")
        value = CropValue.objects.get(garden=other)
        self.assertEqual((value.crop_key, value.value, value.reason), ("tomato", 9, 'said "nine"'))
        self.assertEqual(self.client.get(f"/g/{other.pk}/crops/own.toml").content, data)
        everything = tomllib.loads(self.client.get(self.url("crops/own.toml?all=1")).content.decode())
        self.assertGreaterEqual(len(everything["library"]), 70)

    def test_bad_crop_files_bring_in_nothing(self) -> None:
        for text, said in (
            ("not toml [", "is not TOML"),
            ("format = 9", "newer than this program"),
            ("format = 1", "no crop and no value"),
            ("[crop.tomato]\nname = 'T'\nrelative = 'pepper'", "give it another"),
            ("[crop.x]\nname = 'X'\nrelative = 'moonfruit'", "is not in the library"),
            ("[[value]]\ncrop = 'tomato'\nfield = 'raise_max'\nvalue = 99", "must lie between"),
            ("[[value]]\ncrop = 'tomato'\nfield = 'germinate_c'\nvalue = 6", "is above"),
            (
                "[crop.fine]\nname = 'F'\nrelative = 'pepper'\n[[value]]\ncrop = 'y'\nfield = 'hold'\nvalue = 4",
                "there is no crop",
            ),
        ):
            answer = self.client.post(self.url("crops/import/"), {"file": SimpleUploadedFile("c.toml", text.encode())})
            self.assertContains(answer, said, status_code=422, msg_prefix=text)
        self.assertFalse(GardenCrop.objects.exists() or CropValue.objects.exists())

    def test_own_values_move_dates_with_their_reason_and_can_be_forgotten(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 10, sow_on=date(2026, 4, 20))
        before = self.now().items[0].raised.dates.sow
        self.post("crops/tomato/raise_max/", value="9", reason="eight gave small plants")
        self.assertEqual(self.now().items[0].raised.dates.sow.start, before.start - timedelta(days=7))
        self.assertContains(self.client.get(self.url("crops/tomato/")), "eight gave small plants")
        self.assertContains(self.client.get(self.url(f"plan/{planting.pk}/")), "eight gave small plants")
        for value, said in (("500", "must lie between"), ("", "required")):
            answer = self.post("crops/tomato/raise_max/", value=value, reason="x")
            self.assertContains(answer, said, status_code=422)
        answer = self.post("crops/tomato/germinate_c/", value="6", reason="x")
        self.assertContains(answer, "is above", status_code=422)
        self.post("crops/tomato/raise_max/", forget="1")
        self.assertFalse(CropValue.objects.exists())


class VarietyAsked(GardenCase):
    def answer(self, **data: str) -> Any:
        given = {"crop": "tomato", "wanted": "6", "method": "raised", "term": "spring", **data}
        return self.client.get(self.url("plan/preview/"), given)

    def test_a_variety_that_nobody_has_asks(self) -> None:
        Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Red Gable", packed_year=2025)
        page = self.answer(variety="Red Gabel")
        self.assertContains(page, "Nobody here has a packet of Tomato ‘Red Gabel’")
        self.assertContains(page, 'data-puts="Red Gable"')
        for data in ({"variety": "red gable"}, {"variety": ""}, {"variety": "Other", "method": "bought"}):
            self.assertNotContains(self.answer(**data), "Nobody here has a packet")


class KeptInARow(GardenCase):
    def test_one_after_the_other(self) -> None:
        data = {"crop": "tomato", "wanted": "6", "method": "raised", "term": "spring", "then": "another"}
        first = self.post("plan/add/", **data)
        page = self.client.get(first["Location"])
        self.assertContains(page, "And what else?")
        second = self.post(first["Location"].removeprefix(self.url("")), **{**data, "crop": "leek"})
        page = self.client.get(second["Location"])
        self.assertEqual([k.name for k in page.context["so_far"]], ["Leek", "Tomato"])
        self.sown("kale")  # the garden lives: only what was kept in this go is shown
        page = self.client.get(second["Location"])
        self.assertEqual([k.name for k in page.context["so_far"]], ["Leek", "Tomato"])
        for odd in ("?kept=x.y", "?kept=" + "9" * 300, "?kept=999.998", "?kept="):
            self.assertEqual(self.client.get(self.url("plan/add/") + odd).status_code, 200)
        self.assertEqual(self.client.get(self.url("plan/add/")).context["so_far"], [])


class Lists(GardenCase):
    def look(self, text: str, **more: str) -> Any:
        return self.client.post(self.url("plan/import/"), {"file": SimpleUploadedFile("p.csv", text.encode()), **more})

    def keep(self, page: Any, **more: Any) -> Any:
        data = {"kept": page.context["sealed"], "what": "keep", **more}
        return self.client.post(self.url("plan/import/"), data)

    def test_a_list_comes_in_whole_after_its_preview_and_goes_back_whole(self) -> None:
        page = self.look(
            "crop,variety,wanted,sow,term\nTomato,Old Ferry,10,2026-04-20,\ncourgette,,4,,\nKale,,6,,autumn\n"
        )
        self.assertContains(page, "3 plantings, 20 plants: nothing kept yet")
        self.assertContains(page, "Mon 20 April")
        self.assertFalse(Planting.objects.exists())
        self.keep(page)
        found = {p.crop_key: (p.wanted, p.term) for p in Planting.objects.all()}
        self.assertEqual(found, {"tomato": (10, "spring"), "squash": (4, "spring"), "kale": (6, "autumn")})
        self.assertEqual(Planting.objects.get(crop_key="tomato").chosen_sow, date(2026, 4, 20))
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertFalse(Planting.objects.exists())

    def test_the_preview_shows_the_dates_that_are_kept_and_their_problems(self) -> None:
        page = self.look("crop\twanted\tsow\nTomato\t10\t\nPepper\t4\t1 July\n")
        rows = page.context["rows"]
        self.assertEqual(rows[0].crop.key, "pepper")  # what has a problem stands first
        self.assertEqual([p.code for p in rows[0].problems][:1], ["too_late"])
        self.assertContains(page, "<b>1</b> of them")
        self.keep(page)
        made = {p.crop_key: p.made for p in Planting.objects.all()}
        for one in rows:
            self.assertEqual(made[one.crop.key]["sow_on"], one.dates.sow_on.isoformat())

    def test_unknown_crops_are_asked_about_never_made_up(self) -> None:
        page = self.look("crop,plants\nbrocoli,8\nmoonfruit,2\nwild card,3\n")
        self.assertContains(page, "Broccoli, perhaps")
        self.keep(page, **{"means-brocoli": "broccoli"})
        self.assertFalse(Planting.objects.exists())
        said = {"means-brocoli": "broccoli", "means-moonfruit": "like:melon", "means-wild card": "skip"}
        self.keep(page, **said)
        self.assertEqual(sorted(Planting.objects.values_list("crop_key", flat=True)), ["broccoli", "moonfruit"])
        own = GardenCrop.objects.get()
        self.assertEqual((own.name, own.relative), ("moonfruit", "melon"))
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertFalse(GardenCrop.objects.exists() or Planting.objects.exists())

    def test_a_heading_nobody_knows_is_asked_and_remembered(self) -> None:
        text = "My season\n\nWhat grows,Heads,When\nLeek,40,wk 18\n"
        page = self.look(text)
        self.assertContains(page, "No column says <b>crop</b> or <b>how many plants</b>")
        self.keep(page)
        self.assertFalse(Planting.objects.exists())
        told = {"col-0": "crop", "col-1": "wanted", "col-2": "sow_week"}
        self.keep(page, **told)
        self.assertEqual(Planting.objects.get().chosen_sow, date(2026, 4, 27))
        page = self.look(text)
        self.assertEqual((page.context["lacks"], page.context["count"]), ([], 1))

    def test_day_and_month_are_asked_once(self) -> None:
        page = self.look("crop,plants,sow\nLeek,40,5/4/2026\nBasil,4,6/5/2026\n")
        self.assertContains(page, "Days such as 5/4/2026: which comes first?")
        self.keep(page)
        self.assertFalse(Planting.objects.exists())
        self.keep(page, order="mdy")
        self.assertEqual(Planting.objects.get(crop_key="leek").chosen_sow, date(2026, 5, 4))

    def test_bad_rows_are_left_out_only_when_somebody_says_so(self) -> None:
        bad = "".join(f"Kale,x{n}\n" for n in range(60))
        page = self.look(f"crop,plants\nTomato,6\nLeek,40\n{bad}")
        self.assertContains(page, "60 rows cannot be taken as they are")
        self.assertContains(page, "And 30 more.")
        listed = self.client.post(self.url("plan/import/"), {"kept": page.context["sealed"], "what": "problems"})
        self.assertEqual(len(listed.content.decode().splitlines()), 61)
        self.keep(page)
        self.assertFalse(Planting.objects.exists())
        self.keep(page, leave_bad="yes", leave="3")
        self.assertEqual(Planting.objects.get().crop_key, "tomato")

    def test_bad_lists_name_row_value_and_mend(self) -> None:
        for text, said in (
            ("crop,wanted\nTomato,1o\n", "“1o” is not a whole count"),
            ("crop,wanted\nTomato,2.5\n", "“2.5” is not a whole count"),
            ("crop,wanted\nTomato,-3\n", "is not a whole count"),
            ("crop,wanted,sow\nTomato,3,31.11.2026\n", "is not a day"),
            ("crop,wanted,sow\nTomato,3,1999-01-01\n", "is not in this season"),
            ("crop,wanted,method\nTomato,3,magic\n", "is not known"),
            ("crop,wanted\n,3\n", "no crop is named"),
        ):
            self.assertContains(self.look(text), said, msg_prefix=text[:30])
        for text, said in (
            ("a," * 1000 + "\n1\n", "1001 columns"),
            ("", "nothing in it"),
            ("crop,wanted\n", "nothing under it"),
        ):
            self.assertContains(self.look(text), said, status_code=422, msg_prefix=text[:30])
        self.assertFalse(Planting.objects.exists())

    def test_pasted_cells_and_a_repeated_post(self) -> None:
        page = self.client.post(self.url("plan/import/"), {"pasted": "Crop\tPlants\nLeek\t40\n"})
        for _ in range(2):
            self.keep(page, key="once")
        self.assertEqual(Planting.objects.count(), 1)

    def test_lots_tasks_and_journal_as_csv_run_nothing(self) -> None:
        Lot.objects.create(garden=self.garden, crop_key="leek", variety="=Weir", packed_year=2023)
        plant(self.garden, self.owner, "tomato", 10, variety="@now", sow_on=TODAY)
        lots = self.client.get(self.url("lots.csv")).content.decode()
        self.assertIn("Leek,'=Weir,2023", lots)
        tasks = list(csv.DictReader(io.StringIO(self.client.get(self.url("tasks.csv")).content.decode())))
        self.assertIn(("2026-04-12", "cells to sow", "'@now"), [(t["day"], t["task"], t["variety"]) for t in tasks])
        self.assertIn("Planned 10 Tomato @now", self.client.get(self.url("journal.csv")).content.decode())
        page = self.client.get(self.url("journal/?by=Wren"))
        self.assertContains(page, "Planned 10 Tomato")
        self.assertNotContains(self.client.get(self.url("journal/?by=Nobody")), "Planned 10")


class NoSuchLimit(GardenCase):
    def test_a_crop_without_a_limit_says_so_and_can_be_given_one(self) -> None:
        self.assertContains(self.client.get(self.url("crops/kale/")), "no such limit")
        self.assertContains(self.client.get(self.url("crops/compare/?a=kale&b=tomato")), "no such limit")
        page = self.client.get(self.url("crops/kale/chill_c/"))
        self.assertContains(page, "no such limit")
        self.post("crops/kale/chill_c/", value="-3", reason="a hollow")
        self.assertContains(self.client.get(self.url("crops/kale/")), "a hollow (was no such limit)")
