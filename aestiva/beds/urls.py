from django.urls import path

from aestiva.beds import file_views, views

urlpatterns = [
    path("beds/", views.beds, name="beds"),
    path("beds/lay/", views.lay_chosen, name="bed_lay"),
    path("beds/draw/", views.draw, name="bed_draw"),
    path("beds/ground/", views.ground_settings, name="ground"),
    path("beds/use/", views.use, name="bed_use"),
    path("beds/plan.svg", file_views.plan_svg, name="beds_svg"),
    path("beds/list.csv", file_views.beds_csv, name="beds_csv"),
    path("beds/print/", file_views.print_sheet, name="beds_print"),
    path("beds/<int:spot_id>/", views.bed, name="bed"),
    path("beds/<int:spot_id>/lay/", views.place, name="bed_place"),
    path("beds/<int:spot_id>/fit/", views.fits, name="bed_fit"),
    path("beds/<int:spot_id>/measure/", views.bed_change, name="bed_change"),
    path("beds/<int:spot_id>/move/", views.bed_move, name="bed_move"),
    path("beds/area/<int:area_id>/", views.area, name="bed_area"),
    path("beds/area/<int:area_id>/next/", views.following, name="bed_next"),
]
