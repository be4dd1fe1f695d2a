from django.apps import AppConfig


class GardensConfig(AppConfig):
    name = "aestiva.gardens"
    label = "gardens"

    def ready(self) -> None:
        from aestiva.gardens.jobs import register_work
        from aestiva.gardens.look_in import look_into
        from aestiva.gardens.models import ColumnMeaning
        from aestiva.gardens.portable import Part, register_part

        register_work("import", look_into)
        register_part(Part("column_meanings", ColumnMeaning, "garden", ("sheet", "heading", "meaning")))
