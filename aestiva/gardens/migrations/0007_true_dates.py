from django.db import migrations, models

import aestiva.gardens.models


def ask(apps, schema_editor):
    """Gardens that were there are asked once whether sowing days that were only kept may follow."""
    apps.get_model("gardens", "Garden").objects.update(follow_asked=False)


class Migration(migrations.Migration):

    dependencies = [("gardens", "0006_jobs")]

    operations = [
        migrations.AddField(
            model_name="garden",
            name="risk_scale",
            field=models.JSONField(
                blank=True,
                default=dict,
                validators=[aestiva.gardens.models.known_scale],
                help_text="only where it differs from the usual",
                verbose_name="times that risk, by hardiness",
            ),
        ),
        migrations.AddField(
            model_name="garden",
            name="follow_asked",
            field=models.BooleanField(
                default=True,
                editable=False,
                help_text="whether sowing days kept as proposed may follow has been asked",
            ),
        ),
        migrations.RunPython(ask, migrations.RunPython.noop),
    ]
