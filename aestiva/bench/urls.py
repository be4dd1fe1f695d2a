from django.urls import path

from aestiva.bench import views

urlpatterns = [
    path("batch/<int:batch_id>/", views.batch, name="batch"),
    path("batch/<int:batch_id>/card/", views.card, name="batch_card"),
    path("batch/<int:batch_id>/record/", views.record, name="batch_record"),
    path("batch/<int:batch_id>/change/", views.change, name="batch_change"),
]
