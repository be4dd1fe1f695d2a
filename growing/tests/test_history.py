"""What happened to batches, replayed: facts, shares of the plants wanted, history taken along by a split, the wait for hardening."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.batch.history import Event, Events, Sown, half_coming, ledgers, replay, replay_planting
from growing.batch.links import Link, parents_first
from growing.chain.choice import Choice
from growing.chain.dates import date_planting
from growing.chain.standing import standing
from growing.crops import library
from growing.ladders.ladder import ladders, progress
from growing.tests.test_season import place

DAY = date(2026, 4, 1)
TOMATO = library()["tomato"]


def at(days: int) -> date:
    return DAY + timedelta(days=days)


class Replayed(TestCase):
    def test_facts_are_the_first_of_each_and_half_up_counts_those_that_can_come(self) -> None:
        half = half_coming(TOMATO, None, 40)
        assert half is not None
        self.assertGreater(half, 10)
        events = [
            Event("sown", DAY, 40),
            Event("up", at(6), 0),
            Event("up", at(7), 3),
            Event("lamp", at(7)),
            Event("up", at(9), 38),
            Event("lamp", at(10)),
        ]
        state = replay(Sown(DAY, cells=20), TOMATO, events, 12)
        facts = state.facts
        self.assertEqual((facts.first_up, facts.half_up, facts.first("lamp")), (at(7), at(9), at(7)))
        self.assertEqual((facts.counts, facts.last_count), (3, at(9)))
        self.assertIsNone(state.wrong)

    def test_uncounted_seed_has_no_half(self) -> None:
        facts = replay(Sown(DAY), TOMATO, [Event("sown", DAY), Event("up", at(7), 3)], 12).facts
        self.assertEqual((facts.first_up, facts.half_up), (at(7), None))

    def test_an_event_that_cannot_be_is_named_and_left_out(self) -> None:
        accounts, wrong = ledgers([Event("sown", DAY, 10), Event("up", at(7), 11), Event("up", at(8), 4)])
        assert wrong is not None
        self.assertEqual((wrong.count, accounts.emerged), (11, 4))

    def test_planted_out_when_as_many_stand_outside_as_are_wanted(self) -> None:
        events = [Event("sown", DAY, 30), Event("up", at(7), 20), Event("planted", at(50), 6)]
        self.assertIsNone(replay(Sown(DAY, cells=30), TOMATO, events, 12).facts.planted_on)
        self.assertEqual(replay(Sown(DAY, cells=30), TOMATO, events, 6).facts.planted_on, at(50))

    def test_a_split_takes_its_history_along_up_to_that_day(self) -> None:
        batches = {
            1: Sown(DAY, cells=30),
            2: Sown(
                DAY,
            ),
        }
        events: dict[int, Events] = {
            1: [
                Event("sown", DAY, 30),
                Event("up", at(7), 24),
                Event("potted", at(20)),
                Event("outing", at(22), None, False, 2.0, 2.0),
            ],
        }
        state = replay_planting(TOMATO, 20, batches, [1, 2], events, [Link(1, 2, at(21), 10)])
        states = state.batches
        self.assertEqual([states[n].accounts.indoors for n in (1, 2)], [14, 10])
        child = states[2].facts
        self.assertEqual((child.first_up, child.first("potted"), child.outings), (at(7), at(20), ()))
        self.assertEqual(states[1].wanted + states[2].wanted, 20)

    def test_a_merge_has_what_both_had_and_its_parents_come_first(self) -> None:
        batches = {1: Sown(DAY), 5: Sown(DAY, cells=30), 7: Sown(DAY, cells=30)}
        up: list[Events] = [[Event("sown", DAY, 30), Event("up", at(n), 20)] for n in (7, 9)]
        links = [Link(5, 1, at(20), 6), Link(7, 1, at(21), 4)]
        state = replay_planting(TOMATO, 12, batches, [1, 5, 7], {5: up[0], 7: up[1]}, links)
        self.assertEqual((state.batches[1].accounts.received, state.batches[1].facts.first_up), (10, at(7)))
        self.assertEqual(parents_first(batches, links)[-1], 1)
        with self.assertRaises(ValueError):
            parents_first((1, 5), [*links, Link(1, 5, at(22), 1)])

    def test_more_moved_on_than_there_were_is_named(self) -> None:
        events = [Event("sown", DAY, 30), Event("up", at(7), 8)]
        accounts, wrong = ledgers(events, moved=[Link(1, 2, at(7), 9)])
        assert wrong is not None
        self.assertEqual((wrong.kind, wrong.count, wrong.there_are, accounts.indoors), ("moved", 9, 8, 8))

    @given(st.lists(st.integers(1, 60), min_size=1, max_size=5), st.integers(0, 80), st.integers(0, 40))
    def test_the_plants_wanted_are_shared_out_whole(self, cells: list[int], wanted: int, to_sow: int) -> None:
        batches = {n: Sown(DAY, cells=c) for n, c in enumerate(cells)}
        states = replay_planting(TOMATO, wanted, batches, list(batches), {}, (), lambda secured: to_sow)
        given_ = sum(s.wanted for s in states.batches.values())
        self.assertLessEqual(given_, wanted)
        if not to_sow:
            self.assertEqual(given_, wanted)


class Waiting(TestCase):
    """Plants not hardened on the day they were to go out wait for the ladder."""

    def setUp(self) -> None:
        self.ladder = next(iter(ladders().values()))
        self.choice = Choice()
        self.dates = date_planting(TOMATO, place(2026, False, 45, 8.0, frozenset(range(7))))

    def test_not_begun_while_there_is_time_nothing_moves(self) -> None:
        today = self.dates.out_on - timedelta(days=len(self.ladder.rungs))
        idle = progress(self.ladder, [], today)
        self.assertIs(standing(self.choice, self.dates, today, hardened=idle), self.choice)

    def test_not_hardened_on_the_day_the_whole_ladder_lies_ahead(self) -> None:
        today = self.dates.out_on
        idle = progress(self.ladder, [], today)
        later = standing(self.choice, self.dates, today, hardened=idle)
        self.assertEqual((later.out_on, later.out_because), (today + timedelta(days=idle.rungs), "waits"))
