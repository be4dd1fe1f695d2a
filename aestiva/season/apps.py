"""The rows several stages share, and their parts of the garden's document."""

from django.apps import AppConfig


class SeasonConfig(AppConfig):
    name = "aestiva.season"
    label = "season"

    def ready(self) -> None:
        from aestiva.gardens.portable import register_part
        from aestiva.season import guards
        from aestiva.season.portable import PARTS

        for part in PARTS:
            register_part(part)
        guards.register()
