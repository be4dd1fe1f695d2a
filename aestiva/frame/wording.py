"""How each rule is said: a headline and the arithmetic in one line.

{names} are the rule's inputs, {result} its result.  A test fails on a rule without wording.
"""

from __future__ import annotations

from datetime import date
from typing import Any

from aestiva.frame import say
from growing.steps import Task
from growing.working import Value, Working

RULES: dict[str, tuple[str, str]] = {
    # place
    "last_frost": (
        "Last frost: {result}",
        "the day after which {threshold} or less still comes in {risk} of springs; every offset counts from it",
    ),
    "last_frost_none": (
        "Offsets count from {result}",
        "frost comes in only {frost seasons} of seasons here, so there is no middle date to count from",
    ),
    "last_frost_date": ("Frost is over by {result}", "{threshold} or less comes later in {risk} of springs"),
    "first_frost_date": ("No frost before {result}", "{threshold} or less comes earlier in {risk} of autumns"),
    "frost_gate": (
        "Frost line of this crop: {result}",
        "after it {threshold}, which damages it, still comes in {risk} of springs: the risk accepted",
    ),
    "soil_gate": ("Morning soil of {needs}: {result}", "read between the typed dates of soil warmth"),
    "nights_gate": ("Nights of {needs}: {result}", "read between the typed dates of warm nights"),
    "soil_computed_gate": (
        "Morning soil of {needs}: {result}",
        "in {share} of {springs} springs no run of three colder mornings comes after it; soil follows the day's mean air"
        " by {smoothing}, {bed} add {bed adds}, mornings {morning}, your probe {calibration}",
    ),
    "nights_computed_gate": (
        "Nights of {needs}: {result}",
        "from then on a colder night in the next fortnight comes in under {chance} of {springs} springs; your garden {shift}",
    ),
    "warm_date": ("Warm enough by {result}", "{threshold} for good in {risk} of springs"),
    "soil_calibration": (
        "Your probe adds {result} to the model",
        "median difference {median difference} of {readings} readings, taken with a weight of {weight} (full from five)",
    ),
    "sureness": (
        "These years know the date to ± {result}",
        "{seasons} seasons drawn again a thousand times: four times in five the date lies between {low} and {high}",
    ),
    "trend": (
        "Over these years the frost moves by {result} a decade",
        "median of all slopes between two of {seasons} seasons, {change over the record} over the record;"
        " by accident so much order comes with a chance of {chance}",
    ),
    "garden_shift": (
        "Your garden against the station: {result}",
        "median difference {median difference} of {nights} nights, {clear nights} of them clear and counted twice;"
        " taken with a weight of {weight} (full from fourteen), give or take {error}",
    ),
    "growing_season": (
        "{result} between the frosts in half of the years",
        "from the last frost of spring to the first of autumn at {threshold}, year by year: {years} years, the shortest"
        " {shortest}, nine in ten at least {sure}",
    ),
    "onion_type": (
        "Bulbs from {result}",
        "it needs days of {needs from} to {needs to}; the longest here has {longest day}",
    ),
    # counting back
    "out_from": ("Plant out from {result}", "last frost {last frost}, offset {out_min} → {by offset}; set by {set by}"),
    "out_to": ("Plant out until {result}", "last frost {last frost}, offset {out_max} → {by offset}; set by {set by}"),
    "autumn_from": (
        "Plant out from {result}",
        "{finish} − harvest {harvest} − growing {mature_max} (less {sown in place} if sown in place)"
        " − {shortening light} for shortening light",
    ),
    "autumn_to": (
        "Plant out until {result}",
        "{finish} − harvest {harvest} − growing {mature_min} (less {sown in place} if sown in place)"
        " − {shortening light} for shortening light",
    ),
    "sow_from": ("Sow from {result}", "{plant out} − {raising}"),
    "sow_to": ("Sow until {result}", "{plant out} − {raising}"),
    "sowing_day": (
        "Sow on {result}",
        "ideal {ideal} = {middle of planting out} − {middle raising}; your nearest sowing day",
    ),
    "no_sowing_day": (
        "Sow on {result}",
        "none of your sowing days lies between {window start} and {window end}: this is the best other day",
    ),
    "sow_pinned": ("Sow on {result}", "the day you chose; the window is {window start} to {window end}"),
    "sow_too_late": ("Sow on {result}", "the window closed on {window end}; this is the first day left"),
    "out_on": (
        "Plant out on {result}",
        "sown {sow} + {middle raising}, kept between {window start} and {window end} and never under {shortest raising}",
    ),
    "out_pinned": ("Plant out on {result}", "the day you chose; the window is {window start} to {window end}"),
    "out_waits": (
        "Plant out on {result}",
        "the first day on which it can be hardened; the window is {window start} to {window end}",
    ),
    "out_happened": ("Planted out on {result}", "as it happened; the window was {window start} to {window end}"),
    "packet_raising": (
        "Raising time from the packet: {raise min} to {raise max}",
        "{weeks min} to {weeks max} {base} + its own planting offset {planting offset};"
        " the same is {same before last frost} before last frost",
    ),
    # forward
    **{
        f"first_{kind}{place}{term}": (
            f"First {kind} from {{result}}",
            f"{{plant out}} + {{mature_min}} to {{mature_max}}{less}{light}; a damaging frost comes before it in {{frost before}}"
            " of years",
        )
        for kind in ("harvest", "bloom")
        for place, less in (("", ""), ("_direct", " − {sown in place}, for it is not moved"))
        for term, light in (("", ""), ("_autumn", " + {shortening light} for shortening light"))
    },
    "last_harvest": ("Harvest until {result}", "{middle of first} + {yield_days}; set by {set by}"),
    "last_bloom": ("Bloom until {result}", "{middle of first} + {yield_days}; set by {set by}"),
    # seed and sowing
    "seed": ("Have the seed by {result}", "sowing is on {sow}; {ahead} ahead leaves time to order"),
    "chill": ("Chill from {result}", "sowing on {sow} − {chill_days} of moist cold"),
    "soak": ("Soak from {result}", "sowing on {sow}; soak {soak_h}, no longer: over-soaked seed rots"),
    "sow": ("Sow {result}", "{odds} sure of {wanted}; {days left} left in the window"),
    "sow_box": ("Sow {result} together in a box", "{odds} sure of {wanted}; {days left} left in the window"),
    "sow_box_late": ("Sow {result} together in a box", "{odds} sure of {wanted}; the window closed {days left} ago"),
    "sow_hopeless": (
        "No count for {wanted}",
        "only {emergence} of this seed will come: order fresh seed, or sow what is left and see; {days left} left in the window",
    ),
    "sow_hopeless_late": (
        "No count for {wanted}",
        "only {emergence} of this seed will come: order fresh seed, or sow what is left; the window closed {days left} ago",
    ),
    "sow_direct": ("Sow in place on {result}", "the chosen day {sow}; {days left} left in the window"),
    "sow_late": ("Sow {result}", "{odds} sure of {wanted}; the window closed {days left} ago"),
    "sow_direct_late": ("Sow in place on {result}", "the chosen day {sow}; the window closed {days left} ago"),
    "buy": ("Have plants by {result}", "they go out on {plant out}"),
    "cells_to_sow": (
        "{result} to sow, {seeds per cell} each",
        "each cell gives a plant with {chance per place}: emergence {emergence}, survival {survival}; enough for"
        " {wanted} in {odds} of cases (dividing alone says {even odds}, about even odds)",
    ),
    "germination": (
        "{result} of them will come",
        "{by age} by age {age} against a life of {life here} (the species' {seed_years} × {storage} for storage), a prior worth"
        " eight seeds, and its tests; four times in five between {low} and {high}",
    ),
    "seed_test": (
        "{came} of {tested} came on {on}: counts as {result}",
        "each counts {counts as}: a warm towel brings more than mix, and the seed has aged since",
    ),
    "test_plan": (
        "Test {result}",
        "its emergence is known to ± {give or take}, ± {sure enough} would do; {needed} are needed for sowing of {had}",
    ),
    "seed_order": (
        "Order {result}",
        "{needed} for the plan − {had}; the first sowing is on {first sowing}, {ahead} ahead leave time",
    ),
    "fit": (
        "{result} fit",
        "{length} by {width} at {spacing}, {pattern}: {rows} of {in a row} and {in every second row}, rows {row distance}"
        " apart, {to the edge} kept to the edge",
    ),
    "household": (
        "{result} a week",
        "{plants} × {gives} over {weeks}; you use {used} a week",
    ),
    "shade": (
        "{result} of sun are left",
        "{sun} under an open sky, less {shaded} in the shadow of {taller}, up to {difference} higher; it wants {wants}",
    ),
    "seeds_to_sow": (
        "{result} to sow",
        "each seed gives a plant with {chance per place}: emergence {emergence}, survival {survival}; enough for"
        " {wanted} in {odds} of cases",
    ),
    # emergence and care
    "emergence_days": ("Half are up after {result}", "rate {rate} at {temperature}"),
    "look": ("First look on {result}", "two thirds of {emergence} after sowing on {sow}, in mix of {temperature}"),
    "up": ("Half up on {result}", "{sow} + {emergence} in mix of {temperature}"),
    "lamp": ("Lamp on from {result}", "day 3 or six tenths of {emergence} after {sow}; this crop: {light}"),
    "lid": ("Mat and lid off on {result}", "when half are up"),
    "thin": ("Thin from {result}", "half up {half up} + {thin_days}, at the first true leaf"),
    "prick": ("Prick out from {result}", "half up {half up} + {thin_days}, when they can be held by a leaf"),
    "pot": ("Pot up from {result}", "half up {half up} + {pot_weeks}; {still to go} until planting out"),
    # hardening and out
    "harden": ("Harden from {result}", "planting out {plant out} − {ladder days}: {ladder} and spare days"),
    "stay_in": ("Stay in", "the forecast is beyond the limit of {limit} for an outing"),
    "ladder": ("Rung {result} of {rungs}", "{outings} had on the ladder of {ladder}, {missed} missed"),
    "at_plant": (
        "{result} at the plant on {night}",
        "forecast {forecast}, your garden {shift}, clear-sky loss {radiation loss} (cloud {cloud}, wind {wind})",
    ),
    "frost_watch": (
        "Chance of harm on {night}: {result}",
        "{at the plant} at the plant, give or take {error}, against its limit; you accept {accepted risk}",
    ),
}

