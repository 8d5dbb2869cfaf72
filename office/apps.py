from django.apps import AppConfig


class OfficeConfig(AppConfig):
    """Writes down what Django and allauth tell of accounts: nothing of ours calls them."""

    name = "office"

    def ready(self):
        from allauth.account.signals import password_changed, password_reset
        from allauth.mfa.signals import authenticator_added, authenticator_removed
        from django.contrib.auth.signals import user_logged_in, user_logged_out, user_login_failed

        from . import watching

        user_logged_in.connect(watching.of("signed_in"), weak=False)
        user_logged_out.connect(watching.of("signed_out"), weak=False)
        user_login_failed.connect(watching.refused, weak=False)
        for signal in (password_changed, password_reset):
            signal.connect(watching.of("password.changed"), weak=False)
        authenticator_added.connect(watching.of("second_factor.added"), weak=False)
        authenticator_removed.connect(watching.of("second_factor.removed"), weak=False)
