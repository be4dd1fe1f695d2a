"""Place, and its parts of the garden's document."""

from django.apps import AppConfig


class PlaceConfig(AppConfig):
    name = "aestiva.place"
    label = "place"

    def ready(self) -> None:
        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import register
        from aestiva.place.portable import PARTS
        from aestiva.place.stage import STAGE

        register(STAGE)
        for part in PARTS:
            register_part(part)
