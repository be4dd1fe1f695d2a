"""Timers say what they ring for; until now the beginning of their words did."""

from typing import Any

from django.db import migrations, models

BEGAN = {"in": "carry in what is out", "soak": "soak", "pour": "pour off"}


def say(apps: Any, schema_editor: Any) -> None:
    for kind, began in BEGAN.items():
        apps.get_model("bench", "Timer").objects.filter(what__istartswith=began).update(kind=kind)


class Migration(migrations.Migration):
    dependencies = [("bench", "0002_room")]
    operations = [
        migrations.AddField(
            model_name="timer",
            name="kind",
            field=models.CharField(
                blank=True,
                choices=[
                    ("", "something else"),
                    ("in", "what is out"),
                    ("soak", "seed that soaks"),
                    ("pour", "water under trays"),
                ],
                default="",
                max_length=6,
                verbose_name="rings for",
            ),
        ),
        migrations.RunPython(say, migrations.RunPython.noop),
    ]
