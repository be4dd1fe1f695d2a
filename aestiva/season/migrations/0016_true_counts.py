from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import migrations, models

from aestiva.season.migrations._names import rename

SURPLUS = [
    ("", "as usual for the crop"),
    ("thin", "thinned to one"),
    ("keep", "separated, all kept"),
    ("clump", "left in clumps"),
    ("prick", "pricked out of the box"),
    ("divide", "divided at planting out"),
]
SOWN_IN = [("cells", "cells"), ("blocks", "soil blocks"), ("box", "a box, together")]
COLOURS = ["white", "cream", "yellow", "orange", "red", "pink", "purple", "blue", "green", "brown", "mixed"]


class Migration(migrations.Migration):
    """What happens to the surplus; clumps; a packet's colour and printed germination; life of seed in a room."""

    dependencies = [("season", "0015_true_dates")]

    operations = [
        *(
            migrations.AddField(
                model_name=model,
                name="surplus",
                field=models.CharField(blank=True, choices=SURPLUS, default="", max_length=6, verbose_name="what is over"),
            )
            for model in ("planting", "batch")
        ),
        *(
            migrations.AlterField(
                model_name=model,
                name="sown_in",
                field=models.CharField(choices=SOWN_IN, default="cells", max_length=6, **named),
            )
            for model, named in (("planting", {"verbose_name": "sown in"}), ("batch", {}))
        ),
        migrations.AddField(
            model_name="planting",
            name="wanted_unit",
            field=models.CharField(
                choices=[("plants", "plants"), ("clumps", "clumps")],
                default="plants",
                help_text="how the grower counts; plants are kept",
                max_length=6,
                verbose_name="counted in",
            ),
        ),
        migrations.AddField(
            model_name="lot",
            name="colour",
            field=models.CharField(
                blank=True, choices=[(c, c) for c in COLOURS], default="", max_length=10, verbose_name="flower colour"
            ),
        ),
        migrations.AddField(
            model_name="lot",
            name="printed",
            field=models.FloatField(
                blank=True,
                null=True,
                validators=[MinValueValidator(0.01), MaxValueValidator(1.0)],
                verbose_name="germination on the packet",
            ),
        ),
        migrations.RunPython(
            lambda apps, _: rename(apps, {"seed_years": "life_room_years"}), migrations.RunPython.noop
        ),
    ]
