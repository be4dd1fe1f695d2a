"""A small garden for tests: typed frost dates, one day in April, a few people."""

from __future__ import annotations

import re
from copy import deepcopy
from datetime import date
from http.cookies import SimpleCookie
from typing import Any

from django.core.cache import cache
from django.test import Client, TestCase

from aestiva.accounts.models import User
from aestiva.course.state import SeasonState, Todo, load
from aestiva.gardens.models import Garden, Member
from aestiva.place.dating import dating_of
from aestiva.place.models import Frost
from aestiva.plan import actions
from aestiva.season.models import Batch, Planting, Spot

TODAY = date(2026, 4, 12)
ONE_USE = re.compile(r'(name="(?:key|csrfmiddlewaretoken)" value="|"X-CSRFToken": ")[^"]*')


def user(name: str) -> User:
    return User.objects.create_user(f"{name}@garden.example", name.title(), "a long pass phrase")


def client_for(who: User) -> Client:
    """A browser in which this person is logged in."""
    client = Client()
    client.force_login(who, backend="django.contrib.auth.backends.ModelBackend")
    return client


def garden(owner: User, **more: Any) -> Garden:
    values = {
        "name": "Test Row",
        "latitude": 52.0,
        "year": 2026,
        "simulated_on": TODAY,
        "sowing_days": "0,1,2,3,4,5,6",
    } | more
    made = Garden.objects.create(**values)
    Member.objects.create(garden=made, user=owner, role="owner")
    Frost.objects.create(
        garden=made,
        last_on=date(2026, 5, 9),
        last_meaning="average",
        first_on=date(2026, 10, 4),
        first_meaning="average",
    )
    return made


def plant(where: Garden, who: User, crop: str = "tomato", wanted: int = 10, **more: Any) -> Planting:
    """A planting kept as the add page keeps it; two seeds a cell, thinned, unless it is told otherwise."""
    sow_on = more.pop("sow_on", None)
    more = {"per_cell": 2, "surplus": "thin", **more}
    planting = Planting(crop_key=crop, wanted=wanted, **more)
    dating = dating_of(where)
    resolved, dates = actions.propose(planting, dating, where.simulated_on or TODAY, sow_on)
    return actions.keep(where, who, planting, resolved, dates)


def shown(answer: Any) -> str:
    """A page without its keys of one use, which are another chance text each time."""
    return ONE_USE.sub(r"\1", answer.content.decode())


class GardenCase(TestCase):
    """One garden with an owner logged in; `self.post` sends what a page would.

    What `lay_out` makes is made once for all tests of a class: each begins with copies of it, and what it writes is taken back.
    """

    garden_values: dict[str, Any] = {}
    cookies: SimpleCookie

    @classmethod
    def setUpTestData(cls) -> None:
        cache.clear()
        maker = cls("lay_out")
        plain = set(vars(maker))
        maker.lay_out()
        for name, value in vars(maker).items():
            if name not in plain and name != "client":
                setattr(cls, name, value)
        cls.cookies = maker.client.cookies

    def setUp(self) -> None:
        cache.clear()
        self.client = Client()
        self.client.cookies = deepcopy(self.cookies)

    def lay_out(self) -> None:
        self.owner = user("wren")
        self.garden = garden(self.owner, **self.garden_values)
        self.bed = Spot.objects.create(garden=self.garden, kind="bed", code="Bed A")
        self.shelf = Spot.objects.create(garden=self.garden, kind="shelf", code="R1·1")
        self.frame = Spot.objects.create(garden=self.garden, kind="frame", code="Frame")
        self.client: Client = Client()
        self.client.force_login(self.owner, backend="django.contrib.auth.backends.ModelBackend")

    def __getstate__(self) -> dict[str, Any]:
        """Without the client, whose handlers cannot travel: so that a subtest that fails in parallel is told."""
        return {name: value for name, value in self.__dict__.items() if name != "client"}

    def url(self, rest: str) -> str:
        return f"/g/{self.garden.pk}/{rest}"

    def post(self, rest: str, **data: Any) -> Any:
        return self.client.post(self.url(rest), data)

    def now(self) -> SeasonState:
        self.garden.refresh_from_db()
        return load(self.garden, self.garden.simulated_on or TODAY)

    def todo(self, kind: str, until: date = date(2027, 1, 1)) -> Todo:
        found = [t for t in self.now().todos(until) if t.task.kind == kind]
        assert found, f"no task of kind {kind}"
        return min(found, key=lambda t: t.due)

    def kinds(self, until: date = TODAY) -> list[str]:
        return [t.task.kind for t in self.now().todos(until)]

    def sown(self, crop: str = "tomato", wanted: int = 10, on: date = TODAY, **more: Any) -> Batch:
        """A planting sown on that day through the task itself."""
        planting = plant(self.garden, self.owner, crop, wanted, sow_on=on, **more)
        self.post(f"task/p{planting.pk}.sow.0/", on=on.isoformat())
        return Batch.objects.get(planting=planting)

    def day(self, on: date) -> None:
        Garden.objects.filter(pk=self.garden.pk).update(simulated_on=on)
