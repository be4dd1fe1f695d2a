"""Addresses of the demo."""

from django.urls import path

from demo import views

urlpatterns = [
    path("demo/", views.enter, name="demo_enter"),
    path("g/<int:garden_id>/today/clock/", views.clock_step, name="clock_step"),
]
