"""Every room's addresses."""

from django.urls import include, path

urlpatterns = [
    path("", include("today.urls")),
    path("account/", include("accounts.urls")),
    path("people/", include("people.urls")),
    path("recipes/", include("recipes.urls")),
    path("bench/", include("bench.urls")),
    path("card/", include("handouts.urls")),
    path("pantry/", include("pantry.urls")),
]
