"""Seeds: what have I, will it come, how many do I sow?"""

from django.apps import AppConfig


class SeedsConfig(AppConfig):
    name = "aestiva.seeds"
    label = "seeds"

    def ready(self) -> None:
        from django.urls import reverse

        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import offer_link, register
        from aestiva.season import sheets
        from aestiva.seeds import commands  # noqa: F401  (they register)
        from aestiva.seeds.portable import PARTS
        from aestiva.seeds.stage import STAGE

        register(STAGE)
        sheets.register_list("lots", "lots_import")
        for part in PARTS:
            register_part(part)
        offer_link("lot", lambda garden_id, pk: reverse("lot", args=[garden_id, pk]))
