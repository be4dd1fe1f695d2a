"""How the rules and steps of this stage are said: frost, soil, nights."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords

_BEYOND = {
    "never": "so few seasons reach {threshold} that there is nothing to wait for",
    "beyond": "beyond the record: the outermost day on record is taken",
    "few": "too few seasons with such a frost on record for a chance so small: the outermost day on record stands in",
}
_TYPED = {
    "unknown": "no date is typed for this, so nothing waits for it",
    "earlier": "earlier than the first date typed, so nothing waits for it",
    "at least": "warmer than the last date typed: not before it, and perhaps later",
}
_TOO_FEW = (
    "too few springs get there by midsummer: not in open ground here, but with a warmer bed, in a tunnel or under cover"
)
_COMPUTED = {
    "always": "never colder here in spring, so nothing waits for it",
    "few springs": "only {springs} springs on record, ten are needed: nothing waits for it",
}
_SOIL = _COMPUTED | {"never": _TOO_FEW}
_NIGHTS = _COMPUTED | {
    "never": "not by eight weeks after midsummer: not in open ground here, but in a tunnel or under cover"
}

RULES = {
    "place.last_frost": Said(
        "Last frost: {result}",
        "the day after which {threshold} or less still comes in {risk} of springs; every offset counts from it",
    ),
    "place.last_frost_none": Said(
        "Offsets count from {result}",
        "frost comes in only {frost seasons} of seasons here, so there is no middle date: the base is what it was when frost still "
        "came in half of them; soil, nights and summer heat decide",
    ),
    "place.last_frost_date": Said(
        "Frost is over by {result}", "{threshold} or less comes later in {risk} of springs", verdicts=_BEYOND
    ),
    "place.first_frost_date": Said(
        "No frost before {result}", "{threshold} or less comes earlier in {risk} of autumns", verdicts=_BEYOND
    ),
    "place.frost_gate": Said(
        "Frost line of this crop: {result}",
        "{damages at} at the plant damages it: {threshold} at a weather screen, cloud unknown. After this day it still comes in "
        "{risk} of springs: the risk accepted",
        verdicts=_BEYOND,
    ),
    "place.frost_spared": Said(
        "Frost line of this crop: {result}", "{frost line} − {in the ground}: until it shows, frost does not touch it"
    ),
    "place.soil_gate": Said(
        "Morning soil of {needs}: {result}", "read between the typed dates of soil warmth", verdicts=_TYPED
    ),
    "place.nights_gate": Said(
        "Nights of {needs}: {result}", "read between the typed dates of warm nights", verdicts=_TYPED
    ),
    "place.soil_computed_gate": Said(
        "Morning soil of {needs}: {result}",
        "in {share} of {springs} springs no run of three colder mornings comes after it; soil follows the "
        "day's mean air by {smoothing}, {bed} add {bed adds}, mornings {morning}, your probe {calibration}",
        verdicts=_SOIL,
    ),
    "place.nights_computed_gate": Said(
        "Nights of {needs}: {result}",
        "three weeks running, the mean of the fourteen nights ahead is so warm in {share} of {springs} springs; warm days forgive "
        "cool nights a little; your garden {shift}",
        verdicts=_NIGHTS,
    ),
    "place.chill_gate": Said(
        "No night under {needs}: {result}",
        "single cold nights are not typed, so nothing waits for them",
        verdicts=_TYPED,
    ),
    "place.chill_computed_gate": Said(
        "No night under {needs}: {result}",
        "three weeks running, a colder night in the week ahead comes in under {chance} of {springs} springs, or hardly more often "
        "than in the best of summer ({lowest}); your garden {shift}",
        verdicts=_NIGHTS,
    ),
    "place.warm_date": Said(
        "Warm enough by {result}", "{threshold} for good in {risk} of springs", verdicts=_BEYOND | {"never": _TOO_FEW}
    ),
    "place.soil_calibration": Said(
        "Your probe adds {result} to the model",
        "median difference {median difference} of {readings} readings, taken with a weight of {weight} (full "
        "from five)",
    ),
    "place.sureness": Said(
        "These years know the date to ± {result}",
        "{seasons} seasons drawn again a thousand times: four times in five the date lies between {low} and {high}",
    ),
    "place.trend": Said(
        "Over these years the frost moves by {result} a decade",
        "median of all slopes between two of {seasons} seasons, {change over the record} over the record; by "
        "accident so much order comes with a chance of {chance}",
    ),
    "place.garden_shift": Said(
        "Your garden against the station: {result}",
        "median difference {median difference} of {nights} nights, {clear nights} of them clear and counted "
        "twice; taken with a weight of {weight} (full from fourteen), give or take {error}",
    ),
    "place.growing_season": Said(
        "{result} between the frosts in half of the years",
        "from the last frost of spring to the first of autumn at {threshold}, year by year: {years} years, "
        "the shortest {shortest}, nine in ten at least {sure}",
    ),
    "place.onion_type": Said(
        "Bulbs from {result}", "it needs days of {needs from} to {needs to}; the longest here has {longest day}"
    ),
    "place.at_plant": Said(
        "{result} at the plant on {night}",
        "forecast {forecast}, your garden {shift}, clear-sky loss {radiation loss} (cloud {cloud}, wind {wind}), shelter {shelter}",
    ),
}

WORDS = StageWords(RULES)
