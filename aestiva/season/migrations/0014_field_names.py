from django.db import migrations

from aestiva.season.migrations._names import rename

RENAMED = {"fresh": "fresh_germination", "tray": "cells_per_tray"}


class Migration(migrations.Migration):

    dependencies = [("season", "0013_no_parent"), ("gardens", "0006_jobs")]

    operations = [migrations.RunPython(lambda apps, _: rename(apps, RENAMED), migrations.RunPython.noop)]
