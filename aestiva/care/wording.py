"""How the rules and steps of this stage are said: thinning, pricking out, potting up."""

from __future__ import annotations

from aestiva.frame.say import Reader
from aestiva.frame.wording import Said, StageWords, StepWords
from growing.crops import Crop
from growing.steps import Task

_WATER = (
    "a cell holds {holds} that can be used, a day takes {a day takes} of it ({warmth}, {light}; its own thirst {own thirst}); {left} left now, "
    "looked at when {look at} are left"
)
_BY = "they had {seen} on {on}, {now} by now, one in {a leaf takes}"
_POTTING = (
    "signs: {signs}; roots: {roots}; its container carries it until {carries until}; first look {first look}; "
    "{until planting out} until planting out"
)
_CAN = "{amount} of {product} at {density}, {nitrogen} of it nitrogen, in {litres}: {result}"
_SPOON = "{in a litre} in a litre where {low} to {high} are wanted; {right} are right for {litres}"
RULES = {
    "care.water_unseen": Said("Look at it: nobody has", "a cell holds {holds}, a day takes about {a day takes} of it"),
    "care.water_due": Said("Look at it: about {left} left", _WATER),
    "care.water_wait": Said("Next look {result}", _WATER),
    "care.feed": Said("{result} of nitrogen", _CAN),
    "care.feed_hungry": Said("Weak: {in a litre} of nitrogen; {right} are right for {litres}", _SPOON),
    "care.feed_right": Said("Right: {in a litre} of nitrogen in {litres}", _SPOON),
    "care.feed_strong": Said("Too strong: {in a litre} of nitrogen; take {right} for {litres}", _SPOON),
    "care.feed_never": Said("Not fed while it is raised", "{name} has what it needs in its mix"),
    "care.feed_on": Said(
        "Fed next {result}",
        "{leaves} by now, fed from {from}; last fed {last fed}, every {every}; potted {potted}; granules {granules}",
    ),
    "care.flush": Said(
        "Wash the salts out", "{feeds} feeds since {since}, {fed} of its own strength, the strongest {strongest}"
    ),
    "care.no_flush": Said(
        "No salts to wash out", "{feeds} feeds since {since}, {fed} of its own strength, the strongest {strongest}"
    ),
    "care.heat": Said(
        "Too hot for it now",
        "{name}, {leaves}: {hot days} over {limit} and {warm nights} over {night limit} of the last {days}",
        short="{hot days} over {limit}: it minds heat until it is bigger.",
    ),
    "care.waits_thin": Said(
        "A day’s delay: {result}",
        "about {leaves}: {share a day} a day of {plants}, crowded",
    ),
    "care.waits_move": Said(
        "A day’s delay: {result}",
        "nothing until the age limit of what they are in, {age limit}; {over it} over it, {share a day} of {plants} a day",
    ),
    "care.thin": Said(
        "Thin from {result}",
        "half up {half up} + {thin_days}, at the first true leaf",
        short="First true leaf: snip to one a cell.",
    ),
    "care.thin_seen": Said(
        "Thin from {result}", f"at {{thin_leaves}}; {_BY}", short="{seen} on {on}: snip to one a cell."
    ),
    "care.prick_seen": Said(
        "Prick out from {result}",
        f"at {{prick_leaves}}, when they can be held by a leaf; {_BY}",
        short="{seen} on {on}: they can be held by a leaf.",
    ),
    "care.pot_seen": Said(
        "Pot up from {result}", f"at {{pot_leaves}}; {_BY}", short="{seen} on {on}: room to grow into."
    ),
    "care.pot_path_seen": Said(
        "Pot up on {result}",
        f"at {{pot_leaves}}, or when {{container}} carries it no further ({{carries until}}); {_BY}",
        short="{seen} on {on}; its container carries it until {carries until}.",
    ),
    "care.pinch": Said(
        "Pinch from {result}",
        "at {pinch_leaves}, one in {a leaf takes} from half up {half up}",
        short="Look first: at {pinch_leaves} the tip goes.",
    ),
    "care.pinch_seen": Said(
        "Pinch from {result}", f"at {{pinch_leaves}}; {_BY}", short="{seen} on {on}: out with the tip."
    ),
    "care.trouble": Said(
        "Most likely: {result}",
        "{name}: {signs}; the log shows {log}; answers: {answers}; {odds} that it is this, next {next}",
    ),
    "care.potting_move": Said(
        "Move it on now", f"{_POTTING}", short="{signs}; {until planting out} until planting out."
    ),
    "care.potting_wait": Said("Look again {result}", f"{_POTTING}", short="No clear sign yet: look at the roots."),
    "care.potting_hold": Said(
        "Leave it where it is until it goes out", f"{_POTTING}", short="{until planting out} left: it stays."
    ),
    "care.surplus": Said(
        "{result} over",
        "{there} there, {wanted} wanted of which {survival} live to planting out, and {spare} spare: {need} needed",
    ),
    "care.no_surplus": Said(
        "None over",
        "{there} there, {wanted} wanted of which {survival} live to planting out, and {spare} spare: {need} needed",
    ),
    "care.leggy_bury": Said(
        "Bury the stem when it is potted", "{name} stands {bury}: roots come from the stem that is buried"
    ),
    "care.leggy_again": Said(
        "Start again by {result}",
        "it does not recover from the stem ({bury}); what is sown by {sow again by} is ready about {plant out}",
    ),
    "care.leggy_keep": Said(
        "Keep the best, with more light",
        "too late to start again ({sow again by}), and not to be buried ({bury}): stake it, set it out {plant out}",
    ),
    "care.fill": Said(
        "Fill up {result}",
        "{since} + {wait}: mix up to below the leaves, roots come from the stem",
        short="Potted or filled {since}.",
    ),
    "care.apart": Said(
        "Not before {result}",
        "due {was due}, but {apart} after {after}: two setbacks at once are one too many",
        short="{apart} after {after}: two setbacks at once are one too many.",
    ),
    "care.prick": Said(
        "Prick out from {result}",
        "half up {half up} + {thin_days}, when they can be held by a leaf",
        short="They can be held by a leaf: into cells of their own.",
    ),
    "care.pot_path": Said(
        "Pot up on {result}",
        "{container} carries it until {carries until}; moved on at three quarters of that age",
        short="Its container carries it until {carries until}.",
    ),
    "care.pot": Said(
        "Pot up from {result}",
        "half up {half up} + {pot_weeks}; {still to go} until planting out",
        short="{still to go} until planting out: room to grow into.",
    ),
    "care.trim": Said(
        "Trim from {result}",
        "half up {since} + {wait}; tops longer than {from} fall over and mat: back to {to}",
        short="Tops over {from} fall over: back to {to}, as often as they get there.",
    ),
    "care.trim_seen": Said(
        "Trim from {result}",
        "{high} high on {on}; tops longer than {from} fall over and mat: back to {to}",
        short="{high} high on {on}; over {from} they fall over: back to {to}.",
    ),
    "care.trim_again": Said(
        "Trim again from {result}",
        "trimmed {since} + {wait}; tops longer than {from} fall over and mat: back to {to}",
        short="Trimmed {since}; over {from} again? Back to {to}.",
    ),
}

