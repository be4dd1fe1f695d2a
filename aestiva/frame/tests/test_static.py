"""Static files as the server hands them out: under names with their hash, every one that a template asks for."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path

from django.contrib.staticfiles.storage import staticfiles_storage
from django.core.management import call_command
from django.test import SimpleTestCase, override_settings

ROOT = Path(__file__).resolve().parents[3]
HASHED = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedManifestStaticFilesStorage"},
}


class Hashed(SimpleTestCase):
    def test_every_file_that_a_page_asks_for_has_a_name_for_ever(self) -> None:
        wanted = set()
        for page in (ROOT / "aestiva").rglob("*.html"):
            wanted |= set(re.findall(r"""{% static ['"]([^'"]+)['"]""", page.read_text(encoding="utf-8")))
        self.assertGreater(len(wanted), 5)
        with tempfile.TemporaryDirectory() as folder, override_settings(STORAGES=HASHED, STATIC_ROOT=folder):
            call_command("collectstatic", interactive=False, verbosity=0)
            for name in sorted(wanted):
                address = staticfiles_storage.url(name)
                self.assertRegex(address, r"\.[0-9a-f]{12}\.\w+$", name)
                self.assertTrue((Path(folder) / address.removeprefix("/static/")).exists(), address)
            raw = (ROOT / "aestiva/frame/templates/500.html").read_text(encoding="utf-8")
            for name in re.findall(r"/static/([^\"]+)", raw):  # written without templates: the plain name stays
                self.assertTrue((Path(folder) / name).exists(), name)
