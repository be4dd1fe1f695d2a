from django.urls import path

from aestiva.care import feed_views, moving_views, tool_views, trouble_views, views

urlpatterns = [
    path("care/", views.care, name="care"),
    path("care/look/keep/", views.look, name="care_look"),
    path("care/stage/<int:batch_id>/keep/", views.stage, name="care_stage"),
    path("care/moving/", moving_views.moving, name="care_moving"),
    path("care/moving/<int:batch_id>/roots/keep/", moving_views.roots, name="care_roots"),
    path("care/moving/<int:batch_id>/done/keep/", moving_views.done, name="care_work_done"),
    path("care/moving/<int:batch_id>/separate/keep/", moving_views.separate, name="care_separate"),
    path("care/moving/<int:batch_id>/over/keep/", moving_views.over, name="care_over"),
    path("care/trouble/", trouble_views.trouble, name="care_trouble"),
    path("care/trouble/keep/", trouble_views.keep, name="trouble_keep"),
    path("care/trouble/<int:ailment_id>/ended/keep/", trouble_views.ended, name="trouble_ended"),
    path("care/troubles.csv", trouble_views.trouble_csv, name="trouble_csv"),
    path("care/tools/", tool_views.tools, name="care_tools"),
    path("care/tools/sprayer/keep/", tool_views.sprayer, name="care_sprayer"),
    path("care/tools/weights/keep/", tool_views.weights, name="care_weights"),
    path("care/tools/air/keep/", tool_views.air, name="care_air"),
    path("care/weigh/keep/", tool_views.weigh, name="care_weigh"),
    path("care/over/keep/", tool_views.over, name="care_poured"),
    path("care/fine/keep/", views.fine, name="care_fine"),
    path("care/water.csv", views.water_csv, name="care_water_csv"),
    path("care/feed/", feed_views.feed, name="care_feed"),
    path("care/fed/keep/", feed_views.fed, name="care_fed"),
    path("care/feed/new/", feed_views.product_new, name="feed_new"),
    path("care/feed/<int:feed_id>/edit/", feed_views.product_change, name="feed_change"),
    path("care/feed/<int:feed_id>/remove/", feed_views.product_remove, name="feed_remove"),
]
