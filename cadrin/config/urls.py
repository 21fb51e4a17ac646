from django.urls import include, path, re_path

from cadrin.api.viewer import DescriptionView, Viewer
from cadrin.config.manual import manual
from cadrin.config.page import page
from cadrin.delivery.rest.health import figures, healthz

handler400 = "cadrin.config.page.not_readable"
handler500 = "cadrin.config.page.failed"
handler404 = "cadrin.config.page.not_found"
urlpatterns = [
    path("healthz", healthz),
    path("metrics", figures),
    path("manual/", manual),
    path("manual/<path:name>", manual),
    path("api/v1", Viewer.as_view()),
    path("api/v1/openapi.json", DescriptionView.as_view(), name="api-description"),
    path("api/v1/", include("cadrin.api.urls")),
    path("api/", include("cadrin.people.rest.urls")),
    path("api/", include("cadrin.photos.rest.urls")),
    path("api/", include("cadrin.credentials.rest.urls")),
    path("api/", include("cadrin.biometrics.rest.urls")),
    path("api/", include("cadrin.sites.rest.urls")),
    path("api/", include("cadrin.access.rest.urls")),
    path("api/", include("cadrin.activity.rest.urls")),
    path("api/", include("cadrin.enrolment.rest.urls")),
    path("api/", include("cadrin.delivery.rest.urls")),
    path("api/", include("cadrin.register.rest.urls")),
    path("api/", include("cadrin.bulk.rest.urls")),
    path("api/", include("cadrin.intake.rest.urls")),
    path("api/", include("cadrin.questions.rest.urls")),
    path("api/", include("cadrin.reviews.rest.urls")),
    path("api/", include("cadrin.desk.rest.urls")),
    path("api/", include("cadrin.bench.rest.urls")),
    path("api/", include("cadrin.accounts.rest.urls")),
    path("api/", include("cadrin.demo.rest.urls")),
    # every other path is a page of the front end
    re_path(r"^(?!api/|static/).*$", page),
]
