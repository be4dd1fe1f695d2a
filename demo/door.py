"""Who is at home, what shelters the door, and which covers lie in the shed, on the scenario's day."""

from __future__ import annotations

from typing import Any

from aestiva.accounts.models import User
from aestiva.gardens import journal
from aestiva.gardens.models import Garden, Member
from aestiva.plantingout.models import CoverAtHand


def at_the_door(garden: Garden, user: User, data: dict[str, Any]) -> None:
    """She said when she is at home; a hedge shelters the yard; a length of fleece and some cloches are there."""
    said = data.get("door")
    if said is None:
        return
    member = Member.objects.get(garden=garden, user=user)
    with journal.change(garden, user, "Said who is at home when") as write:
        member.at_home = [day or None for day in said["at_home"]]
        write.save(member)
    with journal.change(garden, user, "Said what shelters the door") as write:
        garden.shelter = said["shelter"]
        write.save(garden)
    with journal.change(garden, user, "Covers at hand") as write:
        for cover in said["covers"]:
            write.save(CoverAtHand(garden=garden, **cover))