_DEPTH = {
    "to the seed leaves": "set it down to its seed leaves",
    "deep": "drop it deep, leaves free",
    "progressively": "bury part of the stem, leaves above, and top up as it grows",
    "never": "no deeper than it stood: its crown or stem rots",
}


def potted(task: Task, crop: Crop, reader: Reader) -> str:
    """“Labels first. Plug slightly dry, pot moist; set it down to its seed leaves. …”"""
    return f"Labels first. Plug slightly dry, pot moist; {_DEPTH[crop.word('bury')]}. Hold by a leaf; water from below."


def pricked(task: Task, crop: Crop, reader: Reader) -> str:
    """“Labels first. Water the box an hour before; lift under the roots, hold by a leaf; …”"""
    return (
        "Labels first. Water the box an hour before; lift under the roots, hold by a leaf, never the stem; "
        f"{_DEPTH[crop.word('bury')]}."
    )


STEPS = {
    "thin": StepWords(
        "cells to thin to one",
        "Thinned",
        "Keep the strongest; snip the others at the surface with scissors.",
        act="thin",
    ),
    "prick": StepWords(
        "seedlings to prick out",
        "Pricked out",
        "Lift with a stick under the roots, hold by a leaf, never the stem. The biggest first; the rest can "
        "wait a few days.",
        caution="Bagged mix can carry Legionella: open it away from the face, wet it, wash hands.",
        touches="pot",
        how=pricked,
        act="prick out",
    ),
    "pot": StepWords(
        "plants to pot up",
        "Potted up",
        "Hold by a leaf, never the stem. Water from below afterwards, out of sun for a day.",
        caution="Bagged mix can carry Legionella: open it away from the face, wash hands. Trays are heavy: lift low.",
        touches="pot",
        how=potted,
        act="pot up",
    ),
    "fill": StepWords(
        "pots to fill up",
        "Filled up",
        "Mix around the stem, up to a finger under the lowest leaves; always leaves above. Water gently, once.",
        caution="Bagged mix can carry Legionella: open it away from the face, wash hands.",
        act="fill up",
    ),
    "pinch": StepWords(
        "plants to pinch",
        "Pinched",
        "Out with the tip above the second or third pair of leaves, by nail or clean scissors; side shoots follow. Those with fewer leaves wait.",
        act="pinch",
    ),
    "cool": StepWords(
        "plants to keep cooler",
        "Cooler now",
        "Heat now is not seen for weeks: flat rosettes, early stalks. Off the mat, lamp higher or hours at night, shade, air.",
        act="keep cooler",
    ),
    "trim": StepWords(
        "plants to trim",
        "Trimmed",
        "Measure first: where they are shorter, put it off. Clean scissors, straight across; dry the tops or eat them.",
        act="trim",
    ),
}

WORDS = StageWords(
    RULES,
    STEPS,
    course={"thin": "Thin", "prick": "Prick out", "pot": "Pot up", "pot_again": "Pot up again", "pinch": "Pinch"},
    events={
        "thinned": "thinned",
        "pricked": "pricked out",
        "potted": "potted up",
        "died": "died",
        "trimmed": "tops trimmed",
        "pinched": "pinched",
        "filled": "filled up with mix",
        "roots_none": "no roots seen",
        "roots_holes": "roots at the holes",
        "roots_circling": "roots circling",
        "crowded": "leaves over each other",
        "given": "given away",
        "fed": "fed",
        "granules": "granules given",
        "flushed": "salts washed out",
    },
)
