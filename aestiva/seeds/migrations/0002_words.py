
from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('seeds', '0001_initial'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='seedtest',
            options={'ordering': ['on', 'pk'], 'verbose_name': 'test'},
        ),
    ]
