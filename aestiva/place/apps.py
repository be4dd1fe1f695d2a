"""Place, and its parts of the garden's document."""

from django.apps import AppConfig


class PlaceConfig(AppConfig):
    name = "aestiva.place"
    label = "place"

    def ready(self) -> None:
        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import register
        from aestiva.gardens.reading import register_reading
        from aestiva.place import commands  # noqa: F401  (they register)
        from aestiva.place.portable import PARTS
        from aestiva.place.stage import STAGE

        register(STAGE)
        register_reading("weather", "growing.place.weathersheet:weather_apart", "weather")
        register_reading("nights", "growing.place.weathersheet:weather_apart", "readings", "file_read")
        register_reading("forecast", "growing.place.weathersheet:weather_apart", "forecast", "file_read")
        register_reading("soil", "growing.place.soilsheet:soil_apart", "readings", "file_read")
        for part in PARTS:
            register_part(part)
