"""Many hands: who may do what, inviting, handing over, leaving, ending an account."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.contrib import messages
from django.contrib.auth import logout
from django.contrib.auth.decorators import login_required
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.accounts.models import User
from aestiva.frame.forms import whole_number
from aestiva.frame.links import outside
from aestiva.gardens import clock, jobs, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.asking import ask, is_sure
from aestiva.gardens.models import UNITS, Garden, Invitation, Member

LASTS_DAYS = 14
ROLES = {
    "owner": "may do everything, members and settings too",
    "grower": "plans, works, writes down",
    "reader": "looks, and may leave a note beside a task",
}
MAY = {
    "owner": "You may do everything here.",
    "grower": "Tap a task when it is done; whatever you write can be taken back.",
    "reader": "You can look at everything, and leave a note beside a task.",
}


def owners_besides(garden: Garden, leaving: Member) -> bool:
    """Does the garden keep an owner without this member?"""
    return Member.objects.filter(garden=garden, role="owner").exclude(pk=leaving.pk).exists()


@garden_view(readers_post=True)
def members(request: Any) -> HttpResponse:
    """Who is here; owners change roles and invite, everybody chooses their own units."""
    garden = request.garden
    if request.method == "POST":
        return _change(request)
    open_links = Invitation.objects.filter(garden=garden, revoked=False, used_by=None, expires__gt=clock.instant())
    context = {
        "view": "members",
        "members": Member.objects.filter(garden=garden).select_related("user").order_by("pk"),
        "mine": Member.objects.get(garden=garden, user=request.user),
        "invitations": [(i, outside(request, reverse("join", args=[i.token]))) for i in open_links],
        "roles": ROLES,
        "unit_choices": UNITS,
    }
    return render(request, "gardens/members.html", context)


def _change(request: Any) -> HttpResponse:
    garden, what, key = request.garden, request.POST.get("what", ""), request.POST.get("key", "")
    if what in ("remove", "revoke") and request.role == "owner" and not is_sure(request):
        return _ask(request, what)
    with journal.noted(garden):
        mine = Member.objects.get(garden=garden, user=request.user)
        if what == "units":
            wanted = request.POST.get("units", "")
            if wanted in {"", *(u for u, _ in UNITS)}:
                mine.units = wanted
                mine.save(update_fields=["units"])
                journal.raise_revision(garden, moves=False)
        elif mine.role != "owner":
            messages.error(request, "Only an owner can change members: ask one.")
        elif what == "invite" and request.POST.get("role") in ROLES:
            journal.note(garden, request.user, f"Invited a {request.POST['role']}", key)
            expires = clock.instant() + timedelta(days=LASTS_DAYS)
            Invitation.objects.create(garden=garden, role=request.POST["role"], made_by=request.user, expires=expires)
            messages.success(request, f"A link for one person, good for {LASTS_DAYS} days. Send it to them yourself.")
        elif what == "revoke":
            link = get_object_or_404(Invitation, pk=whole_number(request.POST.get("invitation")), garden=garden)
            link.revoked = True
            link.save(update_fields=["revoked"])
        elif what in ("role", "remove"):
            _change_member(request, garden, what, key)
    return redirect("members", garden.pk)


def _ask(request: Any, what: str) -> HttpResponse:
    """Before somebody is removed, or a link revoked."""
    if what == "revoke":
        follows = ["Whoever has it can no longer join with it.", "Another link can be made any time."]
        return ask(request, "Revoke this invitation?", follows, "Revoke it", "members")
    other = get_object_or_404(
        Member.objects.select_related("user"), pk=whole_number(request.POST.get("member")), garden=request.garden
    )
    follows = [
        f"{other.user} no longer gets into {request.garden.name}, and their calendar address ends.",
        "What they wrote stays in the journal under their name.",
        "It cannot be taken back, but they can be invited again.",
    ]
    return ask(request, f"Remove {other.user} from {request.garden.name}?", follows, "Remove them", "members")


def _change_member(request: Any, garden: Garden, what: str, key: str) -> None:
    other = get_object_or_404(
        Member.objects.select_related("user"), pk=whole_number(request.POST.get("member")), garden=garden
    )
    role = request.POST.get("role", "")
    if other.role == "owner" and (what == "remove" or role != "owner") and not owners_besides(garden, other):
        messages.error(request, f"{other.user} is the only owner: make somebody else an owner first.")
    elif what == "remove":
        journal.note(garden, request.user, f"Removed {other.user}", key, about=other.user)
        other.delete()
        jobs.end_of(garden, other.user)
        messages.success(request, f"{other.user} is no longer a member. What they wrote stays.")
    elif role in ROLES and role != other.role:
        journal.note(garden, request.user, f"Made {other.user} {role}", key, about=other.user)
        other.role = role
        other.save(update_fields=["role"])
        messages.success(request, f"{other.user} is now {role}.")


@garden_view(readers_post=True)
@require_POST
def leave(request: Any) -> HttpResponse:
    """Leave a garden; the last owner hands over first."""
    if not is_sure(request):
        follows = [
            "You no longer get into it, and your calendar address ends.",
            "What you wrote stays in the journal under your name.",
            "It cannot be taken back: an owner can invite you again.",
        ]
        return ask(request, f"Leave {request.garden.name}?", follows, "Leave it", "members")
    with journal.noted(request.garden):
        mine = Member.objects.get(garden=request.garden, user=request.user)
        if mine.role == "owner" and not owners_besides(request.garden, mine):
            messages.error(request, "You are the only owner: make somebody else an owner first.")
            return redirect("members", request.garden.pk)
        mine.delete()
        jobs.end_of(request.garden, request.user)
        journal.note(request.garden, request.user, "Left the garden")
    messages.success(request, f"You have left {request.garden.name}.")
    return redirect("gardens")


def join(request: Any, token: str) -> HttpResponse:
    """Accept an invitation; each link works once, until it expires or is revoked.

    Whoever holds the link sees to what it invites, and is led through log-in or sign-up back to it.
    """
    link = Invitation.objects.select_related("garden", "made_by").filter(token=token).first()
    user = request.user if request.user.is_authenticated else None
    if link is not None and user is not None and Member.objects.filter(garden=link.garden, user=user).exists():
        return redirect("today", link.garden_id)  # there already: by this link or before it
    problem = _why_not(link)
    if problem or link is None:
        return render(request, "gardens/join.html", {"problem": problem}, status=410)
    if user is None:
        return render(request, "gardens/join.html", {"link": link, "says": ROLES[link.role], "onward": request.path})
    if request.method == "POST":
        with transaction.atomic():
            Garden.objects.select_for_update().get(pk=link.garden_id)
            if Member.objects.filter(garden=link.garden, user=request.user).exists():
                return redirect("today", link.garden_id)  # the same post twice
            taken = Invitation.objects.filter(pk=link.pk, used_by=None, revoked=False).update(used_by=request.user)
            if not taken:
                return render(request, "gardens/join.html", {"problem": "This link was used already."}, status=410)
            Member.objects.create(garden=link.garden, user=request.user, role=link.role)
            journal.note(link.garden, request.user, f"Joined as {link.role}")
        messages.success(request, f"Welcome to {link.garden.name}. {MAY[link.role]}")
        return redirect("today", link.garden_id)
    return render(request, "gardens/join.html", {"link": link, "says": ROLES[link.role]})


def _why_not(link: Invitation | None) -> str:
    if link is None:
        return "There is no such invitation: check the address, or ask for a new link."
    if link.revoked:
        return "This invitation was revoked: ask for a new one."
    if link.used_by_id is not None:
        return "This link was used already: each is for one person. Ask for another."
    if link.expires < clock.instant():
        return f"This invitation expired on {link.expires:%-d %B %Y}: ask for a new one."
    return ""


def _gardens_of(user: User) -> tuple[list[Member], list[Member]]:
    """The gardens that are nobody else's, and those that would be left without an owner."""
    mine = list(Member.objects.filter(user=user).select_related("garden"))
    alone = [m for m in mine if m.garden.members.count() == 1]
    return alone, [m for m in mine if m not in alone and m.role == "owner" and not owners_besides(m.garden, m)]


