
import aestiva.season.models
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('season', '0007_keys_in_addresses'),
    ]

    operations = [
        migrations.AlterField(
            model_name='gardencrop',
            name='key',
            field=models.SlugField(max_length=60, validators=[aestiva.season.models.usable_in_addresses]),
        ),
    ]
