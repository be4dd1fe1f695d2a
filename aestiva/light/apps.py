"""Light: lamps, heights, hours, what each batch gets."""

from django.apps import AppConfig


class LightConfig(AppConfig):
    name = "aestiva.light"
    label = "light"

    def ready(self) -> None:
        from django.urls import reverse

        from aestiva.gardens.providers import offer_link, register
        from aestiva.light import commands  # noqa: F401  (they register)
        from aestiva.light.stage import STAGE

        register(STAGE)
        offer_link("light", lambda garden, spot: f"{reverse('light', args=[garden])}?shelf={spot}")
        offer_link("light_had", lambda garden, batch: reverse("light_had", args=[garden, batch]))
