"""What steps can a batch go through, in which order, and what does each do to the plants?"""

from __future__ import annotations

from typing import NamedTuple

POTS = ("pot", "pot_again")


class StepKind(NamedTuple):
    """A kind of step: the rule that gives its expected day; is it work on the plants themselves.

    strains: what it is called while it strains them; "" where it does not.  event: what is written when it is done, and done:
    what they are then, where a strain is written down by itself.
    """

    kind: str
    rule: str = ""
    on_plants: bool = False
    strains: str = ""
    event: str = ""
    done: str = ""


KINDS = (  # in the order of work: of two that are due on one day the first goes first
    StepKind("sow", on_plants=True),
    StepKind("vents", "emergence.vents"),
    StepKind("look", "emergence.look"),
    StepKind("lamp", "emergence.lamp"),
    StepKind("up", "emergence.up"),
    StepKind("paper", "emergence.paper"),
    StepKind("ajar", "emergence.ajar"),
    StepKind("lid", "emergence.lid"),
    StepKind("mat"),
    StepKind("thin", "care.thin", on_plants=True),
    StepKind("prick", "care.prick", True, "pricking out", "pricked", "pricked out"),
    StepKind("pot", "care.pot", True, "potting up", "potted", "potted up"),
    StepKind("pot_again", "care.pot_path", True, "potting up", "potted", "potted up"),
    StepKind("pinch", "care.pinch", True, "pinching", "pinched", "pinched"),
    StepKind("harden", "hardening.from", True, "their first hours outdoors"),
    StepKind("out", on_plants=True),
)
ORDER = tuple(one.kind for one in KINDS)
RULES = {one.kind: one.rule for one in KINDS if one.rule}
ON_PLANTS = tuple(one.kind for one in KINDS if one.on_plants)
AFTER_SOWING = tuple(kind for kind in ON_PLANTS if kind != "sow")
STRAINS = tuple(one.kind for one in KINDS if one.strains)
BY_LEAVES = {"thin": "thin_leaves", "prick": "prick_leaves", "pot": "pot_leaves", "pinch": "pinch_leaves"}