# Reasons short enough for a line of Today, where the general line above is too long.
REASONS: dict[str, str] = {
    "sow": "{odds} sure of {wanted}, {seeds per cell} a cell; {days left} left in the window.",
    "sow_hopeless": "Only {emergence} of this seed will come: no count is enough. Order fresh seed, or sow what is left and see.",
    "sow_hopeless_late": "Only {emergence} of this seed will come: no count is enough, and the window closed {days left} ago.",
    "sow_direct": "Your chosen day; {days left} left in the window.",
    "sow_box": "{odds} sure of {wanted}, in a box, to be pricked out; {days left} left in the window.",
    "sow_box_late": "{odds} sure of {wanted}, in a box, to be pricked out; its window closed {days left} ago.",
    "sow_late": "{odds} sure of {wanted}, {seeds per cell} a cell; its window closed {days left} ago.",
    "sow_direct_late": "Its window closed {days left} ago: fast crops catch up.",
    "seed": "Sowing is on {sow}.",
    "soak": "For sowing on {sow}; no longer, or it rots.",
    "chill": "Moist and cold until sowing on {sow}.",
    "look": "Sown {sow}, in mix of {temperature}: the first may be up.",
    "up": "Half are expected up by {result}, in mix of {temperature}.",
    "lamp": "The first days of light decide how stocky they grow; this crop: {light}.",
    "lid": "When half are up: warm, closed and dark now draws them thin.",
    "thin": "First true leaf: snip to one a cell.",
    "prick": "They can be held by a leaf: into cells of their own.",
    "pot": "{still to go} until planting out: room to grow into.",
    "harden": "Outing {rung} of {rungs}, {shelter}; out for good on {plant out}.",
    "out_on": "Window {window start} to {window end}.",
    "out_waits": "Hardening ends first; window {window start} to {window end}.",
    "out_pinned": "Your chosen day; window {window start} to {window end}.",
    "frost_watch": "{chance} chance that it gets too cold: about {at the plant} at the plant.",
    "buy": "They go out on {plant out}.",
}

