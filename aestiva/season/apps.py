"""The rows several stages share, and their parts of the garden's document."""

from django.apps import AppConfig


class SeasonConfig(AppConfig):
    name = "aestiva.season"
    label = "season"

    def ready(self) -> None:
        from aestiva.gardens import journal
        from aestiva.gardens.guards import register_closing
        from aestiva.gardens.portable import register_part, register_settling, register_upgrade
        from aestiva.season import guards
        from aestiva.season.ending import end_ghosts, end_what_is_over
        from aestiva.season.models import TaskNote
        from aestiva.season.portable import PARTS, into_trays

        for part in PARTS:
            register_part(part)
        register_upgrade(4, into_trays)
        guards.register()
        register_closing(end_what_is_over)
        register_settling(end_ghosts)
        journal.open_to_readers(TaskNote)
