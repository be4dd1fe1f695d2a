"""How the rules and steps of this stage are said: counting back and forward."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords

RULES = {
    "plan.out_from": Said(
        "Plant out from {result}", "last frost {last frost}, offset {out_min} → {by offset}; set by {set by}"
    ),
    "plan.out_to": Said(
        "Plant out until {result}", "last frost {last frost}, offset {out_max} → {by offset}; set by {set by}"
    ),
    "plan.autumn_from": Said(
        "Plant out from {result}",
        "{finish} − harvest {harvest} − growing {mature_max} (less {sown in place} if sown in place) − "
        "{shortening light} for shortening light",
    ),
    "plan.autumn_to": Said(
        "Plant out until {result}",
        "{finish} − harvest {harvest} − growing {mature_min} (less {sown in place} if sown in place) − "
        "{shortening light} for shortening light",
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
    "plan.out_happened": Said(
        "Planted out on {result}", "as it happened; the window was {window start} to {window end}"
    ),
    "plan.packet_raising": Said(
        "Raising time from the packet: {raise min} to {raise max}",
        "{weeks min} to {weeks max} {base} + its own planting offset {planting offset}; the same is {same "
        "before last frost} before last frost",
    ),
    **{
        f"plan.first_{kind}{place}{term}{known}": Said(
            f"First {kind} from {{result}}",
            f"{{plant out}} + {{mature_min}} to {{mature_max}}{less}{light}; {frost}",
        )
        for kind in ("harvest", "bloom")
        for place, less in (("", ""), ("_direct", " − {sown in place}, for it is not moved"))
        for term, light in (("", ""), ("_autumn", " + {shortening light} for shortening light"))
        for known, frost in (
            ("", "a damaging frost comes before it in {frost before} of years"),
            ("_unknown", "how often frost comes before it is not known: type the first autumn frost"),
        )
    },
    "plan.last_harvest": Said("Harvest until {result}", "{middle of first} + {yield_days}; set by {set by}"),
    "plan.last_bloom": Said("Bloom until {result}", "{middle of first} + {yield_days}; set by {set by}"),
}

PROBLEMS = {
    "no_sowing_day": "None of your sowing days lies in the window; {day} is the best other day.",
    "too_late": "{days} after the sowing window, which closed on {day}. Fast crops catch up; see the harvest dates.",
    "too_early": "{days} before the sowing window, which opens on {day}. Plants held too long stall.",
    "short": "{days} short: it would go out on {day} younger than its shortest raising time.",
    "over_hold": "{days} over its age limit, which is {day}: it would stall or flower in the pot.",
    "after_window": "Goes out {days} after its window, which ends on {day}.",
    "before_window": "Goes out {days} before its window, which opens on {day}: have cover at hand.",
    "frost_first": "The frost you reckon with ({day}) comes {days} before the first harvest.",
}

WORDS = StageWords(RULES, problems=PROBLEMS)
