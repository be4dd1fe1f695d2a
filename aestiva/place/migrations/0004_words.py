
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('place', '0003_climate'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='frost',
            options={'verbose_name': 'frost date'},
        ),
        migrations.AlterField(
            model_name='frost',
            name='basis',
            field=models.CharField(choices=[('all', 'all years on record, at most the latest thirty'), ('recent', 'the latest fifteen years'), ('adjusted', 'all years, each moved along the trend to the latest')], default='all', max_length=10, verbose_name='years that speak'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='cover',
            field=models.CharField(choices=[('bare', 'open ground'), ('raised', 'raised beds'), ('dark', 'dark cover on the soil'), ('tunnel', 'under a tunnel')], default='bare', max_length=10, verbose_name='the soil plants go into'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='first_meaning',
            field=models.CharField(choices=[('average', 'the average: half of the years are later'), ('safe', 'a safe date: only one year in ten is later'), ('unknown', 'I don’t know (it is taken as the average)')], default='unknown', max_length=10, verbose_name='the first frost is'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='first_on',
            field=models.DateField(blank=True, null=True, verbose_name='first frost in autumn'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='first_spread',
            field=models.FloatField(blank=True, null=True, verbose_name='spread in autumn, days'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='last_meaning',
            field=models.CharField(choices=[('average', 'the average: half of the years are later'), ('safe', 'a safe date: only one year in ten is later'), ('unknown', 'I don’t know (it is taken as the average)')], default='unknown', max_length=10, verbose_name='the last frost is'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='last_on',
            field=models.DateField(blank=True, null=True, verbose_name='last frost in spring'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='last_spread',
            field=models.FloatField(blank=True, null=True, verbose_name='spread, days'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='shift_c',
            field=models.FloatField(default=0, verbose_name='garden against the station, °C'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='source',
            field=models.CharField(blank=True, max_length=120, verbose_name='where from'),
        ),
        migrations.AlterField(
            model_name='frost',
            name='warmth_typed',
            field=models.BooleanField(default=False, help_text="typed days of warmth before the station's", verbose_name='typed days of warmth first'),
        ),
    ]
