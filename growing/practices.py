"""Growers differ: the questions on which good growers go different ways, and what each way changes.

A way is a word field of the crop (`growing.crops.schema`), so it is settled where every other value is: library < garden <
the garden's crop < lot < planting.  Only questions that bear on dates, counts or triggers stand here; those of light, water
and food belong to their own stages.
"""

from __future__ import annotations

from typing import NamedTuple


class OneWay(NamedTuple):
    """One way: its word, its name, and the sentence that its growers give for it."""

    key: str
    name: str
    why: str


class School(NamedTuple):
    """A question with its ways, the usual one first; stage: where it bears."""

    field: str
    question: str
    stage: str
    options: tuple[OneWay, ...]

    @property
    def usual(self) -> str:
        return self.options[0].key

    def name_of(self, key: str) -> str:
        return next((o.name for o in self.options if o.key == key), key)


SCHOOLS = (
    School(
        "lead_way",
        "How long is it raised?",
        "plan",
        (
            OneWay("book", "packet or book", "The usual weeks; your own experience, where you wrote it down, goes before them."),
            OneWay("bigger", "bigger plants", "A short season gains weeks indoors: a quarter longer, in a bigger pot."),
        ),
    ),
    School(
        "out_way",
        "When do tender crops go out?",
        "plan",
        (
            OneWay("gates", "the crop’s own days and gates", "Counted from last frost, held until frost, soil and nights allow it."),
            OneWay("cover", "at last frost, cover at hand", "Weeks earlier, for those who carry fleece out on clear evenings; cooler nights do."),
            OneWay("weeks", "two to three weeks after last frost", "One rule for all, peppers a week more: easy to keep, whatever the soil says."),
            OneWay("soil", "by soil and forecast only", "Warm soil makes roots; the date means nothing, the five nights ahead decide on the day."),
        ),
    ),
    School(
        "lamp_way",
        "When is the lamp on?",
        "emergence",
        (
            OneWay("day3", "from the third day", "Before the first one is up, so that none comes up in the dark; two looks a day are spared."),
            OneWay("first", "at the first one up", "Not a day of current before it is needed; wants two looks a day."),
            OneWay("sowing", "from sowing", "Nothing to watch for, and the lamp warms the tray."),
        ),
    ),
    School(
        "lid_way",
        "When do mat and lid come off?",
        "emergence",
        (
            OneWay("half", "when half are up", "The first ones have air in time, and the others still have warmth."),
            OneWay("first", "at the first one up", "Damping off takes those that stand in still air."),
            OneWay("third", "when three in ten are up", "Air early, without stopping the slow ones."),
            OneWay("most", "when three in four are up", "An even stand: the slow ones keep warm."),
            OneWay("all", "when all are up, in steps", "Vents, then ajar, then off: nothing is shocked."),
        ),
    ),
    School(
        "vents_way",
        "When are the vents opened?",
        "emergence",
        (
            OneWay("lid", "with the lid", "Closed until the lid comes off: the surface never dries."),
            OneWay("day2", "two days after sowing", "Where a closed lid has shown white fuzz before: moving air stops it."),
            OneWay("first", "at the first one up", "Air for those that stand, moisture for those that do not yet."),
        ),
    ),
    School(
        "mat_way",
        "When is the mat off?",
        "emergence",
        (
            OneWay("lid", "with the lid", "One hand less: what is up wants it cooler and airier at once."),
            OneWay("first", "at the first one up", "Where there is little light: warmth without light draws them thin."),
            OneWay("half", "when half are up", "The slow ones keep their warmth, whatever becomes of the lid."),
        ),
    ),
    School(
        "cover_way",
        "What covers the seed?",
        "emergence",
        (
            OneWay("mix", "mix", "As deep as the seed is thick, and a little more."),
            OneWay("vermiculite", "vermiculite", "Holds water, lets light and air through, makes no crust."),
            OneWay("paper", "a paper strip", "Keeps the surface moist and dark; it is lifted off when half are up."),
            OneWay("none", "nothing", "Pressed on: for the finest seed, and for what wants light."),
        ),
    ),
    School(
        "hours_way",
        "How long does the lamp burn?",
        "light",
        (
            OneWay("steady", "sixteen hours, all the way", "One setting, less where a crop bears less."),
            OneWay("taper", "sixteen, fourteen, twelve", "Towards the days that they will meet outdoors."),
            OneWay("long", "eighteen, then fourteen", "Weak lamps make up for it by hours while they are small."),
            OneWay("crop", "by the crop", "Each as its kind likes it; one lamp for one kind."),
        ),
    ),
    School(
        "first_light_way",
        "And in the first days?",
        "light",
        (
            OneWay("normal", "as afterwards", "They sleep from the first night on."),
            OneWay("round", "round the clock, three days at most", "Not one stretches before it has seen light; eggplant never, tomatoes with care."),
        ),
    ),
    School(
        "sown_way",
        "How is it sown?",
        "bench",
        (
            OneWay("cells", "cells, one seed where four in five come, else two", "Little thinning, few empty cells."),
            OneWay("two", "always two a cell", "No empty cell; the weaker one is snipped."),
            OneWay("box", "together, then pricked out", "Least warmth and room until they are up; only the best go on."),
            OneWay("divide", "together, divided at planting out", "For onions and leeks: one box, no pricking out."),
            OneWay("blocks", "soil blocks", "No pots to buy or wash; roots stop at the air."),
            OneWay("clumps", "clumps", "Several in a cell planted together: onions, beet, leeks find room for themselves."),
        ),
    ),
    School(
        "surplus_way",
        "What happens to those over?",
        "care",
        (
            OneWay("usual", "as usual for the crop", "Thinned, or left in clumps where the crop bears it."),
            OneWay("snip", "snipped", "The roots of the one that stays are not disturbed."),
            OneWay("keep", "separated and kept", "Fewer seeds for as many plants, and an hour’s work."),
            OneWay("clump", "left in clumps", "No thinning at all."),
            OneWay("divide", "divided at planting out", "Every seedling becomes a plant."),
        ),
    ),
    School(
        "water_way",
        "When is it watered?",
        "care",
        (
            OneWay("pale", "when it is pale", "Half gone: roots find air between, and nothing hangs."),
            OneWay("later", "a day after pale", "Roots go looking; not for small cells."),
        ),
    ),
    School(
        "ladder_way",
        "How is it hardened off?",
        "hardening",
        (
            OneWay("garden", "as the garden does it", "The ladder chosen under Settings."),
            OneWay("five", "five short days", "For half-hardy crops raised cool, and for whoever has a week."),
            OneWay("seven", "seven-day ladder", "Hours and sun a little more each day, one night at the end."),
            OneWay("ten", "ten days with nights", "Three nights out: for those that stay out in a cold spring."),
            OneWay("afterfrost", "only after last frost", "Seven days that begin when frost is as likely as not over: none on frosty evenings."),
            OneWay("cool", "three days, raised cool", "Plants that had sun and moving air in a frame need only to be moved."),
        ),
    ),
)  # fmt: skip

BY_FIELD = {school.field: school for school in SCHOOLS}
GARDEN_LEVEL = tuple(
    school.field for school in SCHOOLS if school.field != "ladder_way"
)  # that one is a setting of its own


def unknown(ways: object) -> str:
    """What is wrong with the ways somebody wrote down; empty where nothing is."""
    if not isinstance(ways, dict):
        return "must be a table of questions and ways"
    for field, key in ways.items():
        if field not in BY_FIELD:
            return f"{str(field)[:40]!r} is no question of these: {', '.join(BY_FIELD)}"
        if key not in {o.key for o in BY_FIELD[field].options}:
            return f"{str(key)[:40]!r} is no way of {field}: choose {', '.join(o.key for o in BY_FIELD[field].options)}"
    return ""


def known(ways: object) -> dict[str, str]:
    """Those of them that there are."""
    items = ways.items() if isinstance(ways, dict) else ()
    return {f: k for f, k in items if f in BY_FIELD and not unknown({f: k})}
