from django.urls import path

from cadrin.biometrics.rest import captures, faces, views

urlpatterns = [
    path("fingers/captures/", captures.Captures.as_view()),
    path("fingers/captures/<str:token>/", captures.OneCapture.as_view()),
    path("fingers/captures/<str:token>/picture/", captures.CapturePicture.as_view()),
    path("fingers/captures/<str:token>/files/", captures.CaptureFiles.as_view()),
    path("faces/captures/", faces.FaceCaptures.as_view()),
    path("faces/captures/<str:token>/", faces.OneFaceCapture.as_view()),
    path("faces/captures/<str:token>/picture/", faces.FaceCapturePicture.as_view()),
    path("faces/captures/<str:token>/files/", faces.FaceCaptureFiles.as_view()),
    path("faces/captures/<str:token>/portrait/", faces.FaceCapturePortrait.as_view()),
    path("cardholders/<int:id>/faces/likeness/", faces.FaceLikeness.as_view()),
    path("cardholders/<int:id>/biometrics/", views.BiometricsOfOne.as_view()),
    path("cardholders/<int:id>/fingers/<int:template>/export/", views.FingerExport.as_view()),
    path("cardholders/<int:id>/fingers/<int:template>/picture/", views.FingerPicture.as_view()),
    path("cardholders/<int:id>/consents/<int:consent>/proof/", views.ConsentProof.as_view()),
    path("consents/proofs/", views.Proofs.as_view()),
    path("biometric-settings/", views.BiometricSettings.as_view()),
]
