from django.urls import path

from aestiva.plan import align_views, away_views, crop_views, file_views, late_views, move_views, season_views, views

urlpatterns = [
    path("plan/", season_views.season, name="plan"),
    path("plan/season.svg", season_views.season_file, name="season_svg"),
    path("plan/season/phone/", season_views.season_phone, name="season_phone"),
    path("plan/season.csv", season_views.season_csv, name="season_csv"),
    path("plan/align/", align_views.align, name="align"),
    path("plan/week/", align_views.this_week, name="plan_week"),
    path("plan/away/", away_views.away, name="away"),
    path("plan/away/<int:absence_id>/home/", away_views.home, name="away_home"),
    path("plan/moves/", move_views.moves, name="moves"),
    path("plan/moves/tried/", move_views.tried, name="moves_tried"),
    path("plan/moves/keep/", move_views.keep, name="moves_keep"),
    path("plan/late/", late_views.late, name="late"),
    path("plan/import/", file_views.plantings_import, name="plantings_import"),
    path("tasks.csv", file_views.tasks_csv, name="tasks_csv"),
    path("journal.csv", file_views.journal_csv, name="journal_csv"),
    path("plan/follow/", views.follow, name="plan_follow"),
    path("plan/add/", views.add, name="planting_add"),
    path("plan/preview/", views.preview, name="planting_preview"),
    path("plan/<int:planting_id>/", views.planting, name="planting"),
    path("plan/<int:planting_id>/preview/", views.preview, name="planting_edit_preview"),
    path("plan/<int:planting_id>/cancel/", views.cancel, name="planting_cancel"),
    path("crops/", crop_views.crops, name="crops"),
    path("crops/compare/", crop_views.compare, name="crops_compare"),
    path("crops/own.toml", crop_views.crops_file, name="crops_file"),
    path("crops/import/", crop_views.crops_import, name="crops_import"),
    path("crops/<slug:key>/", crop_views.crop, name="crop"),
    path("crops/<slug:key>/raising/", crop_views.raising, name="crop_raising"),
    path("crops/<slug:key>/<slug:field>/", crop_views.crop_value, name="crop_value"),
]
