"""Signing up."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib.auth import password_validation

from aestiva.accounts.models import User
from aestiva.frame.forms import one_line


class SignUpForm(forms.Form):
    """Says nothing of whether the address is known: that is for its owner alone."""

    name = forms.CharField(max_length=80, label="Your name")
    email = forms.EmailField(max_length=254, label="E-mail address")
    password = forms.CharField(
        widget=forms.PasswordInput(attrs={"autocomplete": "new-password"}), help_text="At least ten characters."
    )

    def clean_name(self) -> str:
        return one_line(self.cleaned_data["name"])

    def clean_email(self) -> str:
        return str(self.cleaned_data["email"]).lower()

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        password = data.get("password")
        if password:
            user = User(name=data.get("name", ""), email=data.get("email", ""))
            try:
                password_validation.validate_password(password, user)
            except forms.ValidationError as error:
                self.add_error("password", error)
        return data