STAY_IN = {
    "cold": "Too cold for them: {warmest} at best, they want {limit}.",
    "wind": "Too windy: {wind}; {limit} is the most they stand.",
}

PROBLEMS: dict[str, str] = {
    "no_sowing_day": "None of your sowing days lies in the window; {day} is the best other day.",
    "too_late": "{days} after the sowing window, which closed on {day}. Fast crops catch up; see the harvest dates.",
    "too_early": "{days} before the sowing window, which opens on {day}. Plants held too long stall.",
    "short": "{days} short: it would go out on {day} younger than its shortest raising time.",
    "over_hold": "{days} over its age limit, which is {day}: it would stall or flower in the pot.",
    "after_window": "Goes out {days} after its window, which ends on {day}.",
    "before_window": "Goes out {days} before its window, which opens on {day}: have cover at hand.",
    "frost_first": "The frost you reckon with ({day}) comes {days} before the first harvest.",
}


class _Blank(dict[str, str]):
    def __missing__(self, key: str) -> str:
        return "–"


def words(working: Working, system: str) -> dict[str, str]:
    """Every input and the result of a rule as text in the reader's units."""
    found = _Blank({v.name: say.value(v, system) for v in working.inputs})
    found["result"] = say.value(working.result, system)
    return found


def headline(working: Working, system: str) -> str:
    return RULES[working.rule][0].format_map(words(working, system))


