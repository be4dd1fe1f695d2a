"""Plan: the season's plantings and their dates."""

from django.apps import AppConfig


class PlanConfig(AppConfig):
    name = "aestiva.plan"
    label = "plan"

    def ready(self) -> None:
        from django.urls import reverse

        from aestiva.gardens.portable import register_check, register_part
        from aestiva.gardens.providers import offer_effects, offer_link, register
        from aestiva.plan import commands  # noqa: F401  (they register)
        from aestiva.plan.checks import holds_together
        from aestiva.plan.portable import PARTS
        from aestiva.plan.queries import moved_by
        from aestiva.plan.stage import STAGE
        from aestiva.season import sheets

        register(STAGE)
        sheets.register_list("plantings", "plantings_import")
        for part in PARTS:
            register_part(part)
        register_check(holds_together)
        offer_effects(moved_by)
        offer_link("plan_add", lambda garden_id: reverse("planting_add", args=[garden_id]))
        offer_link("ways", lambda garden_id: reverse("ways", args=[garden_id]))
        offer_link("planting", lambda garden_id, pk: reverse("planting", args=[garden_id, pk]))
        offer_link("crop", lambda garden_id, key: reverse("crop", args=[garden_id, key]))
        offer_link("journal_csv", lambda garden_id: reverse("journal_csv", args=[garden_id]))
