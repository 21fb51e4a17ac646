from django.urls import path

from cadrin.bulk.rest import views

urlpatterns = [
    path("weigh/batch/", views.PreviewBulkChange.as_view()),
    path("batches/", views.BulkChanges.as_view()),
    path("batches/<int:id>/", views.OneBulkChange.as_view()),
    path("batches/<int:id>/back/", views.UndoBulkChange.as_view()),
]
