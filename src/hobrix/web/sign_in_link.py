"""Links that sign somebody in once, as `hobrix demo` prints them."""

from django.contrib.auth.tokens import PasswordResetTokenGenerator


class SignInLink(PasswordResetTokenGenerator):
    """Tokens that end with the first sign-in (they are bound to the time of the last one)."""

    key_salt = "hobrix.sign-in-link"


sign_in_link = SignInLink()
