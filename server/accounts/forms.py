"""The forms of accounts: sign-in, a new account, one's own name."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django import forms
from django.contrib.auth.forms import AuthenticationForm, BaseUserCreationForm, PasswordChangeForm
from django.core.validators import MaxLengthValidator

from echelle.errors import InputError
from server.accounts.models import Person
from server.accounts.passwords import must_be_password
from server.api.bodies import MOST_PASSWORD

if TYPE_CHECKING:
    _NewPerson = BaseUserCreationForm[Person]
    _OtherPassword = PasswordChangeForm
    _Named = forms.ModelForm[Person]
else:
    _NewPerson, _OtherPassword, _Named = BaseUserCreationForm, PasswordChangeForm, forms.ModelForm


class SignInForm(AuthenticationForm):
    """Name and password; longer than any name there can be is refused before it is tried."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, most in (("username", 150), ("password", MOST_PASSWORD)):
            self.fields[name].validators.append(MaxLengthValidator(most))


class NewPersonForm(_NewPerson):
    """An account: how one signs in, how others see one, a password."""

    class Meta:
        model = Person
        fields = ("username", "first_name", "last_name")
        labels = {"username": "Name to sign in with", "first_name": "First name", "last_name": "Last name"}
        help_texts = {"username": ""}


class OtherPasswordForm(_OtherPassword):
    """Another password, for whoever knows the one there is."""

    def clean_old_password(self) -> str:
        """The old one, where it is that."""
        old = str(self.cleaned_data["old_password"])
        try:
            must_be_password(self.user, old)
        except InputError as error:
            raise forms.ValidationError(error.sentence()) from None
        return old


class OwnNameForm(_Named):
    """How others see one, where letters go, how numbers are written."""

    class Meta:
        model = Person
        fields = ("first_name", "last_name", "email", "decimal_mark")
        labels = {
            "first_name": "First name", "last_name": "Last name", "email": "Mail address, for news of what is watched",
            "decimal_mark": "Numbers in the ledger, and on figures that you begin",
        }  # fmt: skip
