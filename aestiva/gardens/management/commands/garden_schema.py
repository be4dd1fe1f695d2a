"""`manage.py garden_schema`: writes docs/garden.schema.json from the parts that write the document."""

import json
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from aestiva.gardens.portable import schema


class Command(BaseCommand):
    help = "Writes the JSON Schema of the garden document."

    def handle(self, *args: Any, **options: Any) -> None:
        path = settings.BASE_DIR / "docs" / "garden.schema.json"
        path.write_text(json.dumps(schema(), indent=1) + "\n", encoding="utf-8")
        self.stdout.write(str(path))
