from django.urls import path

from cadrin.access.rest import departments, doors, fitting, hours, presence, readers, views

urlpatterns = [
    path("preview/reader/<int:id>/", readers.PreviewReader.as_view()),
    path("preview/schedule/<int:id>/", hours.PreviewSchedule.as_view()),
    path("preview/calendar/<int:id>/", hours.PreviewCalendar.as_view()),
    path("departments/", departments.Departments.as_view()),
    path("departments/<int:id>/", departments.OneDepartment.as_view()),
    path("departments/<int:id>/merge/", departments.DepartmentMerge.as_view()),
    path("doors/<int:id>/", doors.OneDoor.as_view()),
    path("doors/<int:id>/loss/", doors.DoorLoss.as_view()),
    path("presence/", presence.Areas.as_view()),
    path("areas/<int:id>/people/", presence.AreaPeople.as_view()),
    path("cardholders/<int:id>/presence/", presence.CardholderPresence.as_view()),
    path("groups/", views.Groups.as_view()),
    path("preview/groups/", fitting.FindGroups.as_view()),
    path("groups/untidy/", fitting.UntidyGroups.as_view()),
    path("groups/<int:id>/", views.OneGroup.as_view()),
    path("groups/<int:id>/people/", views.GroupPeople.as_view()),
]
