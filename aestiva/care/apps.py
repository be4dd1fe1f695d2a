"""Care: water, feed, moving on, what goes wrong."""

from django.apps import AppConfig


class CareConfig(AppConfig):
    name = "aestiva.care"
    label = "care"

    def ready(self) -> None:
        from aestiva.care.portable import PARTS
        from aestiva.care.stage import STAGE
        from aestiva.care.weigh import from_scale
        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import offer_taker, register

        register(STAGE)
        offer_taker("scale", from_scale)
        for part in PARTS:
            register_part(part)
