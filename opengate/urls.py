"""Every room's addresses."""

from django.urls import include, path

handler500 = "opengate.errors.server_error"

urlpatterns = [
    path("", include("today.urls")),
    path("account/", include("accounts.urls")),
    path("people/", include("people.urls")),
    path("recipes/", include("recipes.urls")),
    path("bench/", include("bench.urls")),
    path("kitchen/", include("kitchen.urls")),
    path("card/", include("handouts.urls")),
    path("diary/", include("diary.urls")),
    path("pantry/", include("pantry.urls")),
    path("office/", include("office.urls")),
]
