"""Seeds: finding, soaking and chilling them.  (Lots and tests come with their own view.)"""

from django.apps import AppConfig


class SeedsConfig(AppConfig):
    name = "aestiva.seeds"
    label = "seeds"

    def ready(self) -> None:
        from aestiva.gardens.providers import Stage, register
        from growing.tasks import seeds

        register(Stage("seeds", seeds.tasks))
