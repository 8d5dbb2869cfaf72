"""Every room's addresses."""

from django.urls import include, path

from . import health

handler500 = "opengate.errors.server_error"

urlpatterns = [
    path("", include("today.urls")),
    path("health/live/", health.live, name="live"),
    path("health/ready/", health.ready, name="ready"),
    path("health/metrics/", health.metrics, name="metrics"),
    path("account/", include("accounts.urls")),
    path("people/", include("people.urls")),
    path("recipes/", include("recipes.urls")),
    path("bench/", include("bench.urls")),
    path("kitchen/", include("kitchen.urls")),
    path("card/", include("handouts.urls")),
    path("meals/", include("meals.urls")),
    path("diary/", include("diary.urls")),
    path("pantry/", include("pantry.urls")),
    path("office/", include("office.urls")),
]
