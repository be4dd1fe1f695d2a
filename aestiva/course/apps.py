"""Course: the one view of the season on a day that later pages read; no rows of its own."""

from django.apps import AppConfig


class CourseConfig(AppConfig):
    name = "aestiva.course"
    label = "course"

    def ready(self) -> None:
        from aestiva.course.state import ground_of
        from aestiva.place.dating import ask_of_ground

        ask_of_ground(ground_of)
