from django.urls import path

from cadrin.bulk.rest import views

urlpatterns = [
    path("preview/bulk-change/", views.PreviewBulkChange.as_view()),
    path("bulk-changes/", views.BulkChanges.as_view()),
    path("bulk-changes/<int:id>/", views.OneBulkChange.as_view()),
    path("bulk-changes/<int:id>/undo/", views.UndoBulkChange.as_view()),
]
