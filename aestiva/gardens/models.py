"""The garden, who may work in it, and the journal of every change."""

from __future__ import annotations

import secrets
import uuid
from zoneinfo import available_timezones

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator, RegexValidator
from django.db import models

from aestiva.frame.say import Reader
from growing.place.year import RISK_SCALE
from growing.practices import unknown

UNITS = (
    ("metric", "Metric: °C, cm, litres"),
    ("us", "US: °F, inches, US gallons"),
    ("imperial", "UK: °C, inches, imperial gallons"),
)


WEEK_STARTS = ((0, "Monday"), (6, "Sunday"), (5, "Saturday"))
CLOCKS = (("24", "16:30"), ("12", "4:30 pm"))


LADDERS = r"^(five|seven|ten|afterfrost|cool|sun|frame|fresh|nursery|own[1-9][0-9]?)$"
SHELTERS = (
    ("", "nobody said: taken as a hedge"),
    ("none", "nothing: the wind of the open"),
    ("hedge", "a hedge or a mesh"),
    ("wall", "a wall or a solid fence"),
    ("corner", "a corner of two walls"),
    ("roofed", "a roofed corner, a lean-to"),
)


def new_token() -> str:
    return secrets.token_urlsafe(24)


def known_zone(name: str) -> None:
    if name not in available_timezones():
        raise ValidationError(f"{name} is not a time zone")


def known_ways(ways: object) -> None:
    """Ways of working that there are, for questions that there are."""
    if wrong := unknown(ways):
        raise ValidationError(wrong)


def known_scale(scale: object) -> None:
    """Times the accepted risk, by hardiness: what is not a number of a known class is no scale."""
    known = isinstance(scale, dict) and set(scale) <= set(RISK_SCALE)
    numbers = isinstance(scale, dict) and all(
        isinstance(n, int | float) and not isinstance(n, bool) and 0.1 <= n <= 5 for n in scale.values()
    )
    if not (known and numbers):
        raise ValidationError("gives hardy, half-hardy, tender or very tender crops 0.1 to 5 times the accepted risk")


class Garden(models.Model):
    name = models.CharField(max_length=80)
    town = models.CharField("town or village", max_length=80, blank=True)
    latitude = models.FloatField(validators=[MinValueValidator(-90), MaxValueValidator(90)])
    longitude = models.FloatField(default=0, validators=[MinValueValidator(-180), MaxValueValidator(180)])
    elevation_m = models.IntegerField(
        "height above the sea, m", default=0, validators=[MinValueValidator(-430), MaxValueValidator(6000)]
    )
    timezone = models.CharField("time zone", max_length=60, default="UTC", validators=[known_zone])
    units = models.CharField(max_length=10, choices=UNITS, default="metric")
    week_starts = models.PositiveSmallIntegerField("weeks start on", choices=WEEK_STARTS, default=0)
    clock = models.CharField("times of day as", max_length=2, choices=CLOCKS, default="24")
    currency = models.CharField(
        "money in", max_length=4, blank=True, default="", help_text="A sign or three letters: £, €, CHF. Empty: none."
    )
    sowing_days = models.CharField(
        "days with time to sow",
        max_length=20,
        default="5,6",
        validators=[RegexValidator(r"^[0-6](,[0-6])*$", "weekdays 0 to 6")],
    )
    accepted_risk = models.FloatField(
        "accepted frost risk", default=0.1, validators=[MinValueValidator(0.01), MaxValueValidator(0.5)]
    )
    risk_scale = models.JSONField(
        "times that risk, by hardiness",
        default=dict,
        blank=True,
        validators=[known_scale],
        help_text="only where it differs from the usual",
    )
    follow_asked = models.BooleanField(
        default=True, editable=False, help_text="whether sowing days kept as proposed may follow has been asked"
    )
    ladder = models.CharField(
        "hardening off",
        max_length=10,
        default="seven",
        validators=[RegexValidator(LADDERS, "no such ladder")],
    )
    shelter = models.CharField("at the door", max_length=8, choices=SHELTERS, blank=True, default="")
    sells = models.BooleanField("what is grown is sold", default=False, help_text="An early crop is worth more then.")
    schools = models.JSONField(
        "ways of working",
        default=dict,
        blank=True,
        validators=[known_ways],
        help_text="only where they differ from the usual",
    )
    year = models.IntegerField("season in hand", help_text="the growing season in hand, by the year of its spring")
    simulated_on = models.DateField(null=True, blank=True)
    seed = models.IntegerField(default=1)
    is_demo = models.BooleanField(default=False)
    revision = models.IntegerField(default=1, help_text="raised by every entry of its journal")
    readings_revision = models.IntegerField(
        default=1, editable=False, help_text="raised by readings that move nothing of what is planned"
    )
    settings_revision = models.IntegerField(default=1, help_text="raised when its own fields change")
    begun_with = models.CharField(
        max_length=64, null=True, unique=True, editable=False, help_text="one-use key of the post that began it"
    )

    def __str__(self) -> str:
        return self.name

    def reader(self, units: str = "") -> Reader:
        """How numbers, times and money are said here, in those units where somebody has their own."""
        return Reader(units or self.units, self.clock, self.currency, self.week_starts)

    @property
    def southern(self) -> bool:
        return self.latitude < 0

    @property
    def weekdays(self) -> frozenset[int]:
        return frozenset(int(d) for d in self.sowing_days.split(",") if d != "")


def seven(value: object) -> None:
    """Minutes for each day of the week from Monday, or nothing."""
    good = isinstance(value, list) and len(value) == 7
    if not good or not all(type(m) is int and 0 <= m <= 1440 for m in value):  # type: ignore[attr-defined]
        raise ValidationError("seven numbers of minutes from Monday, each from 0 to 1,440")


