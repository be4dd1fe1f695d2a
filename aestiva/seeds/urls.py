from django.urls import path

from aestiva.seeds import count_views, drawer_views, file_views, views

urlpatterns = [
    path("seeds/", views.seeds, name="seeds"),
    path("seeds/orders/", views.orders, name="seed_orders"),
    path("seeds/orders.csv", file_views.orders_csv, name="orders_csv"),
    path("seeds/drawer/", drawer_views.drawer, name="drawer"),
    path("seeds/import/", file_views.lots_import, name="lots_import"),
    path("lots.csv", file_views.lots_csv, name="lots_csv"),
    path("seeds/count/<int:planting_id>/", count_views.count, name="seed_count"),
    path("seeds/<int:lot_id>/", views.lot, name="lot"),
    path("seeds/<int:lot_id>/facts/", views.facts, name="lot_facts"),
    path("seeds/<int:lot_id>/text/", views.text, name="lot_text"),
    path("seeds/<int:lot_id>/test/", views.test, name="lot_test"),
]
