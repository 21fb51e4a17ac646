from django.urls import path

from cadrin.enrolment.rest import (
    choices,
    drafts,
    group_people,
    handout,
    letters,
    pins,
    replacing,
    views,
)

urlpatterns = [
    path("groups/<int:id>/members/", group_people.GroupMembers.as_view()),
    path("groups/<int:id>/members/leaving/", group_people.LeavingGroup.as_view()),
    path("groups/<int:id>/kept-out/", group_people.KeptOutOfGroup.as_view()),
    path("cardholders/<int:id>/groups/", group_people.JoiningGroups.as_view()),
    path("groups/<int:id>/merge/", group_people.GroupMerging.as_view()),
    path("house/", choices.HouseChoices.as_view()),
    path("cardholders/new/", views.NewFile.as_view()),
    path("cardholders/<int:id>/", views.OneFile.as_view()),
    path("drafts/", drafts.Drafts.as_view()),
    path("drafts/new/<slug:key>/", drafts.NewDraft.as_view()),
    path("drafts/<int:id>/", drafts.OneDraft.as_view()),
    path("keypads/<int:id>/waits/", pins.KeypadWaits.as_view()),
    path("keypads/waits/<str:token>/", pins.OneKeypadWait.as_view()),
    path("pin-lists/", pins.PinLists.as_view()),
    path("pin-lists/<int:id>/open/", pins.PinListOpening.as_view()),
    path("row/people/", handout.HandoutPeople.as_view()),
    path("preview/handout/", handout.PreviewHandout.as_view()),
    path("preview/run/", handout.PreviewRun.as_view()),
    path("preview/replacement/", replacing.PreviewReplacement.as_view()),
    path("row/issue/", handout.HandOut.as_view()),
    path("cardholders/<int:id>/letters/", letters.Letters.as_view()),
    path("cardholders/<int:id>/letters/<int:letter>/cancel/", letters.LetterCancelling.as_view()),
    path("cardholders/<int:id>/cards/suspend/", views.CardSuspension.as_view()),
    path("cardholders/<int:id>/history/<int:entry>/back/", views.Undo.as_view()),
    path("cardholders/<int:id>/consents/ask/", views.ConsentQuestion.as_view()),
    path(
        "cardholders/<int:id>/consents/<int:consent>/withdraw/", views.ConsentWithdrawal.as_view()
    ),
    path("cardholders/<int:id>/erase/", views.Erase.as_view()),
    path("cardholders/<int:id>/merge/", views.Merge.as_view()),
]
