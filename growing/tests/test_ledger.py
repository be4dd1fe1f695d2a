"""Both ledgers balance, whatever happens; what cannot be is refused."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.batch.ledger import Entry, LedgerError, accounts

KINDS = ("up", "never_up", "received", "thinned", "died", "given", "moved", "planted", "lost_outside")


class Ledgers(TestCase):
    @given(st.integers(0, 200), st.lists(st.tuples(st.sampled_from(KINDS), st.integers(0, 60)), max_size=25))
    def test_accounts_always_balance(self, sown: int, events: list[tuple[str, int]]) -> None:
        kept = [Entry("sown", sown)]
        for kind, count in events:
            try:
                now = accounts([*kept, Entry(kind, count)])
            except LedgerError as error:
                self.assertEqual(error.count, count)
                continue
            kept.append(Entry(kind, count))
            assert now.sown is not None and now.waiting is not None
            self.assertEqual(now.sown, now.waiting + now.never_up + (now.emerged or 0))
            self.assertGreaterEqual(now.waiting, 0)
            self.assertGreaterEqual(now.outdoors, 0)
            if now.indoors is not None:
                gone = now.thinned + now.died + now.given + now.moved + now.planted
                self.assertEqual((now.emerged or 0) + now.received, gone + now.indoors)
                self.assertGreaterEqual(now.indoors, 0)

    def test_unknown_stays_unknown(self) -> None:
        now = accounts([Entry("sown", 40), Entry("planted", 12)])
        self.assertIsNone(now.emerged)
        self.assertIsNone(now.indoors)
        self.assertEqual(now.planted, 12)

    def test_a_later_count_corrects_an_earlier_one(self) -> None:
        now = accounts([Entry("sown", 40), Entry("up", 30), Entry("up", 27)])
        self.assertEqual((now.emerged, now.waiting, now.indoors), (27, 13, 27))

    def test_a_count_below_what_moved_on_is_refused(self) -> None:
        with self.assertRaises(LedgerError) as caught:
            accounts([Entry("sown", 40), Entry("up", 30), Entry("given", 25), Entry("up", 20)])
        self.assertEqual(caught.exception.there_are, 25)

    def test_more_than_there_is_names_what_there_is(self) -> None:
        with self.assertRaises(LedgerError) as caught:
            accounts([Entry("sown", 40), Entry("up", 30), Entry("died", 4), Entry("given", 27)])
        self.assertEqual((caught.exception.kind, caught.exception.count, caught.exception.there_are), ("given", 27, 26))

    def test_estimates_are_marked(self) -> None:
        self.assertTrue(accounts([Entry("up", 9), Entry("thinned", 2, True)]).estimated)
