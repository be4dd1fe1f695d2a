from django.urls import path

from aestiva.care import feed_views, views

urlpatterns = [
    path("care/", views.care, name="care"),
    path("care/line/", views.line_of_today, name="care_line"),
    path("care/look/keep/", views.look, name="care_look"),
    path("care/fine/keep/", views.fine, name="care_fine"),
    path("care/water.csv", views.water_csv, name="care_water_csv"),
    path("care/feed/", feed_views.feed, name="care_feed"),
    path("care/fed/keep/", feed_views.fed, name="care_fed"),
    path("care/feed/new/", feed_views.product_new, name="feed_new"),
    path("care/feed/<int:feed_id>/edit/", feed_views.product_change, name="feed_change"),
    path("care/feed/<int:feed_id>/remove/", feed_views.product_remove, name="feed_remove"),
]