def line(working: Working, system: str) -> str:
    """The arithmetic of one rule in one line; a date that cannot be given says why."""
    verdict = _WARM.get(working.result.name) if working.rule in _WARMTH else None
    if verdict and working.rule == "nights_computed_gate":
        verdict = _COLD_NIGHTS
    verdict = verdict or _VERDICTS.get(working.result.name)
    if verdict and working.rule.endswith(("_gate", "_date", "frost_gate")):
        return verdict.format_map(words(working, system))
    return RULES[working.rule][1].format_map(words(working, system))


_WARMTH = ("soil_computed_gate", "nights_computed_gate", "warm_date")
_WARM = {"never": "too few springs get there by midsummer: no earlier than that, or with a warmer bed or cover"}
_COLD_NIGHTS = "such nights go on all summer here, so nothing waits for them: have cover at hand"
_VERDICTS = {
    "never": "so few seasons reach {threshold} that there is nothing to wait for",
    "beyond": "beyond the record: the outermost day on record is taken",
    "few": "too few seasons with such a frost on record to give a date",
    "unknown": "no date is typed for this, so nothing waits for it",
    "earlier": "earlier than the first date typed, so nothing waits for it",
    "always": "never colder here in spring, so nothing waits for it",
    "few springs": "only {springs} springs on record, ten are needed: nothing waits for it",
    "at least": "warmer than the last date typed: not before it, and perhaps later",
}


def reason(working: Working, system: str) -> str:
    """Why a task is there, short."""
    if working.rule == "stay_in":
        limit = next(v for v in working.inputs if v.name == "limit")
        return STAY_IN[limit.source].format_map(words(working, system))
    return REASONS[working.rule].format_map(words(working, system))


def problem(code: str, days: int, day: date | None) -> str:
    return PROBLEMS[code].format(days=say.plural(days, "day"), day=say.day(day))


def rows(working: Working, system: str) -> list[dict[str, Any]]:
    """The inputs of a rule as rows of label, value and source, for the opened working."""
    return [
        {"label": say.label(v.name), "value": say.value(v, system), "source": say.source(v.source)}
        for v in working.inputs
        if v.number not in (None, "") and _tellable(v)
    ]


def _tellable(value: Value) -> bool:
    return value.name not in ("sowing days",)


