"""Place, and its parts of the garden's document."""

from django.apps import AppConfig


class PlaceConfig(AppConfig):
    name = "aestiva.place"
    label = "place"

    def ready(self) -> None:
        from aestiva.gardens.portable import register_part
        from aestiva.place.portable import PARTS

        for part in PARTS:
            register_part(part)
