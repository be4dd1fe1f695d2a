
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('season', '0005_sown_in'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='spot',
            options={'ordering': ['order', 'code'], 'verbose_name': 'place'},
        ),
        migrations.AddField(
            model_name='spot',
            name='revision',
            field=models.IntegerField(default=1),
        ),
    ]
