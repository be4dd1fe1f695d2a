"""Signing up, confirming, asking for a new password; everything else is the framework's.

No answer tells whether an address has an account: signing up says the same for a new address and for a known one.
"""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth import views as auth
from django.contrib.auth.hashers import make_password
from django.contrib.auth.tokens import default_token_generator
from django.core.mail import send_mail
from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from aestiva.accounts import limits
from aestiva.accounts.forms import SignUpForm
from aestiva.accounts.models import User
from aestiva.frame.forms import own_page
from aestiva.frame.links import outside, root

BACKEND = "django.contrib.auth.backends.ModelBackend"


def sign_up(request: HttpRequest) -> HttpResponse:
    onward = safe_onward(request)
    if request.user.is_authenticated:
        return redirect(onward or "home")
    form = SignUpForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        if limits.too_many("sign-up", limits.sender(request), limits.SIGN_UPS):
            return limits.slow_down(request)
        found, is_new = _account(form)
        if settings.SENDS_MAIL:
            _confirm(request, found, is_new, onward)
            return render(request, "accounts/sent.html", {"why": "sign_up"})
        messages.success(request, "Now log in. If this address had an account already, its old password still holds.")
        query = {"address": found.email, "next": onward or reverse("home")}
        return redirect(f"{reverse('login')}?{urlencode(query)}")
    context = {"form": form, "next": onward, "invited": onward.startswith("/join/")}
    return render(request, "accounts/sign_up.html", context, status=422 if form.errors else 200)


def safe_onward(request: HttpRequest) -> str:
    """Where somebody was going when the account came between, an invitation say; empty where it is no page of ours."""
    return own_page(request.POST.get("next") or request.GET.get("next") or "")[:200]


def _account(form: SignUpForm) -> tuple[User, bool]:
    """The account of that address, and whether this made it; it takes the same time either way."""
    data = form.cleaned_data
    known = User.objects.filter(email=data["email"]).first()
    if known is None:
        try:
            with transaction.atomic():
                return User.objects.create_user(**data, is_active=not settings.SENDS_MAIL), True
        except IntegrityError:  # the same post twice
            known = User.objects.get(email=data["email"])
    if known.is_active:
        make_password(data["password"])
        return known, False
    known.name, known.is_active = data["name"], not settings.SENDS_MAIL  # never confirmed: begun anew
    known.set_password(data["password"])
    known.save(update_fields=["name", "password", "is_active"])
    return known, True


def _confirm(request: HttpRequest, user: User, is_new: bool, onward: str) -> None:
    """A mail that only the owner of the address reads: how to go on, or that there is an account already."""
    uid, token = urlsafe_base64_encode(force_bytes(user.pk)), default_token_generator.make_token(user)
    query = f"?{urlencode({'next': onward})}" if onward else ""
    said = {
        "address": outside(request, reverse("sign_up_confirm", args=[uid, token]) + query),
        "log_in": outside(request, reverse("login") + query),
        "is_new": is_new,
    }
    text = render_to_string("accounts/sign_up_mail.txt", said)
    send_mail("Your account for Aestiva", text, settings.DEFAULT_FROM_EMAIL, [user.email], fail_silently=True)


def confirm(request: HttpRequest, uidb64: str, token: str) -> HttpResponse:
    """The link of the mail: the account is open from now on."""
    try:
        user = User.objects.filter(pk=int(urlsafe_base64_decode(uidb64).decode())).first()
    except (ValueError, OverflowError):
        user = None
    if user is None or not default_token_generator.check_token(user, token):
        return render(request, "accounts/form.html", {"title": "This link was used already or is too old"}, status=410)
    user.is_active = True
    user.save(update_fields=["is_active"])
    login(request, user, backend=BACKEND)
    return redirect(safe_onward(request) or "garden_new")


class LogIn(auth.LoginView):
    template_name = "accounts/log_in.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        return {**super().get_context_data(**kwargs), "invited": safe_onward(self.request).startswith("/join/")}

    def get_initial(self) -> dict[str, Any]:
        return {**super().get_initial(), "username": self.request.GET.get("address", "")[:254]}


class PasswordReset(auth.PasswordResetView):
    """Asking for a new password, so many times an hour from one place and for one address."""

    def dispatch(self, request: Any, *args: Any, **kwargs: Any) -> Any:
        if request.method == "POST":
            address = request.POST.get("email", "").strip().lower()
            often = limits.too_many("reset", limits.sender(request), limits.RESETS)
            if often or limits.too_many("reset of", address, limits.RESETS_OF_ONE):
                return limits.slow_down(request)
        self.extra_email_context = {"root": root(request)}
        return super().dispatch(request, *args, **kwargs)
