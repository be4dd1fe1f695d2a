"""What scripts knock at: a command under a key, the season as it stands, and what can be asked."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_GET, require_POST

from aestiva.course.state import load
from aestiva.frame.links import root
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.changeset import fields, revision_of
from aestiva.gardens.commands import Actor, commands, run
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import NoFrostDate, Refused, Repeated, Stale
from aestiva.place import keys
from aestiva.place.commands import PostReadings
from aestiva.place.keys import NotAdmitted, key_of, problem
from aestiva.place.models import Feed
from aestiva.today import scripts
from growing.files.jsonfile import BadJson, read_json
from growing.place.feed import BadPost

NO_FROST = "No frost date is known here: nothing can be counted from it yet."


def _admitted(request: HttpRequest, garden_id: int) -> Feed:
    """The key of a request, where it is of that garden."""
    key = key_of(request)
    if key.garden_id != garden_id:
        raise NotAdmitted("There is no such garden here.", 404)
    return key


@csrf_exempt
@require_POST
def do(request: HttpRequest, garden_id: int, command: str) -> HttpResponse:
    """Run one command: JSON in, what was written or what is wrong out."""
    try:
        key = _admitted(request, garden_id)
        asked = commands().get(command)
        if asked is None:
            raise NotAdmitted(f"There is no command {command[:40]}: openapi.json lists them all.", 404)
        if not keys.may(key, asked):
            raise NotAdmitted(f"This key may {key.get_scope_display()}; {command} is not of that.", 403)
        sent = read_json(request.body, scripts.MOST_BYTES, scripts.MOST_PARTS, scripts.MOST_VALUES)
        once = str(sent.pop("key", "") or "") if isinstance(sent, dict) else ""
        actor = Actor(key.garden, None, asked.role, key.garden.reader("metric"), key.name, "device", key)
        done = run(asked, actor, scripts.as_posted(asked, sent), once)
    except NotAdmitted as refused:
        return refused.answer
    except BadJson as error:
        return problem(f"This is not JSON that can be taken: {error}.", 422)
    except BadPost as error:
        return problem(str(error), 422)
    except Repeated:
        return JsonResponse({"done": False, "repeated": True})
    except Stale as overtaken:
        name = revision_of(type(overtaken.row))
        now = {k: v for k, v in fields(overtaken.row).items() if k != name} | {"revision": getattr(overtaken.row, name)}
        return problem("It was changed since: this is how it stands now.", 409, now=now)
    except Refused as refused:
        return problem(f"{str(refused)[:1].upper()}{str(refused)[1:]}.", 422, errors=refused.errors)
    except NoFrostDate:
        return problem(NO_FROST, 409)
    if isinstance(done, PostReadings):
        return JsonResponse({"done": done.taken > 0, "taken": done.taken, "repeated": done.taken == 0})
    Feed.objects.filter(pk=key.pk).update(last_at=clock.instant())
    if done.entry is None:
        return JsonResponse({"done": False, "repeated": False})
    return JsonResponse({"done": True, "said": done.sentence(done.facts, done.reader), "entry": done.entry.pk})


def _for_keys_too(view: Any) -> Any:
    """A page of JSON for members, and for keys that may read."""

    @garden_view()
    @require_GET
    def member(request: Any) -> HttpResponse:
        answer: HttpResponse = view(request, request.garden)
        return answer

    def either(request: HttpRequest, garden_id: int) -> HttpResponse:
        if "Authorization" not in request.headers:
            answer: HttpResponse = member(request, garden_id=garden_id)
            return answer
        try:
            key = _admitted(request, garden_id)
            if key.scope not in keys.READS:
                raise NotAdmitted(f"This key may {key.get_scope_display()}, and no more.", 403)
        except NotAdmitted as refused:
            return refused.answer
        given: HttpResponse = require_GET(view)(request, key.garden)
        return given

    return either


@_for_keys_too
def openapi(request: HttpRequest, garden: Garden) -> HttpResponse:
    """What can be written, field by field."""
    return JsonResponse(scripts.openapi(garden, root(request)))


@_for_keys_too
def state(request: HttpRequest, garden: Garden) -> HttpResponse:
    """The season as it stands."""
    try:
        return JsonResponse(scripts.state(load(garden, clock.today(garden))))
    except NoFrostDate:
        return problem(NO_FROST, 409)
