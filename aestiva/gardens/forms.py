"""The garden as a grower describes it."""

from __future__ import annotations

from typing import Any
from zoneinfo import available_timezones

from django import forms

from aestiva.frame import say
from aestiva.frame.say import US, WEEKDAYS, shown, stored
from aestiva.gardens.models import Garden
from growing.ladders.ladder import ladders
from growing.place.year import RISK_SCALE
from growing.place.zones import ZonePlace, zone_place

RISKS = (
    (0.05, "1 spring in 20"),
    (0.1, "1 spring in 10"),
    (0.2, "2 springs in 10"),
    (0.25, "1 spring in 4"),
    (0.5, "1 spring in 2"),
)
ZONES = sorted(z for z in available_timezones() if "/" in z and not z.startswith(("Etc/", "SystemV/", "US/")))


class GardenForm(forms.ModelForm):
    timezone = forms.CharField(
        label="Time zone",
        widget=forms.TextInput(attrs={"list": "zones", "autocomplete": "off"}),
    )
    sowing_days = forms.MultipleChoiceField(
        label="Days with time to sow",
        choices=[(str(i), d) for i, d in enumerate(WEEKDAYS)],
        widget=forms.CheckboxSelectMultiple,
        initial=["5", "6"],
    )
    accepted_risk = forms.TypedChoiceField(
        label="Frost risk you accept for tender plants",
        coerce=float,
        choices=RISKS,
        initial=0.1,
        help_text="How often a frost may still come after tender plants are out; hardier ones accept more.",
    )
    elevation_in = forms.ChoiceField(
        choices=[("m", "metres"), ("ft", "feet")], required=False, initial="m", widget=forms.HiddenInput
    )
    ladder = forms.ChoiceField(label="Hardening off", choices=[(k, v.name) for k, v in ladders().items()])

    class Meta:
        model = Garden
        fields = [
            "name",
            "town",
            "latitude",
            "longitude",
            "elevation_m",
            "timezone",
            "units",
            "week_starts",
            "clock",
            "currency",
            "sowing_days",
            "accepted_risk",
            "ladder",
            "sells",
        ]
        labels = {
            "town": "Town or village",
            "elevation_m": "Height above the sea, metres",
            "name": "Name of the garden",
        }
        help_texts = {
            "latitude": "Degrees north of the equator; minus for south.",
            "longitude": "Degrees east; minus for west.",
        }
        widgets = {
            "latitude": forms.NumberInput(attrs={"step": "any"}),
            "longitude": forms.NumberInput(attrs={"step": "any"}),
        }

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        if self.instance.pk:
            self.initial["sowing_days"] = self.instance.sowing_days.split(",")
            if self.instance.ladder not in ladders():  # chosen on the page of who is home
                own = self.fields["ladder"]
                assert isinstance(own, forms.ChoiceField)
                own.choices = [
                    *((k, v.name) for k, v in ladders().items()),
                    (self.instance.ladder, "a ladder of your own"),
                ]
            kept, field = self.instance.accepted_risk, self.fields["accepted_risk"]
            assert isinstance(field, forms.TypedChoiceField)
            if kept not in [value for value, _ in RISKS]:  # set on the frost curve
                field.choices = [*RISKS, (kept, f"{say.percent(kept)}, as kept on the frost curve")]
        if self.instance.pk and self.instance.units != "metric":
            self.fields["elevation_m"].label = "Height above the sea, feet"
            feet = round(shown(self.instance.elevation_m, "m", US)[0])
            self.initial.update(elevation_in="ft", elevation_m=feet)
        self.fields["longitude"].required = False
        self.fields["elevation_m"].required = False

    def clean_timezone(self) -> str:
        zone = str(self.cleaned_data["timezone"]).strip().replace(" ", "_")
        if zone not in ZONES and zone != "UTC":
            raise forms.ValidationError(
                f"“{zone}” is not a time zone: choose one from the list, such as Europe/London."
            )
        return zone

    def clean_longitude(self) -> float:
        return self.cleaned_data.get("longitude") or 0.0

    def clean_elevation_m(self) -> int:
        height = self.cleaned_data.get("elevation_m") or 0
        if self.data.get("elevation_in") != "ft":
            return height
        kept: int = self.instance.elevation_m  # an untouched field is never rewritten
        return kept if height == self.initial.get("elevation_m") else round(stored(height, "m", US))

    def clean_sowing_days(self) -> str:
        return ",".join(self.cleaned_data["sowing_days"])


class BeginForm(GardenForm):
    """A garden that begins: its name and its time zone are enough, for the zone’s own place gives a rough latitude."""

    FIRST = ("name", "town", "timezone")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in ("latitude", "week_starts", "clock", "units"):
            self.fields[name].required = False
        self.fields["timezone"].help_text = "As this device says it. Another one can be chosen from the list."

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        rough = zone_place(data.get("timezone", ""))
        if data.get("latitude") is None and "latitude" not in self.errors and "timezone" not in self.errors:
            if rough is None:
                self.add_error(
                    "latitude",
                    f"{data.get('timezone')} belongs to no one place: give a latitude, such as 52 for 52° north or −41 for 41° south.",
                )
            else:
                data["latitude"], data["longitude"] = rough.latitude, rough.longitude
        usual = habits(rough)
        for name in ("units", "week_starts", "clock"):
            if data.get(name) in (None, ""):
                data[name] = usual[name]
        return data


def habits(rough: ZonePlace | None) -> dict[str, Any]:
    """Units, first day of the week, clock and money as is usual where that zone's place lies; all can be corrected."""
    american = rough is not None and rough.country in ("US", "LR")
    sunday = rough is not None and rough.country in ("US", "CA", "MX", "BR", "JP", "IL", "IN", "ZA", "KR", "TW", "PH")
    return {
        "units": "us" if american else "metric",
        "week_starts": 6 if sunday else 0,
        "clock": "12" if rough is not None and rough.country in ("US", "CA", "AU", "NZ", "IN", "PH") else "24",
    }


SCALES = {f"risk_{h.replace('-', '_').replace(' ', '_')}": h for h in RISK_SCALE}


def _times(hardiness: str) -> forms.FloatField:
    return forms.FloatField(
        required=False,
        min_value=0.1,
        max_value=5,
        label=f"Times the accepted risk for {hardiness} crops",
        help_text=f"Empty: {RISK_SCALE[hardiness]:g}. Never more than every second spring.",
    )


class SettingsForm(GardenForm):
    """The same for a garden that lives, with the season in hand."""

    year = forms.IntegerField(
        label="Season in hand, by the year of its spring",
        min_value=1990,
        max_value=2100,
        help_text="Plan and Today show this season; earlier ones stay as they are.",
    )

    risk_hardy = _times("hardy")
    risk_half_hardy = _times("half-hardy")
    risk_tender = _times("tender")
    risk_very_tender = _times("very tender")

    class Meta(GardenForm.Meta):
        fields = [*GardenForm.Meta.fields, "year"]

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, hardiness in SCALES.items():
            self.initial[name] = self.instance.risk_scale.get(hardiness, RISK_SCALE[hardiness])

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        given = {hardiness: data.get(name) for name, hardiness in SCALES.items()}
        self.instance.risk_scale = {
            hardiness: times
            for hardiness, times in given.items()
            if times is not None and times != RISK_SCALE[hardiness]
        }
        return data
