
import aestiva.gardens.models
import django.core.validators
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('gardens', '0004_firm_ground'),
    ]

    operations = [
        migrations.AlterField(
            model_name='garden',
            name='accepted_risk',
            field=models.FloatField(default=0.1, validators=[django.core.validators.MinValueValidator(0.01), django.core.validators.MaxValueValidator(0.5)], verbose_name='accepted frost risk'),
        ),
        migrations.AlterField(
            model_name='garden',
            name='elevation_m',
            field=models.IntegerField(default=0, validators=[django.core.validators.MinValueValidator(-430), django.core.validators.MaxValueValidator(6000)], verbose_name='height above the sea, m'),
        ),
        migrations.AlterField(
            model_name='garden',
            name='ladder',
            field=models.CharField(default='seven', max_length=10, validators=[django.core.validators.RegexValidator('^(five|seven|ten)$', 'no such ladder')], verbose_name='hardening off'),
        ),
        migrations.AlterField(
            model_name='garden',
            name='sowing_days',
            field=models.CharField(default='5,6', max_length=20, validators=[django.core.validators.RegexValidator('^[0-6](,[0-6])*$', 'weekdays 0 to 6')], verbose_name='days with time to sow'),
        ),
        migrations.AlterField(
            model_name='garden',
            name='timezone',
            field=models.CharField(default='UTC', max_length=60, validators=[aestiva.gardens.models.known_zone], verbose_name='time zone'),
        ),
        migrations.AlterField(
            model_name='garden',
            name='town',
            field=models.CharField(blank=True, max_length=80, verbose_name='town or village'),
        ),
        migrations.AlterField(
            model_name='garden',
            name='year',
            field=models.IntegerField(help_text='the growing season in hand, by the year of its spring', verbose_name='season in hand'),
        ),
    ]