# What each kind of task is called, and the verb on its button.
TASKS: dict[str, tuple[str, str]] = {
    "seed": ("plants’ worth of seed to find or order", "Have it"),
    "soak": ("hours to soak", "Soaking"),
    "chill": ("days of moist chill", "Chilling"),
    "sow": ("cells to sow", "Sown"),
    "sow_direct": ("plants to sow in place", "Sown"),
    "buy": ("plants to order", "Ordered"),
    "look": ("cells: first look", "Count"),
    "count": ("up: count again", "Count"),
    "lamp": ("cells: lamp on", "Lamp on"),
    "lid": ("cells: mat and lid off", "Lid off"),
    "thin": ("cells to thin to one", "Thinned"),
    "prick": ("seedlings to prick out", "Pricked out"),
    "pot": ("plants to pot up", "Potted up"),
    "harden": ("plants out", "Carried out"),
    "stay_in": ("plants stay in", "Kept in"),
    "carry_in": ("plants to carry in before dark", "Carried in"),
    "plant": ("plants to set out", "Planted"),
    "cover": ("plants to cover before dark", "Covered"),
}
_STARTS = {"tuber": "tubers to pot up into growth", "slip": "slips to start"}


def task_name(task: Task, starts: str = "seed") -> str:
    """What a task counts: “cells to sow”, “tubers to pot up into growth”."""
    name = TASKS[task.kind][0]
    if task.kind == "sow" and task.count is None:
        return "seed that will hardly come"
    if task.kind == "sow":
        if task.unit == "seeds":
            return "seeds to sow together"
        name = _STARTS.get(starts, name)
    if task.unit == "blocks":
        return name.replace("cells", "blocks")
    return name.replace("cells:", "box:") if task.count is None else name


INSTRUCTIONS: dict[str, str] = {
    "seed": "Look in the seed box first. Write crop, variety and year on anything new.",
    "soak": "Room-warm water, just covering the seed; set a timer and drain when it ends.",
    "chill": "Seed in moist sand or paper in a bag in the fridge, labelled with crop and date; not with food.",
    "sow": "Moist mix, firmed lightly. Label every tray before the seed goes in: crop, variety, day.",
    "sow_direct": "Rake fine, water the row, sow, cover, firm, label both ends.",
    "buy": "Choose short, unflowering plants with white roots.",
    "look": "Lift the lid, look across the surface against the light. Count what has broken the surface.",
    "count": "Count what is up so far, not only the new ones.",
    "lamp": "Lamp a hand’s breadth over the lid; check that the timer is on.",
    "lid": "Vents, then ajar, then off over a day. From mist to watering from below.",
    "thin": "Keep the strongest; snip the others at the surface with scissors.",
    "prick": "Lift with a stick under the roots, hold by a leaf, never the stem. The biggest first; the rest can wait a few days.",
    "pot": "Hold by a leaf, never the stem. Water from below afterwards, out of sun for a day.",
    "harden": "Water lightly first. Set a timer for carrying in.",
    "stay_in": "Nothing to carry. A fan or an open window indoors helps meanwhile.",
    "carry_in": "Before dusk. Check the labels come in with the trays.",
    "plant": "In the evening or under cloud. Water the tray first, and each plant once it is in.",
    "cover": "Fleece before dusk while there is still warmth in the ground; keep it off the leaves, weigh the edges.",
}
CAUTIONS: dict[str, str] = {
    "sow": "Dry mix, perlite and vermiculite: wet them first, mask, wash hands. Treated seed: gloves, never eat it.",
    "lamp": "Electricity near water: residual-current protection, drip loops. Do not stare into lamps.",
    "lid": "Unplug a heat mat before moving wet trays.",
    "prick": "Bagged mix can carry Legionella: open it away from the face, wet it, wash hands.",
    "pot": "Bagged mix can carry Legionella: open it away from the face, wash hands. Trays are heavy: lift low.",
    "carry_in": "Loaded trays on dark steps: light the way, one at a time.",
    "hot_pepper": "Very hot peppers: gloves, and nothing near the eyes.",
    "poisonous_seed": "The seed is poisonous: keep it from children and animals, wash hands.",
    "poisonous_plant": "All parts are poisonous: gloves, wash hands, not where children or animals graze.",
}
PLACES = {
    "door": ("At the door", "out and in again"),
    "bench": ("At the bench", ""),
    "garden": ("In the garden", ""),
    "table": ("At the table", "when it rains"),
}
