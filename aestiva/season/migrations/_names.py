"""Fields of crops under plainer names: in gardens' own values, in what packets and plantings say, and in the journal."""

HELD = {"season.Lot": "facts", "season.Planting": "values"}


def rename(apps, renamed):
    values = apps.get_model("season", "CropValue")
    for old, new in renamed.items():
        values.objects.filter(field=old).update(field=new)
    for name, column in (("Lot", "facts"), ("Planting", "values")):
        model = apps.get_model("season", name)
        for row in model.objects.exclude(**{column: {}}):
            held = _renamed(getattr(row, column), renamed)
            if held != getattr(row, column):
                model.objects.filter(pk=row.pk).update(**{column: held})
    entries = apps.get_model("gardens", "JournalEntry").objects
    touched = apps.get_model("gardens", "JournalTouch").objects.filter(model__in=["season.CropValue", *HELD])
    for entry in entries.filter(pk__in=touched.values("entry")).iterator(chunk_size=50):
        changes = [_told(one, renamed) for one in entry.changes]
        if changes != entry.changes:
            entry.changes = changes
            entry.save(update_fields=["changes"])


def _renamed(held, renamed):
    return {renamed.get(field, field): value for field, value in held.items()} if isinstance(held, dict) else held


def _told(one, renamed):
    found = dict(one)
    for when in ("before", "after"):
        row = one[when]
        if not row:
            continue
        if one["model"] == "season.CropValue" and row.get("field") in renamed:
            found[when] = {**row, "field": renamed[row["field"]]}
        elif (column := HELD.get(one["model"])) and column in row:
            found[when] = {**row, column: _renamed(row[column], renamed)}
    return found
