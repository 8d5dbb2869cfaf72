"""allauth's views, as many as this step needs."""

from allauth.account import views
from django.urls import path

urlpatterns = [
    path("sign-in/", views.login, name="account_login"),
    path("sign-out/", views.logout, name="account_logout"),
    path("sign-up/", views.signup, name="account_signup"),
    path("inactive/", views.account_inactive, name="account_inactive"),
    path("password/", views.password_change, name="account_change_password"),
    path("again/", views.reauthenticate, name="account_reauthenticate"),
]
