from django.urls import path

from cadrin.sites.rest import door_acts, holidays, places, plans, readers, views

urlpatterns = [
    path("coming/", views.ComingInstants.as_view()),
    path("holidays/", holidays.Holidays.as_view()),
    path("holidays/countries/", holidays.Countries.as_view()),
    path("holidays/public/", holidays.PublicHolidays.as_view()),
    path("holidays/file/", holidays.FileOfHolidays.as_view()),
    path("holidays/kinds/", holidays.HolidayKinds.as_view()),
    path("holidays/kinds/<int:id>/", holidays.OneHolidayKind.as_view()),
    path("holidays/<int:id>/", holidays.OneCalendar.as_view()),
    path("holidays/<int:id>/file/", holidays.CalendarFile.as_view()),
    path("places/", places.Places.as_view()),
    path("sites/", places.Sites.as_view()),
    path("sites/<int:id>/", places.OneSite.as_view()),
    path("sites/<int:id>/plan/", plans.SitePlanView.as_view()),
    path("sites/<int:id>/plan/picture/", plans.PlanPicture.as_view()),
    path("areas/", places.Areas.as_view()),
    path("areas/<int:id>/", places.OneArea.as_view()),
    path("doors/", places.Doors.as_view()),
    path("doors/<int:id>/acts/", door_acts.DoorActs.as_view()),
    path("doors/<int:id>/order/", door_acts.DoorOrder.as_view()),
    path("door-acts/<int:id>/", door_acts.DoorActOutcome.as_view()),
    path("release-groups/", door_acts.ReleaseGroups.as_view()),
    path("release-groups/<int:id>/", door_acts.OneReleaseGroup.as_view()),
    path("release-groups/<int:id>/release/", door_acts.Releasing.as_view()),
    path("release-groups/<int:id>/end/", door_acts.EndingRelease.as_view()),
    path("readers/<int:id>/", readers.OneReader.as_view()),
    path("schedules/", views.Schedules.as_view()),
    path("schedules/<int:id>/", views.OneSchedule.as_view()),
]
