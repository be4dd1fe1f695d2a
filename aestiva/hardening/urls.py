from functools import partial

from django.urls import path

from aestiva.gardens.posting import posts
from aestiva.hardening import commands, home_views, views

at_door = partial(posts, back="door", page=views.page)
at_home = partial(posts, back="home_hours", page=home_views.page)

urlpatterns = [
    path("hardening/", views.hardening, name="hardening"),
    path("hardening/ladders.csv", views.ladders_csv, name="ladders_csv"),
    path("door/", views.the_door, name="door"),
    path("door/out/keep/", at_door(commands.door.CarriedOut), name="door_out"),
    path("door/in/keep/", at_door(commands.door.BroughtIn, to="#looks"), name="door_in"),
    path("door/looked/keep/", at_door(commands.door.Looked), name="door_looked"),
    path("door/done/keep/", at_door(commands.door.AtTheDoor), name="door_done"),
    path("hardening/people/", home_views.home_hours, name="home_hours"),
    path("hardening/people/hours/keep/", at_home(commands.home.AtHome), name="home_hours_keep"),
    path("hardening/people/shelter/keep/", at_home(commands.home.Shelter), name="shelter_keep"),
    path("hardening/people/ladder/keep/", at_home(commands.home.KeepLadder), name="ladder_keep"),
    path("hardening/people/garden/keep/", at_home(commands.home.LadderOfGarden), name="garden_ladder"),
    path("hardening/people/ladder/<int:ladder_id>/remove/", at_home(commands.home.RemoveLadder), name="ladder_remove"),
    path("hardening/batch/<int:batch_id>/climbs/keep/", at_home(commands.home.Climbs), name="ladder_of_batch"),
]