LONGEST_DAY_H = 24


def week_at_home(value: object) -> None:
    """For each day from Monday from when to when somebody is at home [h], None for a day on which they are not; or nothing."""
    if not isinstance(value, list) or len(value) != 7 or not all(day is None or _span(day) for day in value):
        raise ValidationError("seven days from Monday, each from and to in hours, or nothing")


def _span(day: object) -> bool:
    whole = isinstance(day, list) and len(day) == 2 and all(type(h) in (int, float) for h in day)
    return whole and 0 <= day[0] < day[1] <= LONGEST_DAY_H  # type: ignore[index]


class Member(models.Model):
    ROLES = (("owner", "owner"), ("grower", "grower"), ("reader", "reader"))
    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="members")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=ROLES)
    units = models.CharField(max_length=10, choices=UNITS, blank=True, help_text="empty: the garden's")
    minutes = models.JSONField(
        "minutes there are, Monday to Sunday", null=True, blank=True, validators=[seven], help_text="empty: nobody said"
    )
    at_home = models.JSONField(
        "at home, Monday to Sunday", null=True, blank=True, validators=[week_at_home], help_text="empty: nobody said"
    )

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "user"], name="one_membership")]

    def __str__(self) -> str:
        return f"{self.user} ({self.role}) in {self.garden}"


class Invitation(models.Model):
    """A link by which one person may join; it expires, can be revoked, and works once."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=10, choices=Member.ROLES)
    token = models.CharField(max_length=40, unique=True, default=new_token)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    expires = models.DateTimeField()
    revoked = models.BooleanField(default=False)
    used_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    def __str__(self) -> str:
        return f"{self.role} in {self.garden}"


class ColumnMeaning(models.Model):
    """What a heading of this garden's own lists means, as somebody said once: it is not asked again."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="column_meanings")
    sheet = models.CharField("list", max_length=12, help_text="plantings, lots, weather, …")
    heading = models.CharField(max_length=80)
    meaning = models.CharField(max_length=30, blank=True, help_text="empty: to be left aside")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "sheet", "heading"], name="one_meaning_a_heading")]

    def __str__(self) -> str:
        return f"{self.heading}: {self.meaning}"


class JournalEntry(models.Model):
    """One change: what was done, by whom, and each row's fields before and after."""

    KINDS = (
        ("change", "a change"),
        ("device", "what a device sent"),
        ("days", "simulated days that went by"),
        ("note", "only noted"),
        ("imported", "came with a document"),
    )
    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="journal")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    by = models.CharField(max_length=80)
    at = models.DateTimeField()
    day = models.DateField()
    summary = models.CharField(
        max_length=250, help_text="as it was said when it was written: to be found by, and to fall back on"
    )
    action = models.CharField(
        max_length=60, blank=True, default="", help_text="the command; empty: the summary is all there is"
    )
    facts = models.JSONField(default=dict, blank=True, help_text="what its sentence is made of, in stored units")
    changes = models.JSONField(default=list)
    key = models.CharField(max_length=64)
    kind = models.CharField(max_length=10, choices=KINDS, default="change")
    about = models.ForeignKey(
        settings.AUTH_USER_MODEL,
        null=True,
        on_delete=models.SET_NULL,
        related_name="+",
        db_index=False,
        help_text="a person it names",
    )
    undoes = models.OneToOneField("self", null=True, on_delete=models.SET_NULL, related_name="undone_by")

    class Meta:
        ordering = ["-pk"]
        constraints = [models.UniqueConstraint(fields=["garden", "key"], name="one_use_key")]

    def __str__(self) -> str:
        return self.summary

    @property
    def is_undone(self) -> bool:
        return hasattr(self, "undone_by")

    @property
    def can_be_taken_back(self) -> bool:
        """Not what is only noted, came with an imported garden, or was the passing of simulated days."""
        return not self.is_undone and self.kind in ("change", "device")


class JournalTouch(models.Model):
    """A row that an entry touched: names the entry that stands in the way of taking an earlier one back."""

    entry = models.ForeignKey(JournalEntry, on_delete=models.CASCADE, related_name="touches")
    model = models.CharField(max_length=40)
    row = models.BigIntegerField()

    class Meta:
        indexes = [models.Index(fields=["model", "row"], name="touched_row")]

    def __str__(self) -> str:
        return f"{self.model} {self.row}"


class Job(models.Model):
    """Long work of the machine for one person: how far it is, what it found, or why it came to nothing."""

    STATES = (
        ("waiting", "waits to begin"),
        ("running", "under way"),
        ("done", "done"),
        ("refused", "cannot be done"),
        ("failed", "came to nothing"),
        ("cancelled", "called off"),
    )
    key = models.UUIDField(default=uuid.uuid4, unique=True)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="jobs")
    garden = models.ForeignKey(
        Garden, null=True, on_delete=models.CASCADE, related_name="jobs", help_text="empty: it is about none yet"
    )
    options = models.JSONField(default=dict, help_text="what was said besides the file")
    kind = models.CharField(max_length=20)
    state = models.CharField(max_length=10, choices=STATES, default="waiting")
    progress = models.FloatField(default=0.0)
    said = models.CharField(max_length=80, blank=True)
    payload = models.BinaryField()
    result = models.JSONField(null=True)
    problems = models.JSONField(default=list)
    cancel = models.BooleanField(default=False)
    begun_with = models.CharField(max_length=64, null=True, unique=True)
    made_at = models.DateTimeField()
    beat_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.kind} {self.state}"

    @property
    def per_cent(self) -> int:
        return round(100 * self.progress)
