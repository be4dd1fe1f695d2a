from django.db import migrations


class Migration(migrations.Migration):
    """What a batch came from is said by its links alone."""

    dependencies = [("season", "0012_into_trays")]

    operations = [migrations.RemoveField(model_name="batch", name="parent")]
