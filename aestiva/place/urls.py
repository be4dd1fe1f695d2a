from django.urls import path

from aestiva.place import views

urlpatterns = [
    path("place/", views.place, name="place"),
    path("place/typed/", views.typed, name="place_typed"),
    path("place/warmth/", views.warmth, name="warmth"),
    path("place/weather/", views.weather, name="weather"),
    path("place/station/", views.station, name="station"),
    path("place/forecast/", views.forecast, name="forecast"),
]
