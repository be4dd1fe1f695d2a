
import django.core.validators
import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('season', '0008_crop_keys'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='bedarea',
            options={'verbose_name': 'area'},
        ),
        migrations.AlterModelOptions(
            name='lot',
            options={'verbose_name': 'packet'},
        ),
        migrations.AlterField(
            model_name='bedarea',
            name='edge',
            field=models.BooleanField(default=True, help_text='half a spacing kept to the edge', verbose_name='half a distance kept to the edge'),
        ),
        migrations.AlterField(
            model_name='bedarea',
            name='length_cm',
            field=models.FloatField(validators=[django.core.validators.MinValueValidator(5.0), django.core.validators.MaxValueValidator(20000.0)], verbose_name='length, cm'),
        ),
        migrations.AlterField(
            model_name='bedarea',
            name='pattern',
            field=models.CharField(choices=[('square', 'square'), ('staggered', 'staggered'), ('single', 'one plant')], default='square', max_length=10, verbose_name='set out'),
        ),
        migrations.AlterField(
            model_name='bedarea',
            name='spacing_cm',
            field=models.FloatField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(2.0), django.core.validators.MaxValueValidator(300.0)], verbose_name='distance, cm'),
        ),
        migrations.AlterField(
            model_name='bedarea',
            name='width_cm',
            field=models.FloatField(validators=[django.core.validators.MinValueValidator(5.0), django.core.validators.MaxValueValidator(20000.0)], verbose_name='width, cm'),
        ),
        migrations.AlterField(
            model_name='bedarea',
            name='x_cm',
            field=models.FloatField(validators=[django.core.validators.MinValueValidator(0.0), django.core.validators.MaxValueValidator(50000.0)], verbose_name='from the left, cm'),
        ),
        migrations.AlterField(
            model_name='bedarea',
            name='y_cm',
            field=models.FloatField(validators=[django.core.validators.MinValueValidator(0.0), django.core.validators.MaxValueValidator(50000.0)], verbose_name='from above, cm'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='facts',
            field=models.JSONField(blank=True, default=dict, help_text='crop field: [value, why]', verbose_name='what the packet says'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='origin',
            field=models.CharField(blank=True, default='', help_text='where it was bought', max_length=60, verbose_name='bought from'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='packed_year',
            field=models.IntegerField(blank=True, null=True, verbose_name='packed for'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='packet',
            field=models.JSONField(blank=True, help_text='weeks before which base, as on the packet', null=True, verbose_name='weeks on the packet'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='packet_seeds',
            field=models.IntegerField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(10000000)], verbose_name='seeds in a new packet'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='seeds_per_g',
            field=models.FloatField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(0.1), django.core.validators.MaxValueValidator(100000.0)], verbose_name='seeds in a gram'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='storage',
            field=models.CharField(blank=True, default='', max_length=10, verbose_name='kept in'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='storage_c',
            field=models.FloatField(blank=True, null=True, verbose_name='kept at, °C'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='storage_rh',
            field=models.FloatField(blank=True, null=True, verbose_name='kept at, % humidity'),
        ),
        migrations.AlterField(
            model_name='lot',
            name='used_up',
            field=models.BooleanField(default=False, verbose_name='the packet is empty'),
        ),
        migrations.AlterField(
            model_name='planting',
            name='as_fits',
            field=models.BooleanField(default=False, help_text='as many as its areas hold, instead of a typed number', verbose_name='as many as fit'),
        ),
        migrations.AlterField(
            model_name='planting',
            name='cancelled_on',
            field=models.DateField(blank=True, null=True, verbose_name='cancelled on'),
        ),
        migrations.AlterField(
            model_name='planting',
            name='chosen_out',
            field=models.DateField(blank=True, null=True, verbose_name='plant out on'),
        ),
        migrations.AlterField(
            model_name='planting',
            name='chosen_sow',
            field=models.DateField(verbose_name='sow on'),
        ),
        migrations.AlterField(
            model_name='planting',
            name='lot',
            field=models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.RESTRICT, to='season.lot', verbose_name='seed from'),
        ),
        migrations.AlterField(
            model_name='planting',
            name='per_cell',
            field=models.IntegerField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(12)], verbose_name='seeds per cell'),
        ),
        migrations.AlterField(
            model_name='planting',
            name='sown_in',
            field=models.CharField(choices=[('cells', 'cells'), ('blocks', 'soil blocks'), ('box', 'a box, pricked out')], default='cells', max_length=6, verbose_name='sown in'),
        ),
        migrations.AlterField(
            model_name='planting',
            name='spot',
            field=models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.RESTRICT, to='season.spot', verbose_name='where it will grow'),
        ),
        migrations.AlterField(
            model_name='planting',
            name='wanted',
            field=models.IntegerField(validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(20000)], verbose_name='plants wanted'),
        ),
        migrations.AlterField(
            model_name='spot',
            name='code',
            field=models.CharField(max_length=12, verbose_name='name, short'),
        ),
        migrations.AlterField(
            model_name='spot',
            name='length_cm',
            field=models.FloatField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(5.0), django.core.validators.MaxValueValidator(20000.0)], verbose_name='length, cm'),
        ),
        migrations.AlterField(
            model_name='spot',
            name='sun',
            field=models.CharField(blank=True, choices=[('', 'not said'), ('sun', 'full sun'), ('part', 'half shade'), ('shade', 'shade')], default='', max_length=6, verbose_name='light'),
        ),
        migrations.AlterField(
            model_name='spot',
            name='width_cm',
            field=models.FloatField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(5.0), django.core.validators.MaxValueValidator(20000.0)], verbose_name='width, cm'),
        ),
        migrations.AlterField(
            model_name='spot',
            name='x_cm',
            field=models.FloatField(blank=True, help_text="from the plan's left edge", null=True, validators=[django.core.validators.MinValueValidator(0.0), django.core.validators.MaxValueValidator(50000.0)], verbose_name='from the left, cm'),
        ),
        migrations.AlterField(
            model_name='spot',
            name='y_cm',
            field=models.FloatField(blank=True, help_text="from the plan's upper edge", null=True, validators=[django.core.validators.MinValueValidator(0.0), django.core.validators.MaxValueValidator(50000.0)], verbose_name='from above, cm'),
        ),
    ]
