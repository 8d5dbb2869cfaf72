"""Sign-in."""

from allauth.account.forms import LoginForm


class SignInForm(LoginForm):
    """allauth's form with our words and controls."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["login"].label = "Email"
        for name in ("login", "password"):
            self.fields[name].widget.attrs = {
                "class": "form-control",
                "autocomplete": self.fields[name].widget.attrs.get("autocomplete", ""),
            }
        self.fields["password"].help_text = ""
