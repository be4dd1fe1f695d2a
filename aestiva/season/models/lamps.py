"""Lamps over places, how they were set from which day on, what a meter said under them, what current costs."""

from __future__ import annotations

from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden
from aestiva.season.models.spots import HEIGHT, PLACE, Spot
from growing.light.hours import wrong_spans
from growing.light.lamps import MOST_LUMEN, MOST_UMOL, MOST_WATTS, kinds

READ = (("lux", "lux"), ("ppfd", "µmol/m²/s"), ("warm", "a hand feels it warm"))


def lamp_kinds() -> list[tuple[str, str]]:
    """What a lamp may be."""
    return [(kind.key, kind.name) for kind in kinds().values()]


def _up_to(most: float) -> list[MinValueValidator | MaxValueValidator]:
    return [MinValueValidator(0.0), MaxValueValidator(most)]


def spans_fit(value: object) -> None:
    """Cheap hours: [from, to] each, none of them twice."""
    if not isinstance(value, list) or not all(
        isinstance(one, list) and len(one) == 2 and all(type(h) in (int, float) for h in one) for one in value
    ):
        raise ValidationError("cheap hours are pairs, from and to")
    if wrong := wrong_spans([(one[0], one[1]) for one in value]):
        raise ValidationError(wrong)


class Lamp(models.Model):
    """A lamp over a place, or some alike; what is said is of one, and empty where nobody said it."""

    spot = models.ForeignKey(Spot, on_delete=models.RESTRICT, related_name="lamps")
    kind = models.CharField(max_length=10, choices=lamp_kinds)
    name = models.CharField(max_length=60, blank=True, default="")
    number = models.IntegerField("how many", default=1, validators=[MinValueValidator(1), MaxValueValidator(40)])
    umol = models.FloatField("µmol/s", null=True, blank=True, validators=_up_to(MOST_UMOL))
    lumen = models.FloatField("lumen", null=True, blank=True, validators=_up_to(MOST_LUMEN))
    kelvin = models.FloatField(
        "colour, K", null=True, blank=True, validators=[MinValueValidator(1000.0), MaxValueValidator(20_000.0)]
    )
    watts = models.FloatField("watts", null=True, blank=True, validators=_up_to(MOST_WATTS))
    length_cm = models.FloatField("length, cm", null=True, blank=True, validators=HEIGHT)
    width_cm = models.FloatField(
        "width, cm", null=True, blank=True, validators=[MinValueValidator(0.5), MaxValueValidator(300.0)]
    )
    reflector = models.BooleanField("with a reflector", null=True, blank=True)
    dims = models.BooleanField("it can be dimmed", default=False)
    x_cm = models.FloatField("middle from the left, cm", null=True, blank=True, validators=PLACE)
    y_cm = models.FloatField("middle from the front, cm", null=True, blank=True, validators=PLACE)
    new_on = models.DateField("new on", null=True, blank=True)
    wiped_on = models.DateField("last wiped on", null=True, blank=True)
    until = models.DateField("taken down on", null=True, blank=True)
    revision = models.IntegerField(default=1)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name or kinds()[self.kind].name


class LampSetting(models.Model):
    """How the lamps of a place hang and burn from a day on: both ends above it, the dimmer, the timer."""

    spot = models.ForeignKey(Spot, on_delete=models.RESTRICT, related_name="lamp_settings")
    since = models.DateField()
    left_cm = models.FloatField("left end, cm", validators=HEIGHT)
    right_cm = models.FloatField("right end, cm", validators=HEIGHT)
    per_cent = models.FloatField(
        "dimmed to, %", default=100.0, validators=[MinValueValidator(1.0), MaxValueValidator(100.0)]
    )
    on_h = models.FloatField(
        "on at", null=True, blank=True, validators=[MinValueValidator(0.0), MaxValueValidator(24.0)]
    )
    hours = models.FloatField(
        "hours a day", null=True, blank=True, validators=[MinValueValidator(0.0), MaxValueValidator(24.0)],
        help_text="empty: nobody said",
    )  # fmt: skip
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "setting of a lamp"
        ordering = ["since"]
        constraints = [models.UniqueConstraint(fields=["spot", "since"], name="one_lamp_setting_a_day")]

    def __str__(self) -> str:
        return f"{self.spot} from {self.since:%-d %B}"


class LightReading(models.Model):
    """What a meter said so far under the lamp, or how far a hand still felt it warm."""

    spot = models.ForeignKey(Spot, on_delete=models.RESTRICT, related_name="light_readings")
    day = models.DateField()
    what = models.CharField(max_length=4, choices=READ)
    number = models.FloatField(null=True, blank=True, validators=_up_to(150_000.0), help_text="empty for a hand")
    gap_cm = models.FloatField("under the lamp, cm", validators=[MinValueValidator(0.5), MaxValueValidator(300.0)])
    x_cm = models.FloatField("from the left, cm", null=True, blank=True, validators=PLACE)

    class Meta:
        verbose_name = "reading of light"
        ordering = ["day", "pk"]

    def __str__(self) -> str:
        return f"{self.get_what_display()} on {self.spot}"


class Tariff(models.Model):
    """What current costs here, and in which hours it costs less."""

    garden = models.OneToOneField(Garden, on_delete=models.CASCADE, related_name="tariff")
    price = models.FloatField("price of a kWh", null=True, blank=True, validators=_up_to(1000.0))
    cheap_price = models.FloatField("in the cheap hours", null=True, blank=True, validators=_up_to(1000.0))
    spans = models.JSONField("cheap hours", default=list, blank=True, validators=[spans_fit])
    revision = models.IntegerField(default=1)

    def __str__(self) -> str:
        return "what current costs"
