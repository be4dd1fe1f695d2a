from django.urls import path

from aestiva.light import had_views, lamp_views, set_views, views

urlpatterns = [
    path("light/", views.light, name="light"),
    path("light/had.csv", had_views.had_csv, name="light_had_csv"),
    path("light/<int:spot_id>/try/", views.tried, name="light_try"),
    path("light/<int:spot_id>/card/", views.card, name="light_card"),
    path("light/<int:spot_id>/map.csv", views.map_csv, name="light_map_csv"),
    path("light/batch/<int:batch_id>/", had_views.had, name="light_had"),
    path("light/<int:spot_id>/set/keep/", set_views.set_keep, name="light_set"),
    path("light/<int:spot_id>/care/keep/", set_views.care, name="light_care"),
    path("light/<int:spot_id>/read/keep/", set_views.reading, name="light_read"),
    path("light/<int:spot_id>/hang/keep/", set_views.hang, name="light_hang"),
    path("light/<int:spot_id>/lamp/", lamp_views.lamp_new, name="lamp_new"),
    path("light/lamp/<int:lamp_id>/", lamp_views.lamp_change, name="lamp_change"),
    path("light/lamp/<int:lamp_id>/down/keep/", lamp_views.lamp_down, name="lamp_down"),
    path("light/current/", lamp_views.current, name="light_current"),
]
