"""The voice, as `docs/voice.md` has it, as far as a test can hold it: in every rule, task and page."""

from __future__ import annotations

import re
from pathlib import Path
from unittest import TestCase

from django.test import SimpleTestCase

from aestiva.frame import say, wording
from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from growing.crops import library
from growing.steps import Task

ROOT = Path(__file__).resolve().parents[3]
NEVER = re.compile(
    r"\b(please|sorry|oops|successfully|invalid|click|user|data|submit|failed to|error occurred|must not|utilize)\b|!(?!=|DOCTYPE)",
    re.I,
)
TAGS = re.compile(r"{%.*?%}|{{.*?}}|<[^>]*>|<!--.*?-->|{#.*?#}", re.S)


class Sentences(SimpleTestCase):
    def test_reasons_and_problems_are_whole_sentences(self) -> None:
        self.assertGreater(len(wording.RULES), 80)
        for rule, said in wording.RULES.items():
            if said.short:
                self.assertRegex(said.short, r"^[A-Z{].*[.?]$", rule)
            self.assertNotRegex(said.headline, r"[.]$", rule)
            for text in (said.headline, said.line, said.short):
                self.assertNotRegex(text, r"  |,,|\.\.", rule)
        for code, text in wording.PROBLEMS.items():
            self.assertRegex(text, r"^[A-Z{].*[.]$", code)

    def test_every_kind_of_work_says_how_in_a_line_and_what_in_a_verb(self) -> None:
        self.assertGreater(len(wording.STEPS), 15)
        for kind, words in wording.STEPS.items():
            self.assertRegex(words.instruction, r"^[A-Z].*[.?]$", kind)
            self.assertRegex(words.act, r"^[a-z]", kind)
            self.assertRegex(words.verb, r"^[A-Z]", kind)
            self.assertEqual(words.caution, words.caution.strip(), kind)

    def test_how_is_said_for_every_crop_in_every_unit(self) -> None:
        for key, crop in library().items():
            for kind, words in wording.STEPS.items():
                if words.how is None:
                    continue
                for system in (say.METRIC, say.US, say.IMPERIAL):
                    text = words.how(_task(kind), crop, system)
                    self.assertRegex(text, r"^[A-Z\d].*[.]$", (key, kind))
                    self.assertLessEqual(len(text), 190, (key, kind))
                    self.assertNotRegex(text, r"None|nan|  ", (key, kind))

    def test_what_is_sown_on_the_surface_is_never_covered(self) -> None:
        sow = wording.STEPS["sow"].how
        assert sow is not None
        celery = sow(_task("sow"), library()["celery"], say.METRIC)
        self.assertEqual(celery, "On the surface, do not cover; 16–21 °C, not on the mat. Label first.")
        for key, crop in library().items():
            text = sow(_task("sow"), crop, say.METRIC)
            if crop.word("light") == "light" and crop.word("starts") == "seed":
                self.assertIn("do not cover", text, key)
            if crop.word("light") == "dark" and crop.word("starts") == "seed":
                self.assertIn("dark", text, key)


def _task(kind: str) -> Task:
    return Task("p1.x.0", None, TODAY, 1, "cells", None)  # type: ignore[arg-type]


class Pages(TestCase):
    def test_no_page_begs_boasts_or_threatens(self) -> None:
        looked = 0
        for path in sorted((ROOT / "aestiva").rglob("templates/**/*.html")):
            text = " ".join(TAGS.sub(" ", path.read_text(encoding="utf-8")).split())
            found = NEVER.search(text)
            self.assertIsNone(
                found, f"{path.relative_to(ROOT)}: {found and text[max(0, found.start() - 40) : found.end() + 20]}"
            )
            looked += 1
        self.assertGreater(looked, 60)
        for path in sorted((ROOT / "aestiva").rglob("wording.py")):
            for text in re.findall(r'"([A-Z][^"]{12,})"', path.read_text(encoding="utf-8")):
                found = NEVER.search(text)
                self.assertIsNone(found, f"{path.relative_to(ROOT)}: {text}")


class Counting(TestCase):
    def test_one_is_one(self) -> None:
        self.assertEqual([say.plural(n, "thing") for n in (0, 1, 2)], ["0 things", "1 thing", "2 things"])
        self.assertEqual(say.listed(["a", "b", "c", "d", "e"], 3), "a, b and 3 more")


class Aloud(GardenCase):
    """Sentences that once were not true when read aloud."""

    def test_what_is_named_is_not_counted_again(self) -> None:
        for crop, ahead in (("broccoli", 0), ("tomato", 0), ("kale", 9), ("leek", 12)):
            plant(self.garden, self.owner, crop, 6, sow_on=TODAY.replace(day=TODAY.day + ahead))
        page = self.client.get(self.url("plan/"))
        self.assertContains(page, "Next to sow: Broccoli and Tomato, today; 2 plantings after that")

    def test_a_sown_planting_does_not_ask_to_be_sown(self) -> None:
        batch = self.sown("tomato", 10, on=TODAY.replace(day=TODAY.day - 1))
        page = self.client.get(self.url(f"plan/{batch.planting_id}/"))
        self.assertContains(page, "Sown Sat 11 April, yesterday.")
        self.assertNotContains(page, "Sow Sat 11 April, yesterday")

    def test_a_decimal_where_a_whole_number_is_meant(self) -> None:
        data = {"crop": "tomato", "wanted": "2.5", "method": "raised", "term": "spring"}
        self.assertContains(self.post("plan/add/", **data), "Give a whole number, without comma", status_code=422)

    def test_money_is_said_as_the_garden_says_it(self) -> None:
        for currency, said in (("£", "£3.20"), ("CHF", "3.20 CHF"), ("", "3.20")):
            self.assertEqual(say.money(3.2, say.Reader(money=currency)), said)

    def test_a_clock_of_twelve_hours(self) -> None:
        reader = say.Reader("us", "12")
        said = [say.time_of_day(text, reader) for text in ("0:00", "8:30", "12:00", "16:30", "24:00")]
        self.assertEqual(said, ["12 am", "8:30 am", "12 pm", "4:30 pm", "12 am"])
        self.assertEqual(say.time_of_day("16:30", say.METRIC), "16:30")
