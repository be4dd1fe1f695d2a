import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def sort_entries(apps, schema_editor):
    """Entries by kind, which their keys told before; and each entry's rows, which name the entry in the way of an undo."""
    Entry, Touch = apps.get_model("gardens", "JournalEntry"), apps.get_model("gardens", "JournalTouch")
    Entry.objects.filter(key__startswith="note-").update(kind="note")
    Entry.objects.filter(key__startswith="feed-").update(kind="device")
    Entry.objects.filter(key__startswith="import-", user=None).update(kind="imported")
    Entry.objects.filter(kind="change", user=None, by="simulation").update(kind="days")
    touches = []
    for entry in Entry.objects.only("pk", "changes").order_by("pk").iterator(chunk_size=200):
        rows = dict.fromkeys((one["model"], one["pk"]) for one in entry.changes if one.get("pk") is not None)
        touches += [Touch(entry_id=entry.pk, model=model, row=pk) for model, pk in rows]
        if len(touches) > 2000:
            Touch.objects.bulk_create(touches)
            touches = []
    Touch.objects.bulk_create(touches)


class Migration(migrations.Migration):

    dependencies = [
        ('gardens', '0003_validators'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='garden',
            name='begun_with',
            field=models.CharField(editable=False, help_text='one-use key of the post that began it', max_length=64, null=True, unique=True),
        ),
        migrations.AddField(
            model_name='garden',
            name='settings_revision',
            field=models.IntegerField(default=1, help_text='raised when its own fields change'),
        ),
        migrations.AddField(
            model_name='journalentry',
            name='about',
            field=models.ForeignKey(db_index=False, help_text='a person it names', null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='journalentry',
            name='kind',
            field=models.CharField(choices=[('change', 'a change'), ('device', 'what a device sent'), ('days', 'simulated days that went by'), ('note', 'only noted'), ('imported', 'came with a document')], default='change', max_length=10),
        ),
        migrations.AlterField(
            model_name='garden',
            name='revision',
            field=models.IntegerField(default=1, help_text='raised by every entry of its journal'),
        ),
        migrations.CreateModel(
            name='JournalTouch',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('model', models.CharField(max_length=40)),
                ('row', models.BigIntegerField()),
                ('entry', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='touches', to='gardens.journalentry')),
            ],
            options={
                'indexes': [models.Index(fields=['model', 'row'], name='touched_row')],
            },
        ),
        migrations.RunPython(sort_entries, migrations.RunPython.noop),
    ]
