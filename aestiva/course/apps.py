"""Course: the one view of the season on a day that later pages read; no rows of its own."""

from django.apps import AppConfig


class CourseConfig(AppConfig):
    name = "aestiva.course"
    label = "course"
