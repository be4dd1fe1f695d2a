"""What is true of one batch today, whoever asks: its crop, dates, course, accounts, what happened to it, where it stands."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from datetime import date
from operator import attrgetter
from typing import TYPE_CHECKING, NamedTuple

from growing.batch.ledger import Accounts
from growing.calendar import Window
from growing.chain.course import Course
from growing.chain.dates import PlantingDates
from growing.chain.happened import Facts
from growing.chain.leaves import LeafStage
from growing.crops import Crop
from growing.ladders.ahead import USUAL_DOOR, HardeningSite
from growing.ladders.ladder import Ladder, LadderProgress
from growing.place.kinds import OUTDOORS
from growing.place.nights import Night
from growing.seeds.sowing import USUAL, How, Seed
from growing.seeds.viability import InHand

if TYPE_CHECKING:
    from growing.batch.verdict import EmergenceVerdict

PLANTS = ("received", "thinned", "pricked", "potted", "pinched", "trimmed")  # what happens to plants, and to no seed


class GoesTo(NamedTuple):
    """Plants are to stand in a place from a day on: its key, short name and kind."""

    since: date
    spot: int
    code: str
    kind: str


@dataclass(slots=True)  # not frozen: hundreds a page
class BatchFacts:
    """One batch, or a planting that has none yet, as the tasks see it."""

    ref: str
    crop: Crop
    wanted: int
    dates: PlantingDates
    course: Course
    facts: Facts
    ladder: Ladder
    accounts: Accounts | None = None
    how: How = USUAL
    cells: int | None = None
    has_seed: bool = False
    stands: str = ""  # kind of spot
    stands_on: str = ""  # its short name
    goes: tuple[GoesTo, ...] = ()  # where it is to stand from which day on
    grows_in: str = ""  # kind of spot that it is planted in; "" where nobody said
    hardened: LadderProgress | None = None
    nights: tuple[Night, ...] = ()
    shift_c: float = 0.0
    summer_night_c: float | None = None  # mean of the nights of the warmest month; None: not known
    summer_day_c: float | None = None  # mean, day and night, of the warmest fortnight; None: not known
    accepted_risk: float = 0.1
    door: HardeningSite = USUAL_DOOR
    stood: str = ""  # bought plants until now: "glass", "outdoors"; "": nobody knows
    attempt: int = 0  # batches that failed before
    planned_on: date | None = None  # what should have been done before that day is for that day
    secured: int = 0  # cells already sown in an unfinished sowing
    seed: Seed | None = None  # what its lot will do at the warmth it will have
    packet: InHand | None = None  # of what is still to be sown
    away: tuple[Window, ...] = ()  # days on which nobody is there
    verdict: EmergenceVerdict | None = None  # of what lies under the mix, once it was looked at
    stage: LeafStage | None = None  # where somebody saw its leaves
    memo: dict[object, object] = field(
        default_factory=dict, compare=False, repr=False
    )  # what was found out by this alone

    def anew(self) -> BatchFacts:
        """The same, for whoever asks next: what is set on it is its own, what follows from it alone is found out once for all."""
        other = BatchFacts(*_VALUES(self))
        other.verdict = None
        return other

    def night(self, day: date) -> Night | None:
        """The night of that day; None where no forecast reaches it."""
        return next((night for night in self.nights if night.day == day), None)

    def not_before(self, day: date) -> date:
        """That day, or the one on which it was planned, where that is later."""
        return day if self.planned_on is None else max(day, self.planned_on)

    @property
    def plants(self) -> int | None:
        """Plants indoors when counted; otherwise as many as the cells that were sown are for."""
        if self.accounts is not None and self.accounts.indoors is not None:
            return self.accounts.indoors
        return None if self.cells is None else self.cells * self.how.clump

    @property
    def plants_seen(self) -> int:
        """Plants indoors that somebody has seen, or fetched; none of what may still be seed, for all that anybody said."""
        facts = self.facts
        seen = (
            facts.first_up is not None or bool(facts.outings) or any(facts.first(kind) is not None for kind in PLANTS)
        )
        counted = self.accounts is not None and self.accounts.indoors is not None
        return (self.plants or 0) if counted or seen else 0

    @property
    def in_box(self) -> bool:
        """Does it stand outdoors in the box in which it was sown in winter?"""
        return self.dates.method == "winter" and self.facts.sown_on is not None and self.alive

    @property
    def outdoors_in(self) -> str:
        """The kind of place outdoors in which it stands in pots or a box; "" where it stands indoors, or nobody said."""
        if self.in_box and (not self.stands or self.stands == "path"):
            return "box"
        return self.stands if self.stands in OUTDOORS else ""

    @property
    def clumps(self) -> int | None:
        """Clumps still to be set out; None where its plants do not stay in clumps, or nobody knows its cells."""
        if self.how.clump == 1 or self.cells is None or self.accounts is None:
            return None
        there, planted = self.accounts.indoors, self.accounts.planted
        if there is None:
            return max(0, self.cells - self.how.need(planted))
        return round(self.cells * there / self.accounts.whole) if there else 0

    @property
    def hardens(self) -> bool:
        """Does it climb the ladder before it goes out?  Bought plants do unless they stood outdoors; nobody knows: they do."""
        return hardens(self.dates.method, self.stood)

    @property
    def growing(self) -> bool:
        """Sown or fetched, and neither planted out nor all gone, as far as anybody counted."""
        return self._begun and self.plants != 0

    @property
    def alive(self) -> bool:
        """The same, or seed that may still come, though nothing of it is up."""
        waits = self.accounts is not None and bool(self.accounts.waiting) and not self.accounts.spent
        return self._begun and (self.plants != 0 or waits)

    @property
    def _begun(self) -> bool:
        there = self.facts.sown_on is not None or self.facts.first("received") is not None
        return there and self.facts.planted_on is None


_VALUES = attrgetter(*(f.name for f in fields(BatchFacts)))


def hardens(method: str, stood: str) -> bool:
    """What is raised climbs the ladder, and what is bought unless it stood outdoors."""
    return method == "raised" or (method == "bought" and stood != "outdoors")
