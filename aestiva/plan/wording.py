"""How the rules and steps of this stage are said: counting back and forward."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords
from growing.chain.rules import KINDS

_BACK = "{finish} ({finish is}) − harvest {harvest} − growing {growing} − {shortening light} for shortening light = {counted back}"
_BOUND = "; never before its spring gates, {spring gates}"
_WINTER = (
    "soil stays under {needs} ({soil cold from}), so that it is rooted and not grown; {kill_c} kills it, as in {killed in} of "
    "{winters} winters"
)

RULES = {
    "plan.out_from": Said(
        "Plant out from {result}", "last frost {last frost}, offset {out_min} → {by offset}; set by {set by}"
    ),
    "plan.out_to": Said(
        "Plant out until {result}",
        "last frost {last frost}, offset {out_max} → {by offset}; it opens {opens} and is {length} long; set by {set by}",
    ),
    "plan.raised_bigger": Said("Raised up to {result}", "bigger plants: {book} {times} as long, in a bigger pot"),
    "plan.raised_there": Said(
        "Raised up to {result} in {place}",
        "{mean} on average there: up in {emergence there} instead of {emergence in the book}, and growth takes {growth takes} "
        "as long; the book says {book}. ± 15 %, slower where light is short",
    ),
    "plan.comes_up_there": Said(
        "Raised up to {result}, coming up on {place}",
        "up in {emergence there} there instead of {emergence in the book}; the book says {book}",
    ),
    "plan.carries": Said(
        "Carries a plant until {result}", "sown {sow}; {mix} of mix, of which it wants {cell_ml} for {raise_max}"
    ),
    "plan.path_carries": Said(
        "Held for {result}", "the last of its containers carries it for {carries}; without that {hold}"
    ),
    "plan.winter_box": Said(
        "In the box for {result}",
        "sown from {opens} to {closes}, by last frost {last frost}, planted out with the others",
    ),
    "plan.winter_from": Said(
        "Sow from {result}", "a box outdoors is sown from {opens} to {closes}, by last frost {last frost}"
    ),
    "plan.winter_to": Said(
        "Sow until {result}", "a box outdoors is sown from {opens} to {closes}, by last frost {last frost}"
    ),
    "plan.out_bed": Said(
        "Plant out from {result}", "its ground is free from {bed free}; without that the window is {opens} to {closes}"
    ),
    "plan.autumn_from": Said("Plant out from {result}", _BACK),
    "plan.autumn_to": Said("Plant out until {result}", _BACK),
    "plan.autumn_from_spring": Said("Plant out from {result}", _BACK + _BOUND),
    "plan.autumn_to_spring": Said("Plant out until {result}", _BACK + _BOUND),
    "plan.overwinter_from": Said("Plant out from {result}", "six weeks before " + _WINTER),
    "plan.overwinter_to": Said("Plant out until {result}", "four weeks before " + _WINTER),
    "plan.useful": Said(
        "Worth planting out until {result}",
        "the year ends for it on {ends}, no sooner in more than {risk} of autumns; − {picked} of picking − {growing} of growing "
        "− {shortening light} for short light",
    ),
    "plan.useful_warmth": Said(
        "Worth planting out until {result}",
        "later than this it fails in more than {risk} of {years} years: {growing} at standard warmth, then {picked} of picking, "
        "counted through each year’s own warmth to its own end; two weeks more after the equinox",
    ),
    "plan.sow_from": Said("Sow from {result}", "{plant out} − {raising}"),
    "plan.sow_to": Said("Sow until {result}", "{plant out} − {raising}"),
    "plan.sowing_day": Said(
        "Sow on {result}", "ideal {ideal} = {middle of planting out} − {middle raising}; your nearest sowing day"
    ),
    "plan.no_sowing_day": Said(
        "Sow on {result}",
        "none of your sowing days lies between {window start} and {window end}: this is the best other day",
    ),
    "plan.sow_pinned": Said("Sow on {result}", "the day you chose; the window is {window start} to {window end}"),
    "plan.sow_too_late": Said("Sow on {result}", "the window closed on {window end}; this is the first day left"),
    "plan.out_on": Said(
        "Plant out on {result}",
        "sown {sow} + {middle raising}, kept between {window start} and {window end} and never under "
        "{shortest raising}",
        short="Window {window start} to {window end}.",
    ),
    "plan.out_home": Said(
        "Plant out on {result}",
        "the day nearest to sown {sow} + {middle raising} on which you are there; the window is {window start} to {window end}",
        short="You are away on the day itself; window {window start} to {window end}.",
    ),
    "plan.out_pinned": Said(
        "Plant out on {result}",
        "the day you chose; the window is {window start} to {window end}",
        short="Your chosen day; window {window start} to {window end}.",
    ),
    "plan.out_waits": Said(
        "Plant out on {result}",
        "the first day on which it can be hardened; the window is {window start} to {window end}",
        short="Hardening ends first; window {window start} to {window end}.",
    ),
    "plan.out_small": Said(
        "Plant out on {result}",
        "its plants are behind: about then they have the leaves to go out with; the window is {window start} to {window end}",
        short="They are behind, and too small before; window {window start} to {window end}.",
    ),
    "plan.out_held": Said(
        "Plant out on {result}",
        "the first day on which nothing is likely to hold it: now it is {held by}; the window is {window start} to {window end}",
        short="Held by {held by}; window {window start} to {window end}.",
    ),
    "plan.out_due": Said(
        "Plant out on {result}",
        "its day has passed, and nothing holds it today; the window is {window start} to {window end}",
        short="Its day has passed; window {window start} to {window end}.",
    ),
    "plan.out_happened": Said(
        "Planted out on {result}", "as it happened; the window was {window start} to {window end}"
    ),
    "plan.packet_raising": Said(
        "Raising time from the packet: {raise min} to {raise max}",
        "{weeks min} to {weeks max} {base} + its own planting offset {planting offset}; the same is {same "
        "before last frost} before last frost",
    ),
    **{
        f"plan.first_{kind}{place}{warmth}{known}": Said(
            f"First {kind} from {{result}}",
            f"{{plant out}} + {{days from}} to {{days to}}{less}{added}{{shortening light}} for short light; {frost}",
        )
        for kind in KINDS
        for place, less in (
            ("", ", {age} for their age in the pot, "),
            ("_direct", ", raising time included and {sown in place} less, for it is not moved, "),
        )
        for warmth, added in (
            ("", ""),
            ("_warmth", "{warmth} for the warmth it has here, "),
            ("_never", "by the calendar: by the warmth it has here not in half of the years; "),
        )
        for known, frost in (
            ("", "frost that ends it comes before in {frost before} of years; enough of it in {useful in} of years"),
            ("_unknown", "how often frost comes before it is not known: type the first autumn frost"),
            ("_years", "it lives through winter first"),
        )
    },
    **{
        f"plan.overwintered_{kind}": Said(
            f"First {kind} from {{result}}", "what is sown in the spring after it begins on {spring's}; {sooner} sooner"
        )
        for kind in KINDS
    },
    "plan.cost_raised": Said(
        "Raised, a plant costs {result}",
        "{seeds a plant} at {a seed}, {mix a plant} of mix at {a litre}, {current a plant} for mat and lamp at {a kWh}",
    ),
    "plan.cost_direct": Said("Sown in place, a plant costs {result}", "{seeds a plant} at {a seed} each"),
    "plan.cost_bought": Said("Bought, a plant costs {result}", "{a plant}, as you typed it"),
    "plan.last_harvest": Said("Harvest until {result}", "{middle of first} + {yield_days}; set by {set by}"),
    "plan.last_bloom": Said("Bloom until {result}", "{middle of first} + {yield_days}; set by {set by}"),
}

PROBLEMS = {
    "hopeless": "It ripens here in {share}.",
    "never_ripe": "It hardly ripens here: counted in warmth, in {share}.",
    "never_soil": "Not in open ground here: the soil is not warm enough for it by midsummer. A tunnel, a cover, or another crop.",
    "never_nights": "Not in open ground here: nights stay too cold for it all summer. A tunnel, a cover, or another crop.",
    "never_chill": "Not in open ground here: single nights that chill it come all summer. A tunnel, a cover, or another crop.",
    "heat": "Its harvest falls into heat that ends it, until {day}. Earlier, or again for autumn.",
    "hot_nights": "Its first fruits fall into nights too warm to set, until {day}.",
    "no_sowing_day": "None of your sowing days lies in the window; {day} is the best other day.",
    "away": "You are away for the whole sowing window; {day} is the first day back, {days} after it.",
    "away_sow": "Nobody is there to sow it on {day}, the day you chose.",
    "away_out": "Nobody is there to plant it out on {day}, and no other day of its window is left.",
    "bed_late": "Its ground is free only from {day}, {days} after its window: other ground, or a faster crop before it.",
    "too_late": "{days} too late: what is begun after {day} gives nothing worth its place in this year.",
    "late_unknown": "{days} after its spring window, which closed on {day}. How late it may still be is not known: type the first autumn frost.",
    "later_fast": "{days} after its spring window: it catches up, and is worth sowing until {day}.",
    "later_slow": "{days} after its spring window: it does not catch up and stays smaller; worth sowing until {day}.",
    "later_bulbs": "{days} after its window: it bulbs when the day is long enough, whatever its size, so bulbs stay small.",
    "later_rosettes": "{days} after its window: it meets heat before its fourth pair of leaves and may sit still as a rosette.",
    "later_years": "{days} after its window, which closed on {day}: it goes into winter smaller, and gives in another year.",
    "too_early": "{days} before the sowing window, which opens on {day}. Plants held too long stall.",
    "short": "{days} short: it would go out on {day} younger than its shortest raising time.",
    "over_hold": "{days} over its age limit, which is {day}: it would stall or flower in the pot.",
    "after_window": "Goes out {days} after its window, which ends on {day}.",
    "before_window": "Goes out {days} before its window, which opens on {day}: have cover at hand.",
    "frost_first": "The frost you reckon with ({day}) comes {days} before the first harvest.",
    "autumn_unknown": "No first autumn frost is known here: when this must be over is a guess. Type it under Place.",
    "no_autumn": "Too short an autumn: it would have to go out {days} before its spring gates open on {day}.",
    "winter_kills": "The winter kills it here in {share}: under cover, or sown in spring.",
    "winter_tender": "A box outdoors freezes through, and it bears no frost: raise it indoors.",
    "winter_unknown": "How cold the winter gets is not known here: it needs a station’s daily weather. The days are a guess.",
}

WORDS = StageWords(RULES, problems=PROBLEMS)
