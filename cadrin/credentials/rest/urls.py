from django.urls import path

from cadrin.credentials.rest import formats, settings, stock

urlpatterns = [
    path("boxes/", stock.Boxes.as_view()),
    path("boxes/<int:id>/", stock.OneBox.as_view()),
    path("card-settings/", settings.CardSettings.as_view()),
    path("stock/", stock.FreeCards.as_view()),
    path("stock/status/", stock.StockStatus.as_view()),
    path("preview/box/", stock.PreviewBox.as_view()),
    path("formats/", formats.Formats.as_view()),
    path("formats/<int:id>/", formats.OneFormat.as_view()),
    path("preview/format/", formats.PreviewFormat.as_view()),
]
