from django.urls import path

from aestiva.gardens.posting import posts
from aestiva.place import reading_views, views, weather_views
from aestiva.place.commands import NoLongerWarmFrom, RevokeKey

urlpatterns = [
    path("place/", views.place, name="place"),
    path("place/line/", views.line, name="line"),
    path("place/waits/", views.waits, name="waits"),
    path("place/typed/", views.typed, name="place_typed"),
    path("place/reckoning/", views.reckoning, name="reckoning"),
    path("place/warmth/", views.warmth, name="warmth"),
    path("place/warmth/<int:warmth_id>/remove/", posts(NoLongerWarmFrom, back="warmth"), name="warmth_remove"),
    path("place/station/", views.station, name="station"),
    path("place/frost.csv", views.frost_csv, name="frost_csv"),
    path("place/weather/", weather_views.weather, name="weather"),
    path("place/weather/made-up/", weather_views.made_up, name="made_up"),
    path("place/weather/<int:station>/", weather_views.past, name="past"),
    path("place/weather/<int:station>/days.csv", weather_views.daily_csv, name="daily_csv"),
    path("place/forecast/", weather_views.forecast, name="forecast"),
    path("place/readings/", reading_views.readings, name="readings"),
    path("place/file/", reading_views.file_read, name="file_read"),
    path("place/feeds/", reading_views.feeds, name="feeds"),
    path("place/feeds/<int:device_id>/revoke/", posts(RevokeKey, back="feeds"), name="feed_revoke"),
]
