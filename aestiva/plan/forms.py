"""A planting as a grower types it."""

from __future__ import annotations

from datetime import date
from math import ceil
from typing import Any

from django import forms
from django.db.models import Q

from aestiva.frame.forms import DayField, DayInput
from aestiva.gardens.models import Garden
from aestiva.season.crops import Crops, method_of
from aestiva.season.models import SURPLUS, Lot, Planting, Spot
from growing.crops import Crop
from growing.place.kinds import GROWN_IN, HOLDS
from growing.seeds.sowing import MOST_WANTED, how_for, surplus_for

EARLIEST, LATEST = 400, 560


class PacketField(forms.ModelChoiceField):
    """A packet of the seed box, by crop, variety and year."""

    def __init__(self, crops: Crops, queryset: Any) -> None:
        super().__init__(
            queryset, required=False, label="Seed from the packet", empty_label="whichever fits the variety"
        )
        self.crops = crops

    def label_from_instance(self, obj: Any) -> str:
        name = self.crops[obj.crop_key].name if obj.crop_key in self.crops else obj.crop_key
        return f"{name} {obj}"


class PlantingForm(forms.ModelForm):
    crop = forms.CharField(
        max_length=60, label="Crop", widget=forms.TextInput(attrs={"list": "crops", "autocomplete": "off"})
    )
    sow_on = DayField(
        required=False,
        label="Sow on",
        help_text="Empty: the best day, which moves with frost and warmth. A day you give is pinned.",
    )
    packet_min = forms.FloatField(required=False, min_value=1, max_value=40, label="Packet says, weeks")
    packet_max = forms.FloatField(required=False, min_value=1, max_value=40, label="to")
    packet_base = forms.ChoiceField(
        required=False,
        label="weeks before",
        choices=(("last_frost", "last frost"), ("transplanting", "planting out")),
    )
    packet_out = forms.FloatField(
        required=False,
        min_value=-20,
        max_value=20,
        label="and to plant, weeks after last frost",
        help_text="Minus for before. Empty: taken as 0.",
    )

    class Meta:
        model = Planting
        fields = [
            "variety",
            "wanted",
            "method",
            "term",
            "wanted_unit",
            "sown_in",
            "surplus",
            "per_cell",
            "chosen_out",
            "spot",
            "raised_at",
            "lot",
            "stood",
            "note",
        ]
        labels = {
            "wanted": "How many wanted",
            "wanted_unit": "Counted in",
            "sown_in": "Sown in",
            "surplus": "Those over are",
            "per_cell": "Seeds per cell",
            "chosen_out": "Plant out on",
            "spot": "Where it will grow",
            "raised_at": "Where it is raised",
            "stood": "They stood until now",
        }
        field_classes = {"chosen_out": DayField}
        widgets = {"chosen_out": DayInput()}
        help_texts = {
            "wanted_unit": "",
            "chosen_out": "Empty: follows the sowing day.",
            "raised_at": "How warm it is there is taken from how it is heated, by month: assumed.",
            "per_cell": "Empty: as this seed asks.",
        }

    def __init__(self, *args: Any, garden: Garden, crops: Crops, today: date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.garden, self.crops, self.today = garden, crops, today
        self.found: Crop | None = None
        self.suggestions: list[Crop] = []
        spot = self.fields["spot"]
        assert isinstance(spot, forms.ModelChoiceField)
        spot.queryset = Spot.objects.filter(garden=garden, kind__in=GROWN_IN)
        spot.empty_label = "not decided"
        room = self.fields["raised_at"]
        assert isinstance(room, forms.ModelChoiceField)
        room.queryset = Spot.objects.filter(garden=garden, kind__in=HOLDS)
        room.empty_label = "not said: as warm as it likes"
        here = Lot.objects.filter(Q(used_up=False) | Q(pk=self.instance.lot_id), garden=garden)
        self.fields["lot"] = PacketField(crops, here.order_by("crop_key", "pk"))
        for optional in ("sown_in", "stood", "wanted_unit", "surplus"):
            self.fields[optional].required = False
        self.fields["wanted"].widget.attrs.update({"min": 1, "inputmode": "numeric"})
        if self.instance.pk:
            self._fill()

    def _fill(self) -> None:
        planting: Planting = self.instance
        key = planting.crop_key
        self.initial.setdefault("crop", self.crops[key].name if key in self.crops else key)
        self.initial.setdefault("sow_on", planting.chosen_sow)
        if planting.wanted_unit == "clumps" and key in self.crops:
            self.initial["wanted"] = ceil(planting.wanted / self._clump(self.crops[key]))
        if planting.packet:
            p = planting.packet
            self.initial.update(
                packet_min=p.get("weeks_min"),
                packet_max=p.get("weeks_max"),
                packet_base=p.get("base"),
                packet_out=p.get("out_weeks"),
            )

    def clean_crop(self) -> str:
        text = self.cleaned_data["crop"].strip()
        meant = self.crops.named(text)
        if meant.likely is not None:
            self.found = meant.likely
            return self.found.key
        self.suggestions = list(meant.like)
        if meant.like:
            names = ", ".join(c.name for c in self.suggestions[:5])
            raise forms.ValidationError(
                f"“{text}” could be {names}: which?"
                if meant.held
                else f"“{text}” is not in the library. Did you mean {names}?"
            )
        raise forms.ValidationError(
            f"“{text}” is not in the library: choose a crop from the list, or add it as your own."
        )

    @staticmethod
    def _clump(crop: Crop) -> int:
        return int(crop.number("plants_per_cell"))

    def clean_wanted_unit(self) -> str:
        return self.cleaned_data.get("wanted_unit") or "plants"

    def _in_season(self, field: str) -> date | None:
        day: date | None = self.cleaned_data.get(field)
        if day is not None and not -EARLIEST <= (day - self.today).days <= LATEST:
            raise forms.ValidationError(
                f"{day:%-d %B %Y} is not in this season: give a day within a year or so of today."
            )
        return day

    def clean_sow_on(self) -> date | None:
        return self._in_season("sow_on")

    def clean_chosen_out(self) -> date | None:
        return self._in_season("chosen_out")

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        lot = data.get("lot")
        if lot is not None and self.found is not None and lot.crop_key != self.found.key:
            self.add_error("lot", f"That packet is {lot.crop_key}, not {self.found.name}: choose another, or none.")
        if data.get("sown_in") == "box" and self.found is not None and self.found.word("transplants") != "easy":
            self.add_error("sown_in", f"{self.found.name} does not stand pricking out: sow it in cells or blocks.")
        if self.found is not None and data.get("method"):
            data["method"] = method_of(self.found, data["method"])
        self._check_surplus(data)
        low, high = data.get("packet_min"), data.get("packet_max")
        if low and high and low > high:
            self.add_error(
                "packet_max", f"{low:g} to {high:g} weeks runs the wrong way: give the smaller number first."
            )
        sow, out = data.get("sow_on"), data.get("chosen_out")
        if sow and out and out < sow:
            self.add_error(
                "chosen_out",
                f"Planting out ({out:%-d %B}) cannot come before sowing ({sow:%-d %B}): change one of them.",
            )
        return data

    def _check_surplus(self, data: dict[str, Any]) -> None:
        """What is over, and how it is counted, as the crop bears it."""
        crop, said = self.found, data.get("surplus", "")
        if crop is None:
            return
        sown_in = data.get("sown_in") or how_for(crop, "").sown_in
        if said and surplus_for(crop, sown_in, said) != said:
            self.add_error(
                "surplus",
                f"{crop.name} sown in {'a box' if sown_in == 'box' else sown_in} cannot be {self._words(said)}: leave it as usual,"
                " or sow it in another way.",
            )
        clump, wanted = self._clump(crop), data.get("wanted")
        if data.get("wanted_unit") == "clumps" and wanted:
            if clump == 1:
                self.add_error("wanted_unit", f"{crop.name} does not stay in clumps: count plants.")
            elif wanted * clump > MOST_WANTED:
                self.add_error(
                    "wanted", f"{wanted} clumps of {clump} are more than {MOST_WANTED:,} plants: give fewer."
                )

    @staticmethod
    def _words(surplus: str) -> str:
        return dict(SURPLUS)[surplus]

    def _packet_of_that_variety(self) -> Lot | None:
        """The one packet of the crop and variety typed, if there is just one."""
        assert self.found is not None
        variety = self.cleaned_data.get("variety", "").strip()
        same = Lot.objects.filter(garden=self.garden, crop_key=self.found.key, variety__iexact=variety, used_up=False)
        found = list(same[:2]) if variety else []
        return found[0] if len(found) == 1 else None

    def planting(self) -> Planting:
        """The planting as typed, not saved."""
        data, planting = self.cleaned_data, self.instance
        assert self.found is not None
        planting.crop_key = self.found.key
        if planting.lot is None and planting.pk is None:
            planting.lot = self._packet_of_that_variety()
        if planting.lot is not None and not planting.variety:
            planting.variety = planting.lot.variety
        if planting.wanted_unit == "clumps":
            planting.wanted = data["wanted"] * self._clump(self.found)
        if "wanted" in self.changed_data:
            planting.as_fits = False  # a number typed goes before the ground
        low = data.get("packet_min") or data.get("packet_max")
        if low:
            planting.packet = {
                "weeks_min": low,
                "weeks_max": data.get("packet_max") or low,
                "base": data.get("packet_base") or "last_frost",
                "out_weeks": data.get("packet_out"),
            }
        else:
            planting.packet = None
        return planting


class GardenCropForm(forms.Form):
    """A crop of the garden's own: from a relative, or from a hardiness and a speed."""

    name = forms.CharField(max_length=60, label="Name of the crop")
    relative = forms.CharField(
        required=False, label="It grows like", widget=forms.TextInput(attrs={"list": "crops", "autocomplete": "off"})
    )
    hardiness = forms.ChoiceField(
        required=False,
        label="or it is",
        choices=[("", "–"), *((h, h) for h in ("hardy", "half-hardy", "tender", "very tender"))],
    )
    speed = forms.ChoiceField(
        required=False,
        label="and grows",
        choices=[
            ("", "–"),
            ("fast", "fast (3–4 weeks indoors)"),
            ("medium", "medium (5–7 weeks)"),
            ("slow", "slow (8–10 weeks)"),
            ("very slow", "very slow (10–14 weeks)"),
        ],
    )

    def __init__(self, *args: Any, crops: Crops, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.crops = crops

    def clean_name(self) -> str:
        name = self.cleaned_data["name"].strip()
        if any(c.name.lower() == name.lower() for c in self.crops):
            raise forms.ValidationError(f"“{name}” is there already: give yours another name.")
        return str(name)

    def clean_relative(self) -> str:
        text = self.cleaned_data["relative"].strip()
        if not text:
            return ""
        crop = self.crops.named(text).crop
        if crop is None:
            raise forms.ValidationError(f"“{text}” is not in the library: choose a crop from the list.")
        return crop.key

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if not self.errors and not data.get("relative") and not (data.get("hardiness") and data.get("speed")):
            raise forms.ValidationError(
                "Say what it grows like, or choose how much cold it stands and how fast it grows."
            )
        return data


class RaisingForm(forms.Form):
    """Own experience of raising: three numbers of weeks in order, and the reason."""

    raise_min = forms.FloatField(min_value=1, max_value=40, label="Raised for at least, weeks")
    raise_max = forms.FloatField(min_value=1, max_value=40, label="and at most, weeks")
    hold = forms.FloatField(
        min_value=1, max_value=60, label="Age limit, weeks", help_text="Past it plants stall, flower or grow woody."
    )
    reason = forms.CharField(
        max_length=200, label="Why", help_text="What you saw: “8–10 gave small plants two years running”."
    )

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        low, high, hold = (data.get(f) for f in ("raise_min", "raise_max", "hold"))
        if low and high and low > high:
            self.add_error("raise_max", f"{low:g} to {high:g} weeks runs the wrong way: give the smaller number first.")
        elif high and hold and high > hold:
            self.add_error(
                "hold", f"The limit ({hold:g} weeks) is under the longest raising time: give {high:g} or more."
            )
        return data


class CropValueForm(forms.Form):
    """One value the garden sets for a crop, with its reason."""

    value = forms.FloatField()
    reason = forms.CharField(max_length=200, label="Why", help_text="Shown whenever the plan is made again.")
