"""The page of the can: a feed by its label, a spoon and a can, who is due, fed and taken back; what cannot be."""

from __future__ import annotations

from typing import Any

from aestiva.care.models import Feed
from aestiva.care.tests.test_round import RoundCase
from aestiva.frame.tests.garden import TODAY
from aestiva.gardens.models import JournalEntry
from aestiva.season.models import BatchEvent

LABEL = {
    "name": "Salts",
    "analysis": "on",
    "n": "20",
    "p": "20",
    "k": "20",
    "oxides": "on",
    "g_per_ml": "1",
    "urea": "0",
}


class Can(RoundCase):
    def describe(self, **more: str) -> Any:
        return self.client.post(self.url("care/feed/new/"), LABEL | more)

    def test_no_feed_yet(self) -> None:
        self.assertIn("No feed is described yet", self.page("care/feed/"))

    def test_a_spoon_in_a_can(self) -> None:
        self.describe()
        page = self.page("care/feed/?spoon=5&litres=10&n=100")
        self.assertIn("<b>100</b>", page)  # mg of N in a litre
        self.assertIn("<b>44</b>", page)  # of P
        self.assertIn("<b>83</b>", page)  # of K

    def test_a_spoon_of_another_country(self) -> None:
        self.describe()
        self.assertIn("<b>1042</b>", self.page("care/feed/?spoon=4&litres=3.785&unit=US+teaspoon"))

    def test_a_brew_has_a_dilution_and_no_milligrams(self) -> None:
        self.describe(name="Brew", analysis="", n="0", p="0", k="0", g_per_ml="")
        page = self.page("care/feed/?litres=10")
        self.assertIn("strength unknown", page)
        self.assertIn("1 in 10: 909 ml", page)
        self.assertNotIn("N, nitrogen", page)

    def test_labels_that_cannot_be(self) -> None:
        for wrong in (
            {"n": "101"},
            {"n": "60", "p": "60"},
            {"urea": "2"},
            {"g_per_ml": "9"},
            {"n": "much"},
            {"name": ""},
        ):
            with self.subTest(wrong=wrong):
                answer = self.describe(**wrong)
                self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.describe(n="0", p="0", k="0").status_code, 422)
        self.assertFalse(Feed.objects.exists())
        self.describe()
        self.assertEqual(self.describe().status_code, 422)  # the same name twice

    def test_cans_that_cannot_be(self) -> None:
        self.describe()
        for typed in (
            "litres=0",
            "litres=-3",
            "litres=x",
            "spoon=-1",
            "spoon=nan",
            "water=1e99",
            "unit=bucket&spoon=y",
            "feed=999",
            "n=x",
        ):
            with self.subTest(typed):
                answer = self.client.get(self.url(f"care/feed/?{typed}"))
                self.assertEqual(answer.status_code, 200)
                if "=999" not in typed and typed != "n=x":
                    self.assertIn('role="alert"', answer.content.decode())

    def test_fed_and_taken_back(self) -> None:
        self.assertEqual(
            self.client.post(self.url("care/fed/keep/"), {"batch": [self.batch.pk, 999999]}).status_code, 422
        )
        answer = self.client.post(self.url("care/fed/keep/"), {"batch": [self.batch.pk], "n": "75"})
        self.assertEqual(answer.status_code, 302)
        event = BatchEvent.objects.get(kind="fed")
        self.assertEqual((event.on, event.data["n_mg_l"]), (TODAY, 75.0))
        self.assertNotIn("checked", self.page("care/feed/"))
        self.client.post(self.url(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/"))
        self.assertFalse(BatchEvent.objects.filter(kind="fed").exists())

    def test_nobody_chosen_or_burnt(self) -> None:
        for typed in ({}, {"batch": "x"}, {"batch": self.batch.pk, "n": "5000"}, {"batch": self.batch.pk, "n": "nan"}):
            with self.subTest(typed=typed):
                self.assertEqual(self.client.post(self.url("care/fed/keep/"), typed).status_code, 422)

    def test_changed_by_another_in_between(self) -> None:
        self.describe()
        feed = Feed.objects.get()
        change = LABEL | {"name": "Salts of the shed", "revision": str(feed.revision)}
        self.assertEqual(self.client.post(self.url(f"care/feed/{feed.pk}/edit/"), change).status_code, 302)
        again = self.client.post(self.url(f"care/feed/{feed.pk}/edit/"), change | {"name": "Other"})
        self.assertNotEqual(again.status_code, 500)
        feed.refresh_from_db()
        self.assertEqual(feed.name, "Salts of the shed")

    def test_removed(self) -> None:
        self.describe()
        feed = Feed.objects.get()
        self.client.post(self.url(f"care/feed/{feed.pk}/remove/"), {"revision": feed.revision})
        self.assertFalse(Feed.objects.exists())
