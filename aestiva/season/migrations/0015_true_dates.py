from django.db import migrations, models

from aestiva.season.migrations._names import rename

RENAMED = {"night_c": "mean_night_c", "hours_max": "most_light_h", "dli_min": "dli_up", "dli_max": "dli_grow"}


class Migration(migrations.Migration):
    """A sowing day may be the proposed one; a third term; where bought plants stood; fields of crops renamed."""

    dependencies = [("season", "0014_field_names"), ("gardens", "0007_true_dates")]

    operations = [
        migrations.AlterField(
            model_name="planting",
            name="chosen_sow",
            field=models.DateField(
                blank=True,
                help_text="pinned by the grower; empty: as proposed, moving with frost and gates",
                null=True,
                verbose_name="sow on",
            ),
        ),
        migrations.AlterField(
            model_name="planting",
            name="term",
            field=models.CharField(
                choices=[
                    ("spring", "spring and summer"),
                    ("autumn", "autumn and winter"),
                    ("overwinter", "to live through winter"),
                ],
                default="spring",
                max_length=10,
            ),
        ),
        migrations.AddField(
            model_name="planting",
            name="stood",
            field=models.CharField(
                blank=True,
                choices=[("", "nobody knows"), ("glass", "under glass or indoors"), ("outdoors", "outdoors")],
                default="",
                max_length=8,
                verbose_name="bought plants stood",
            ),
        ),
        migrations.RunPython(lambda apps, _: rename(apps, RENAMED), migrations.RunPython.noop),
    ]
