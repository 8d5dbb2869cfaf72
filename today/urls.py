from django.urls import path

from . import views

urlpatterns = [
    path("", views.today, name="today"),
    path("keys/", views.keys, name="keys"),
    path("find/", views.find, name="find"),
]
