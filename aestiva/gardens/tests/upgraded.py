"""Run by `test_upgrade` on a database of the release before: migrate it, take back its last ten entries, put them back.

`python -m aestiva.gardens.tests.upgraded` with AESTIVA_DATA; prints one JSON line.
"""

from __future__ import annotations

import json
import os
from typing import Any

PAGES = ("today/", "plan/", "seeds/", "beds/", "place/", "calendar/", "journal/", "crops/", "members/")


MOVED = ("today/", "journal/")  # looked at after every step; all of them before the first and after the last


def main() -> dict[str, Any]:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "aestiva.settings")
    import django

    django.setup()
    from django.core.management import call_command
    from django.test import Client
    from django.test.utils import setup_test_environment

    call_command("migrate", verbosity=0)
    setup_test_environment()
    from aestiva.gardens.models import Garden, JournalEntry, JournalTouch
    from soak.walk import state

    found: dict[str, Any] = {"kinds": {}, "gardens": {}, "touches": JournalTouch.objects.count()}
    for entry in JournalEntry.objects.all():
        found["kinds"][entry.kind] = found["kinds"].get(entry.kind, 0) + 1
    for garden in Garden.objects.exclude(name="Kanuka Flat"):
        client = Client()
        client.force_login(
            garden.members.filter(role="owner").get().user, backend="django.contrib.auth.backends.ModelBackend"
        )
        said: list[str] = []

        def look(
            when: str,
            pages: tuple[str, ...] = PAGES,
            garden: Garden = garden,
            client: Client = client,
            said: list[str] = said,
        ) -> None:
            for page in pages:
                status = client.get(f"/g/{garden.pk}/{page}").status_code
                if status != 200:
                    said.append(f"{when}: {page} {status}")

        look("migrated")
        whole = state(garden)
        entries = [e for e in JournalEntry.objects.filter(garden=garden) if e.can_be_taken_back][:10]
        for entry in entries:
            client.post(f"/g/{garden.pk}/journal/{entry.pk}/undo/")
            if not JournalEntry.objects.filter(undoes=entry).exists():
                said.append(f"not taken back: {entry.summary}")
            look(entry.summary, MOVED)
        look("taken back")
        for entry in reversed(entries):
            undone = JournalEntry.objects.filter(undoes=entry).first()
            if undone is not None:
                client.post(f"/g/{garden.pk}/journal/{undone.pk}/undo/")
        changed = [label for label, rows in state(garden).items() if rows != whole[label]]
        found["gardens"][garden.name] = {"taken back": len(entries), "said": said, "not as before": changed}
    return found


if __name__ == "__main__":
    print(json.dumps(main()))
