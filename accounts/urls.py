"""allauth's views, as many as are used here: sign-in, passwords, the second factor."""

from allauth.account import views
from allauth.mfa.base import views as mfa
from allauth.mfa.recovery_codes import views as codes
from allauth.mfa.totp import views as totp
from django.urls import path, re_path
from django.views.generic import RedirectView

urlpatterns = [
    path("sign-in/", views.login, name="account_login"),
    path("sign-out/", views.logout, name="account_logout"),
    path("sign-up/", views.signup, name="account_signup"),
    path("inactive/", views.account_inactive, name="account_inactive"),
    path("password/", views.password_change, name="account_change_password"),
    path("password/reset/", views.password_reset, name="account_reset_password"),
    path("password/reset/done/", views.password_reset_done, name="account_reset_password_done"),
    re_path(
        r"^password/reset/(?P<uidb36>[0-9A-Za-z]+)-(?P<key>.+)/$",
        views.password_reset_from_key,
        name="account_reset_password_from_key",
    ),
    path("password/set/", views.password_reset_from_key_done, name="account_reset_password_from_key_done"),
    path("again/", views.reauthenticate, name="account_reauthenticate"),
    path("factor/", RedirectView.as_view(pattern_name="office:own"), name="mfa_index"),
    path("factor/ask/", mfa.authenticate, name="mfa_authenticate"),
    path("factor/again/", mfa.reauthenticate, name="mfa_reauthenticate"),
    path("factor/add/", totp.activate_totp, name="mfa_activate_totp"),
    path("factor/remove/", totp.deactivate_totp, name="mfa_deactivate_totp"),
    path("factor/codes/", codes.view_recovery_codes, name="mfa_view_recovery_codes"),
    path("factor/codes/new/", codes.generate_recovery_codes, name="mfa_generate_recovery_codes"),
]
