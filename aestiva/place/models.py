"""What is known of the place: typed frost dates and warmth, stations with their weather, the nights ahead."""

from __future__ import annotations

from datetime import date

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden
from growing.place.nights import Night

MEANINGS = (
    ("average", "the average: half of the years are later"),
    ("safe", "a safe date: only one year in ten is later"),
    ("unknown", "I don’t know (it is taken as the average)"),
)
GUESSED = ("guess", "a guess by the latitude")


BASES = (
    ("all", "all years on record, at most the latest thirty"),
    ("recent", "the latest fifteen years"),
    ("adjusted", "all years, each moved along the trend to the latest"),
)
COVERS = (
    ("bare", "open ground"),
    ("raised", "raised beds"),
    ("dark", "dark cover on the soil"),
    ("tunnel", "under a tunnel"),
)


class Station(models.Model):
    """A weather record; shared read-only by the gardens that use it, changed only by import."""

    name = models.CharField(max_length=80)
    note = models.CharField(max_length=200, blank=True)
    owner = models.ForeignKey(Garden, null=True, on_delete=models.CASCADE, related_name="stations")
    simulated = models.BooleanField(default=False)
    digest = models.CharField(max_length=64, blank=True, help_text="of the file it came from")
    latitude = models.FloatField(null=True, blank=True, validators=[MinValueValidator(-90), MaxValueValidator(90)])
    longitude = models.FloatField(null=True, blank=True, validators=[MinValueValidator(-180), MaxValueValidator(180)])
    elevation_m = models.FloatField(
        null=True, blank=True, validators=[MinValueValidator(-430), MaxValueValidator(6000)]
    )
    series_revision = models.IntegerField(default=1, help_text="a fingerprint of the days of its record")

    def __str__(self) -> str:
        return self.name


class StationYear(models.Model):
    """One calendar year of one variable: little-endian 16-bit tenths of a degree, −32768 where missing."""

    station = models.ForeignKey(Station, on_delete=models.RESTRICT, related_name="years")
    variable = models.CharField(max_length=8)
    year = models.IntegerField()
    tenths = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["station", "variable", "year"], name="one_station_year")]

    def __str__(self) -> str:
        return f"{self.station} {self.variable} {self.year}"


class Frost(models.Model):
    """The garden's frost dates: from a station where there is one, otherwise as typed."""

    garden = models.OneToOneField(Garden, on_delete=models.CASCADE, related_name="frost")
    last_on = models.DateField("last frost in spring", null=True, blank=True)
    last_meaning = models.CharField("the last frost is", max_length=10, choices=MEANINGS, default="unknown")
    last_spread = models.FloatField("spread, days", null=True, blank=True)
    first_on = models.DateField("first frost in autumn", null=True, blank=True)
    first_meaning = models.CharField(
        "the first frost is", max_length=10, choices=(*MEANINGS, GUESSED), default="unknown"
    )
    first_spread = models.FloatField("spread in autumn, days", null=True, blank=True)
    source = models.CharField("where from", max_length=120, blank=True)
    station = models.ForeignKey(Station, null=True, blank=True, on_delete=models.SET_NULL)
    shift_c = models.FloatField("garden against the station, °C", default=0)
    shift_nights = models.IntegerField(
        null=True, blank=True, help_text="paired nights behind the shift; empty: entered"
    )
    shift_error = models.FloatField(null=True, blank=True)
    basis = models.CharField("years that speak", max_length=10, choices=BASES, default="all")
    cover = models.CharField("the soil plants go into", max_length=10, choices=COVERS, default="bare")
    warmth_typed = models.BooleanField(
        "typed days of warmth first", default=False, help_text="typed days of warmth before the station's"
    )
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "frost date"

    def __str__(self) -> str:
        return f"frost at {self.garden}"


