from django.urls import path

from cadrin.access.rest import views

urlpatterns = [
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
