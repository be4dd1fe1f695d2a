"""Care: water, feed, moving on, what goes wrong."""

from django.apps import AppConfig
from django.urls import reverse


class CareConfig(AppConfig):
    name = "aestiva.care"
    label = "care"

    def ready(self) -> None:
        from aestiva.care import commands  # noqa: F401  (they register)
        from aestiva.care.portable import PARTS
        from aestiva.care.stage import STAGE
        from aestiva.care.weigh import from_scale
        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import offer_link, offer_taker, register

        register(STAGE)
        offer_taker("scale", from_scale)
        offer_link("trouble_of", lambda garden, batch: f"{reverse('care_trouble', args=[garden])}?batch={batch}")
        offer_link("care_round", lambda garden: reverse("care", args=[garden]))
        offer_link("moving_of", lambda garden, batch: f"{reverse('care_moving', args=[garden])}?batch={batch}")
        for part in PARTS:
            register_part(part)
