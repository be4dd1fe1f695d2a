"""Today: gathers the tasks of every stage, and the calendar."""

from django.apps import AppConfig


class TodayConfig(AppConfig):
    name = "aestiva.today"
    label = "today"

    def ready(self) -> None:
        from django.urls import reverse

        from aestiva.gardens.providers import offer_link
        from aestiva.today import commands  # noqa: F401  (they register)

        offer_link("calendar", lambda garden_id: reverse("calendar", args=[garden_id]))
        offer_link("openapi", lambda garden_id: reverse("openapi", args=[garden_id]))
        offer_link("task_why", lambda garden_id, key: reverse("task_why", args=[garden_id, key]))
        offer_link("task", lambda garden_id, key: reverse("task", args=[garden_id, key]))
