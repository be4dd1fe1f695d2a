"""Places indoors and out: where things stand and where plants grow."""

from __future__ import annotations

from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden
from growing.light.window import FACING
from growing.place.kinds import ALL


def spot_kinds() -> list[tuple[str, str]]:
    """What a place may be."""
    return [(kind, kind) for kind in ALL]


HEATED = (
    ("", "not said"),
    ("none", "not heated"),
    ("room", "as the room"),
    ("mat", "a mat"),
    ("thermostat", "a mat with thermostat"),
)
LIT = (("", "not said"), ("lamp", "a lamp"), ("window", "a window"), ("none", "neither"))
MONTHS_SAID = (("", "not said"), ("measured", "measured"), ("entered", "as somebody reckons"))
HEIGHT = [MinValueValidator(2.0), MaxValueValidator(500.0)]


HANGS = (
    ("", "not said"),
    ("cord", "a cord"),
    ("chain", "a chain"),
    ("ratchet", "a ratchet"),
    ("fixed", "fixed: trays go up and down"),
)
FACING_SAID = (("", "not said"), *((k, k) for k in FACING))
SIDES = ("left", "right", "back", "front")


def white_sides(value: str) -> None:
    """Which edges of a place reflect: first letters of SIDES, each once."""
    if len(set(value)) != len(value) or not set(value) <= {side[0] for side in SIDES}:
        raise ValidationError("white sides are letters of l, r, b, f")


def twelve(value: object) -> None:
    """Twelve months from January, each a number of °C or nothing."""
    good = isinstance(value, list) and len(value) == 12
    if not good or not all(m is None or (type(m) in (int, float) and -40 <= m <= 50) for m in value):  # type: ignore[attr-defined]
        raise ValidationError("twelve monthly temperatures between −40 and 50 °C, or nothing")


SUNS = (("", "not said"), ("sun", "full sun"), ("part", "half shade"), ("shade", "shade"))
SIZE = [MinValueValidator(5.0), MaxValueValidator(20_000.0)]
PLACE = [MinValueValidator(0.0), MaxValueValidator(50_000.0)]


class Spot(models.Model):
    """A place indoors or out where a batch can stand."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="spots")
    parent = models.ForeignKey("self", null=True, blank=True, on_delete=models.RESTRICT)
    kind = models.CharField(max_length=10, choices=spot_kinds)
    code = models.CharField("name, short", max_length=12)
    name = models.CharField(max_length=60, blank=True)
    order = models.IntegerField(default=0)
    x_cm = models.FloatField(
        "from the left, cm", null=True, blank=True, validators=PLACE, help_text="from the plan's left edge"
    )
    y_cm = models.FloatField(
        "from above, cm", null=True, blank=True, validators=PLACE, help_text="from the plan's upper edge"
    )
    length_cm = models.FloatField("length, cm", null=True, blank=True, validators=SIZE)
    width_cm = models.FloatField("width, cm", null=True, blank=True, validators=SIZE)
    sun = models.CharField("light", max_length=6, choices=SUNS, blank=True, default="")
    heated = models.CharField("heated by", max_length=10, choices=HEATED, blank=True, default="")
    set_c = models.FloatField(
        "set to, °C", null=True, blank=True, validators=[MinValueValidator(5.0), MaxValueValidator(45.0)]
    )
    clear_cm = models.FloatField("clear height, cm", null=True, blank=True, validators=HEIGHT)
    lit = models.CharField("lit by", max_length=6, choices=LIT, blank=True, default="")
    lamp_cm = models.FloatField("lamp hangs at, cm above it", null=True, blank=True, validators=HEIGHT)
    sun_h = models.FloatField(
        "direct sun, hours a day", null=True, blank=True, validators=[MinValueValidator(0.0), MaxValueValidator(24.0)]
    )
    facing = models.CharField("it looks to the", max_length=10, choices=FACING_SAID, blank=True, default="")
    card = models.BooleanField("a white card behind", default=False)
    hangs_by = models.CharField("the lamp hangs by", max_length=8, choices=HANGS, blank=True, default="")
    step_cm = models.FloatField(
        "a step of it, cm", null=True, blank=True, validators=[MinValueValidator(0.1), MaxValueValidator(50.0)]
    )
    white = models.CharField("white sides", max_length=8, blank=True, default="", validators=[white_sides])
    months_c = models.JSONField("temperature by month, °C", null=True, blank=True, validators=[twelve])
    months_said = models.CharField("those are", max_length=8, choices=MONTHS_SAID, blank=True, default="")
    watts = models.FloatField(
        "draws, watts", null=True, blank=True, validators=[MinValueValidator(0.0), MaxValueValidator(20_000.0)]
    )
    note = models.CharField(max_length=200, blank=True, default="")
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "place"
        ordering = ["order", "code"]
        constraints = [models.UniqueConstraint(fields=["garden", "code"], name="one_spot_code")]

    def __str__(self) -> str:
        return self.code


class WarmReading(models.Model):
    """What a thermometer in the mix, or in the air of a place, said: at an hour; or the least and most of a day off a dial."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="warm_readings")
    spot = models.ForeignKey(Spot, on_delete=models.CASCADE, related_name="warm_readings")
    day = models.DateField()
    hour = models.FloatField(validators=[MinValueValidator(0.0), MaxValueValidator(24.0)])
    celsius = models.FloatField(validators=[MinValueValidator(-40.0), MaxValueValidator(70.0)])
    most_c = models.FloatField(
        "most of that day",
        null=True,
        blank=True,
        validators=[MinValueValidator(-40.0), MaxValueValidator(70.0)],
        help_text="with it, celsius is the least of the day",
    )
    source = models.CharField(max_length=40, blank=True, default="")

    class Meta:
        verbose_name = "warmth"
        ordering = ["day", "hour"]
        constraints = [models.UniqueConstraint(fields=["spot", "day", "hour"], name="one_warmth_an_hour")]

    def __str__(self) -> str:
        return f"{self.celsius:g} °C at {self.spot} on {self.day}"
