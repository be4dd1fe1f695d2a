from django.urls import path

from aestiva.hardening import home_views, views

urlpatterns = [
    path("hardening/", views.hardening, name="hardening"),
    path("hardening/ladders.csv", views.ladders_csv, name="ladders_csv"),
    path("door/", views.the_door, name="door"),
    path("door/out/keep/", views.carried_out, name="door_out"),
    path("door/in/keep/", views.brought_in, name="door_in"),
    path("door/looked/keep/", views.looked, name="door_looked"),
    path("door/done/keep/", views.done, name="door_done"),
    path("hardening/people/", home_views.home_hours, name="home_hours"),
    path("hardening/people/hours/keep/", home_views.hours_keep, name="home_hours_keep"),
    path("hardening/people/shelter/keep/", home_views.shelter_keep, name="shelter_keep"),
    path("hardening/people/ladder/keep/", home_views.ladder_keep, name="ladder_keep"),
    path("hardening/people/garden/keep/", home_views.garden_ladder, name="garden_ladder"),
    path("hardening/people/ladder/<int:ladder_id>/remove/", home_views.ladder_remove, name="ladder_remove"),
    path("hardening/batch/<int:batch_id>/climbs/keep/", home_views.climbs, name="ladder_of_batch"),
]
