"""The trouble finder on nature's troubles: better than the signs alone and than reflexes, and never feeding first where it is wet and cold."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from demo.judge.trouble import by_sign, found_of, log_of, missed, trouble
from demo.nature.troubles import ANSWERS, SIGNS, happen
from growing.care.trouble import book


class Troubles(TestCase):
    def test_nature_speaks_of_what_the_book_knows(self) -> None:
        known, rng = book(), np.random.default_rng(4)
        self.assertTrue(set(SIGNS) <= set(known.signs))
        self.assertEqual(
            {q: set(a) for q, a in ANSWERS.items()}, {q.key: set(q.answers) for q in known.questions.values()}
        )
        for _ in range(200):
            had = happen(rng)
            self.assertIn(had.cause, known.causes)
            self.assertTrue(had.signs)
            self.assertEqual(log_of(had).lying, had.lying)
            self.assertEqual(known.causes[had.cause].under, had.lying)

    def test_found_first_in_most_and_among_three_in_nearly_all(self) -> None:
        lines = {line.policy: line for line in trouble(150, 5)}
        ours = lines["aestiva"]
        self.assertGreaterEqual(ours.first, 0.6)
        self.assertGreaterEqual(ours.three, 0.88)
        self.assertEqual(ours.fed_wrongly, 0)
        self.assertGreater(ours.first, lines["signs_alone"].first + 0.1)
        self.assertGreater(lines["signs_alone"].first, lines["feed_it"].first)
        self.assertIn("SIMULATE trouble aestiva troubles=150", str(ours))

    def test_what_is_missed_is_counted(self) -> None:
        found = missed(60, 5)
        self.assertTrue(all(true != said for true, said in found))
        self.assertLess(sum(found.values()), 30)

    def test_every_ranking_begins_somewhere(self) -> None:
        had = happen(np.random.default_rng(9))
        self.assertTrue(found_of(had) and by_sign(had))