class Warmth(models.Model):
    """Typed: from this day the morning soil, or the nights, are usually at least so warm."""

    KINDS = (("soil", "morning soil"), ("nights", "nights"))
    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="warmth")
    kind = models.CharField(max_length=8, choices=KINDS)
    celsius = models.FloatField()
    month = models.IntegerField()
    day = models.IntegerField()

    class Meta:
        ordering = ["kind", "celsius"]
        constraints = [models.UniqueConstraint(fields=["garden", "kind", "celsius"], name="one_warmth")]

    def __str__(self) -> str:
        return f"{self.kind} {self.celsius}"

    @property
    def when(self) -> date:
        """The day in a leap year: only day and month count."""
        return date(2000, self.month, self.day)


class ForecastNight(models.Model):
    """The night that begins on the evening of `day`, as forecast."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="nights")
    day = models.DateField()
    tmin_c = models.FloatField()
    tmax_c = models.FloatField(null=True, blank=True)
    cloud = models.FloatField(null=True, blank=True)
    wind_kmh = models.FloatField(null=True, blank=True)
    gust_kmh = models.FloatField(null=True, blank=True)
    rain_mm = models.FloatField(null=True, blank=True)
    hail = models.FloatField(null=True, blank=True, help_text="chance of hail or thunder, 0 to 1")
    source = models.CharField(max_length=20, default="typed")

    class Meta:
        ordering = ["day"]
        constraints = [models.UniqueConstraint(fields=["garden", "day"], name="one_night")]

    def __str__(self) -> str:
        return f"{self.day}: {self.tmin_c}"

    @classmethod
    def of(cls, garden: Garden, night: Night, source: str) -> ForecastNight:
        """What a source says of a night, not yet saved."""
        said = night._asdict()
        return cls(garden=garden, source=source[:20], **said)

    @property
    def night(self) -> Night:
        return Night(
            self.day, self.tmin_c, self.cloud, self.wind_kmh, self.tmax_c, self.gust_kmh, self.rain_mm, self.hail
        )


class GardenNight(models.Model):
    """The garden's own minimum of one day, from a thermometer at screen height."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="own_nights")
    day = models.DateField()
    tmin_c = models.FloatField()
    source = models.CharField(max_length=40, default="typed")

    class Meta:
        ordering = ["-day"]
        constraints = [models.UniqueConstraint(fields=["garden", "day"], name="one_own_night")]

    def __str__(self) -> str:
        return f"{self.day}: {self.tmin_c}"


class SoilReading(models.Model):
    """What a probe 5–10 cm deep said at an hour of the day."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="soil_readings")
    day = models.DateField()
    hour = models.FloatField(default=8, validators=[MinValueValidator(0), MaxValueValidator(24)])
    celsius = models.FloatField()
    source = models.CharField(max_length=40, default="typed")

    class Meta:
        ordering = ["-day", "-hour"]
        constraints = [models.UniqueConstraint(fields=["garden", "day", "hour"], name="one_soil_reading")]

    def __str__(self) -> str:
        return f"{self.day} {self.hour:g} h: {self.celsius}"


class FeedMessage(models.Model):
    """A message that a device sent, by its digest: the same one again changes nothing."""

    feed = models.ForeignKey("Feed", on_delete=models.CASCADE, related_name="messages")
    digest = models.CharField(max_length=40)
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["feed", "digest"], name="one_message")]

    def __str__(self) -> str:
        return f"{self.feed} {self.at:%Y-%m-%d %H:%M}"


class Feed(models.Model):
    """A device or a script that may write into the garden, or read it: known by a token, of which only a digest is kept."""

    SCOPES = (
        ("readings", "post readings"),
        ("read", "read the season"),
        ("tasks", "read, and say what was done"),
        ("everything", "read, and change all that a grower may"),
    )

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="feeds")
    name = models.CharField(max_length=40)
    scope = models.CharField("may", max_length=10, choices=SCOPES, default="readings")
    digest = models.CharField(max_length=64, unique=True)
    revoked = models.BooleanField(default=False)
    last_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name
