"""A thing that a garden has (a feed, a lamp, a mix, a container …): one form that adds it and changes it, one post that takes it away.

    FEED = Thing("feed", Feed, KeepFeed, RemoveFeed, back="care_feed", view="care", new="A feed, by its label")
    urlpatterns = [*FEED.addresses("care/feed/")]

What there is to say of one kind of thing stands in its own small template, which the one page of all takes in.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, ClassVar

from django.db import models
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import URLPattern, path, reverse
from django.utils.translation import gettext as _

from aestiva.frame.fields import Row
from aestiva.frame.say import Reader
from aestiva.gardens.access import UNFIT, garden_view
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.posting import actor_of, kept, posted, posts

if TYPE_CHECKING:
    from aestiva.frame.fields.typed import Said


class Keep(Command):
    """Add a thing, or change it: its fields are named as the columns that they fill."""

    model: ClassVar[type[models.Model]]
    called: ClassVar[str]  # as its sentence says: “the feed”

    @classmethod
    def columns(cls) -> list[str]:
        return [name for name in cls.base_fields if name not in ("revision", "row")]

    @classmethod
    def filled_in(cls, row: models.Model) -> dict[str, Any]:
        """What the form of that row begins with."""
        return {name: getattr(row, name) for name in cls.columns()}

    def new(self) -> models.Model:
        """An empty one of this garden."""
        return self.model(garden=self.garden)

    def fill(self, row: Any) -> None:
        """Its columns, from what was typed."""
        for name in self.columns():
            setattr(row, name, self.cleaned_data[name])

    def carry_out(self, write: ChangeSet) -> None:
        row = self.cleaned_data["row"]
        self.made = row is None
        self.thing: Any
        self.thing = row = self.new() if row is None else row
        self.fill(row)
        write.save(row, None if self.made else self.seen)
        self.facts = {"name": str(row), "made": self.made}

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        said = _("Added %(called)s %(name)s") if facts["made"] else _("Changed %(called)s %(name)s")
        return said % {"called": cls.called, "name": facts["name"]}

    def told(self) -> str:
        return _("%s is kept.") % self.thing if self.tells else ""


class Remove(Command):
    """Take a thing away on which nothing hangs."""

    called: ClassVar[str]

    def carry_out(self, write: ChangeSet) -> None:
        row = self.cleaned_data["row"]
        self.facts = {"name": str(row)}
        write.delete(row, self.seen)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Removed %(called)s %(name)s") % {"called": cls.called, "name": facts["name"]}

    def told(self) -> str:
        return _("%s is gone. It can be taken back.") % self.facts["name"]


@dataclass(frozen=True)
class Thing:
    """How one kind of thing is added, changed and taken away.

    name: of its addresses (`feed_new`, `feed_change`, `feed_remove`).  view: the room it belongs to.  back: the page that shows
    it; to: where it leads once kept, where that is another.  about: a small template of what there is to say, shown under the
    form.  context: what that template, or the title, needs, of (garden, row, the
    number of what it belongs to).  parent: the field of what a new one belongs to, which its address names.  single: a garden
    has one, or none yet.  form: a template for the fields, where they are not simply one after another.  where: which rows of the
    model are such things.  begins: with what a
    new one begins, of the request.
    """

    name: str
    model: type[models.Model]
    keep: type[Keep]
    remove: type[Command] | None
    view: str
    back: str
    new: Said
    why: Said = ""
    help: Said = ""
    verb: Said = "Remove it"
    parent: str = ""
    single: bool = False
    garden: str = "garden"
    about: str = ""
    to: Callable[[Any, Any], str] | None = None
    context: Callable[[Any, Any, int | None], dict[str, Any]] | None = None
    form: str = ""
    where: Mapping[str, Any] = field(default_factory=dict)
    begins: Callable[[Any], dict[str, Any]] | None = None

    @property
    def removes(self) -> bool:
        return self.remove is not None

    @property
    def remove_name(self) -> str:
        return f"{self.name}_remove"

    def addresses(self, under: str) -> list[URLPattern]:
        """Where it is added, changed and taken away."""
        page = garden_view(back=self.back)(self.page)
        if self.single:
            return [path(under, page, name=self.name)]
        of = f"<int:{self.parent}_id>/" if self.parent else ""
        found = [
            path(f"{under}{of}new/", page, name=f"{self.name}_new"),
            path(f"{under}<int:{self.name}_id>/edit/", page, name=f"{self.name}_change"),
        ]
        if self.remove is not None:
            gone = posts(self.remove, back=self.back)
            found.append(path(f"{under}<int:{self.name}_id>/remove/", gone, name=self.remove_name))
        return found

    def page(self, request: Any, **about: int) -> HttpResponse:
        """The form, empty or as the thing is; kept where it can be, shown again with what was typed where not."""
        row = self._row(request.garden, about)
        actor = actor_of(request)
        if request.method == "POST":
            form = self.keep(actor, posted(self.keep, request, about if row is None else {"row": row.pk}))
            if self._kept(request, form):
                where = (
                    reverse(self.back, args=[request.garden.pk]) if self.to is None else self.to(request, form.thing)
                )
                return redirect(where)
        else:
            form = self.keep(actor, initial=self._initial(request, row))
        of = about.get(f"{self.parent}_id")
        more = self.context(request.garden, row, of) if self.context is not None else {}
        context = {
            "thing": self,
            "view": self.view,
            "row": row,
            "form": form,
            "leave": reverse(self.back, args=[request.garden.pk]),
        }
        status = UNFIT if form.is_bound else 200
        return render(request, "gardens/thing.html", context | more, status=status)

    def _initial(self, request: Any, row: Any) -> dict[str, Any]:
        if row is not None:
            return self.keep.filled_in(row)
        return {} if self.begins is None else self.begins(request)

    def _row(self, garden: Any, about: dict[str, int]) -> Any:
        """The thing that an address names; none where it is new."""
        mine = self.model._default_manager.filter(**{self.garden: garden}, **self.where)
        if self.single:
            return mine.first()
        pk = about.get(f"{self.name}_id")
        return None if pk is None else get_object_or_404(mine, pk=pk)

    def _kept(self, request: Any, form: Keep) -> bool:
        """Was it written?  What refused it stands in the form otherwise."""
        try:
            return kept(request, form)
        except Refused as refused:
            at = refused.field if refused.field in form.fields else None
            form.add_error(at, f"{str(refused)[:1].upper()}{str(refused)[1:]}")
            return False


def row_of(model: type[models.Model], garden: str = "garden") -> Row:
    """The field of the thing that is changed; none where it is new."""
    return Row(model, garden, required=False)
