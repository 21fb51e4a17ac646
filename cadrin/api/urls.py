from django.urls import path

from cadrin.api import cardholders, cards, departments, events, groups, places, schedules

urlpatterns = [
    path("cardholders", cardholders.Cardholders.as_view()),
    path("cardholders/<int:id>", cardholders.OneCardholder.as_view()),
    path("cardholders/<int:id>/memberships/<int:group>", cardholders.OneMembership.as_view()),
    path("cards", cards.Cards.as_view()),
    path("cards/<int:id>", cards.OneCard.as_view()),
    path("groups", groups.Groups.as_view()),
    path("groups/<int:id>", groups.OneGroup.as_view()),
    path("groups/<int:id>/members", groups.GroupMembers.as_view()),
    path("schedules", schedules.Schedules.as_view()),
    path("schedules/<int:id>", schedules.OneSchedule.as_view()),
    path("departments", departments.Departments.as_view()),
    path("departments/<int:id>", departments.OneDepartment.as_view()),
    path("companies", departments.Companies.as_view()),
    path("kinds", departments.Kinds.as_view()),
    path("formats", departments.Formats.as_view()),
    path("custom-fields", departments.CustomFields.as_view()),
    path("sites", places.Sites.as_view()),
    path("doors", places.Doors.as_view()),
    path("doors/<int:id>", places.OneDoor.as_view()),
    path("readers", places.Readers.as_view()),
    path("readers/<int:id>", places.OneReader.as_view()),
    path("controllers", places.Controllers.as_view()),
    path("controllers/<int:id>", places.OneController.as_view()),
    path("reads", events.Reads.as_view()),
    path("reads/<int:id>", events.OneRead.as_view()),
    path("journal", events.Journal.as_view()),
    path("journal/<int:id>", events.OneEntry.as_view()),
]
