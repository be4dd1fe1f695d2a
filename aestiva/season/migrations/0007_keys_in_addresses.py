"""Own crops whose key no address can hold get one that it can; everything that names them follows."""

import re

from django.db import migrations
from django.utils.text import slugify

TAKEN = ("compare", "import", "own")


def usable(key):
    return re.fullmatch(r"[A-Za-z0-9_-]{1,60}", key) is not None and key not in TAKEN


def rename(apps, schema_editor):
    Crop = apps.get_model("season", "GardenCrop")
    for crop in Crop.objects.all():
        if usable(crop.key):
            continue
        taken = set(Crop.objects.filter(garden_id=crop.garden_id).values_list("key", flat=True))
        key = slugify(crop.key)[:50].replace("-", "_") or "crop"
        while key in taken or not usable(key):
            key += "_"
        for app, model, where in (
            ("season", "CropValue", "garden"),
            ("season", "Lot", "garden"),
            ("season", "Planting", "season__garden"),
            ("beds", "Use", "garden"),
        ):
            rows = apps.get_model(app, model).objects.filter(**{where: crop.garden_id}, crop_key=crop.key)
            rows.update(crop_key=key)
        Crop.objects.filter(garden_id=crop.garden_id, relative=crop.key).update(relative=key)
        crop.key = key
        crop.save()


class Migration(migrations.Migration):

    dependencies = [
        ('season', '0006_spot_revision'),
        ('beds', '0001_initial'),
    ]

    operations = [migrations.RunPython(rename, migrations.RunPython.noop)]
