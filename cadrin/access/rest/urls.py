from django.urls import path

from cadrin.access.rest import formats, stock, views

urlpatterns = [
    path("boxes/", stock.Boxes.as_view()),
    path("stock/", stock.FreeCards.as_view()),
    path("weigh/box/", stock.WeighBox.as_view()),
    path("formats/", formats.Formats.as_view()),
    path("formats/<int:id>/", formats.OneFormat.as_view()),
    path("weigh/format/", formats.WeighFormat.as_view()),
    path("weigh/number/", formats.NumberDetective.as_view()),
    path("house/", views.HouseChoices.as_view()),
    path("files/new/", views.NewFile.as_view()),
    path("files/<int:id>/", views.OneFile.as_view()),
    path("cardholders/<int:id>/cards/suspend/", views.CardSuspension.as_view()),
    path("departments/", views.Departments.as_view()),
    path("departments/<int:id>/", views.OneDepartment.as_view()),
    path("departments/<int:id>/merge/", views.DepartmentMerge.as_view()),
    path("groups/", views.Groups.as_view()),
    path("groups/<int:id>/", views.OneGroup.as_view()),
    path("groups/<int:id>/people/", views.GroupPeople.as_view()),
    path("schedules/", views.Schedules.as_view()),
    path("schedules/<int:id>/", views.OneSchedule.as_view()),
]