@login_required
def delete_account(request: Any) -> HttpResponse:
    """End an account: gardens that are nobody else's go with it, those with others must be handed over first."""
    alone, stuck = _gardens_of(request.user)
    problem = ""
    if request.method == "POST" and not stuck:
        if request.user.check_password(request.POST.get("password", "")):
            with transaction.atomic():
                user = User.objects.select_for_update().get(pk=request.user.pk)
                alone, stuck = _gardens_of(user)  # as it is now
                if not stuck:
                    for membership in alone:
                        remove_garden(membership.garden)
                    for membership in Member.objects.filter(user=user).select_related("garden"):
                        journal.raise_revision(membership.garden)  # nobody is at home there at their hours any more
                    journal.forget(user)
                    logout(request)
                    user.delete()
                    return redirect("home")
        else:
            problem = "That is not your password: nothing was deleted."
    context = {"alone": alone, "stuck": stuck, "problem": problem}
    return render(request, "gardens/delete_account.html", context, status=422 if problem else 200)


def remove_garden(garden: Garden) -> None:
    """Delete a garden and all its rows, those that hang on others first."""
    from aestiva.gardens.portable import parts

    for part in reversed(parts()):
        rows = part.model._base_manager.filter(**{part.garden: garden})
        for name, target in part.refs.items():
            if target == "self":
                rows.update(**{name: None})
        rows.delete()
    garden.delete()
