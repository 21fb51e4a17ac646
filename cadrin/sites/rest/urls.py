from django.urls import path

from cadrin.sites.rest import holidays, places, readers, views

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
    path("areas/", places.Areas.as_view()),
    path("areas/<int:id>/", places.OneArea.as_view()),
    path("doors/", places.Doors.as_view()),
    path("readers/<int:id>/", readers.OneReader.as_view()),
    path("schedules/", views.Schedules.as_view()),
    path("schedules/<int:id>/", views.OneSchedule.as_view()),
]
