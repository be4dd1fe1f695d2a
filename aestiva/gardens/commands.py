"""One way in for every change: a command is a form with typed fields, who may, what it writes, and how the journal says it.

    @register("care.sprayer")
    class MeasureSprayer(Command):
        ml = Volume(low=0.1, high=5000)
        says = gettext_lazy("Measured the sprayer")

        def carry_out(self, write: ChangeSet) -> None: …

Pages (`posting.posts`), scripts (`today.script_views`), devices, jobs and the simulated grower run the same commands.  The
journal keeps a command's code and its facts; the sentence is made when it is shown, in its reader's units.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any, ClassVar, TypeVar

from django.core.exceptions import ImproperlyConfigured
from django.forms import HiddenInput

from aestiva.accounts.models import User
from aestiva.frame.fields import Count, TypedForm
from aestiva.frame.forms import MOST_DIGITS
from aestiva.frame.say import METRIC, Reader
from aestiva.gardens import clock, journal
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.gardens.outcomes import NotHere, Refused, Repeated
from aestiva.gardens.undo import REDONE, UNDONE

SCOPES = ("tasks", "readings", "everything", "")  # of the keys that may; "": none, it is done by a person
ANY_REVISION = 10**MOST_DIGITS - 1

Facts = dict[str, Any]


@dataclass(frozen=True)
class Actor:
    """Who changes something: a member, or what acts by itself under its name."""

    garden: Garden
    user: User | None
    role: str = "grower"
    reader: Reader = METRIC
    by: str = journal.SIMULATION
    kind: str = "change"
    device: Any = None  # the key that it came with

    @property
    def today(self) -> date:
        return clock.today(self.garden)

    @property
    def hour(self) -> float:
        return round(clock.hour(self.garden), 2)


class Command(TypedForm):
    """One change of a garden.  Raises Refused where what was typed cannot be.

    known_as: its name in addresses and in the journal.  role: who may.  scope: which keys may.  says: its sentence, with the
    facts by name; `sentence` where it has amounts or plurals.  undo: can its entry be taken back?  What is only noted (a key
    given, a link ended) cannot.  tells: is who did it told, or does the page show it?
    """

    known_as: ClassVar[str] = ""
    role: ClassVar[str] = "grower"
    scope: ClassVar[str] = "everything"
    says: ClassVar[Any] = ""
    undo: ClassVar[bool] = True
    tells: ClassVar[bool] = True

    revision = Count(high=ANY_REVISION, required=False, widget=HiddenInput)

    def __init__(self, actor: Actor, data: Any = None, **kwargs: Any) -> None:
        super().__init__(data, reader=actor.reader, garden=actor.garden, today=actor.today, **kwargs)
        self.actor = actor
        self.facts: Facts = {}
        self.entry: JournalEntry | None = None  # what it wrote; none where nothing was left to do

    @property
    def seen(self) -> int | None:
        """The revision that the page showed of the row it is about."""
        found: int | None = self.cleaned_data.get("revision")
        return found

    def carry_out(self, write: ChangeSet) -> None:
        """Write the rows, and set the facts of the sentence."""
        raise NotImplementedError

    def perform(self, key: str = "") -> None:
        """Check what was typed and carry it out, as `run` does."""
        garden, actor = self.garden, self.actor
        try:
            self.checked()
        except Refused:
            if journal.done_before(garden, key):
                raise Repeated from None  # what it brings is there already, by itself
            raise
        if not self.undo:
            with journal.noted(garden):
                kept = journal.once(garden, "note", key)
                self.carry_out(ChangeSet(garden, ""))
                said, of = self.sentence(self.facts, garden.reader()), (self.known_as, self.facts)
                self.entry = journal.enter(garden, actor.user, said, kept, [], by=actor.by, kind="note", of=of)
            return
        with journal.change(garden, actor.user, "", key, by=actor.by, kind=actor.kind) as write:
            self.carry_out(write)
            if write.changes:
                write.action, write.facts = self.known_as, self.facts
                write.summary = write.summary or self.sentence(self.facts, garden.reader())
        self.entry = write.entry

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        """What was done, as the journal says it."""
        return str(cls.says) % facts

    def told(self) -> str:
        """What the person who did it is told: the journal's sentence, unless the page shows it by itself (`tells`)."""
        return f"{self.sentence(self.facts, self.reader)}." if self.tells else ""

    def checked(self) -> None:
        """Raise Refused, with all that is wrong, unless what was typed can be."""
        if self.is_valid():
            return
        name, words = self.first_error()
        wrong = (NotHere if getattr(self.fields.get(name), "names_a_row", False) else Refused)(name, words)
        wrong.errors = {field: [str(one).rstrip(".") for one in found] for field, found in self.errors.items()}
        raise wrong


Done = TypeVar("Done", bound=Command)
_commands: dict[str, type[Command]] = {}


def register(code: str) -> Callable[[type[Done]], type[Done]]:
    """Take a command in under its name."""

    def take(command: type[Done]) -> type[Done]:
        if code in _commands:
            raise ImproperlyConfigured(f"there are two commands {code}")
        if command.scope not in SCOPES or (command.role == "owner" and command.scope):
            raise ImproperlyConfigured(f"{code}: no key may have the scope {command.scope}")
        command.known_as = code
        _commands[code] = command
        return command

    return take


def commands() -> Mapping[str, type[Command]]:
    """Every command by its name, in the order of work."""
    return _commands


def run(command: type[Done], actor: Actor, typed: Any, key: str = "") -> Done:
    """Carry a command out: one transaction, one entry of the journal.

    Raises Refused, Stale, Repeated.  What writes nothing leaves no entry.
    """
    form = command(actor, typed)
    form.perform(key)
    return form


def sentence(entry: JournalEntry, reader: Reader) -> str:
    """What an entry says to its reader; as it was written where it is older than its command, or of another program."""
    verb, code = next(
        ((v, entry.action.removeprefix(v)) for v in (UNDONE, REDONE) if entry.action.startswith(v)), ("", entry.action)
    )
    command = _commands.get(code)
    if command is None:
        return entry.summary
    try:
        said = command.sentence(entry.facts, reader)
    except (KeyError, TypeError, ValueError, AttributeError):
        return entry.summary
    return {"": said, UNDONE: f"Took back: {said}", REDONE: f"Redid: {said}"}[verb]
