"""Signing up and in; everything else is the framework's."""

from __future__ import annotations

from django.contrib.auth import login
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from aestiva.accounts.forms import SignUpForm


def sign_up(request: HttpRequest) -> HttpResponse:
    if request.user.is_authenticated:
        return redirect("home")
    form = SignUpForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        user = form.save()
        login(request, user, backend="django.contrib.auth.backends.ModelBackend")
        return redirect("garden_new")
    return render(request, "accounts/sign_up.html", {"form": form}, status=422 if form.errors else 200)
