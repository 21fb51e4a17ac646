from django.urls import path

from cadrin.access.rest import credentials, formats, row, stock, views

urlpatterns = [
    path("boxes/", stock.Boxes.as_view()),
    path("boxes/<int:id>/", stock.OneBox.as_view()),
    path("card-settings/", credentials.CardSettings.as_view()),
    path("readers/<int:id>/", credentials.OneReader.as_view()),
    path("keypads/<int:id>/", credentials.Keypad.as_view()),
    path("pin-lists/", credentials.PinLists.as_view()),
    path("pin-lists/<int:id>/open/", credentials.PinListOpening.as_view()),
    path("row/people/", row.RowPeople.as_view()),
    path("weigh/row/", row.WeighRow.as_view()),
    path("row/issue/", row.RowIssue.as_view()),
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
