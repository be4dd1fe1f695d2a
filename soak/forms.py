"""Every form that can be found, sent twice at once under one key and three times under three: nothing doubled, nothing lost.

With a DATABASE_URL of PostgreSQL two servers answer in turn; otherwise one, on SQLite.
"""

from __future__ import annotations

import http.client
import threading
import time
import urllib.parse
from collections import Counter, defaultdict
from html.parser import HTMLParser
from typing import Any, NamedTuple

from soak.ground import TOKEN, Browser, Server, report, session_of

MOST_PAGES, OF_ONE_KIND, MOST_BUTTONS = 400, 2, 6
LEFT_ASIDE = (
    "/account/",
    "/live/",
    "/leave/",
    "/demo/",
    "/undo/",
    "clock/",
    "tasks/",
    "made-up/",
    "/jobs/",
    "/log-out",
    "/import/",
    "best-days/",
)
FILLED = {
    "number": "3",
    "date": "",
    "time": "08:00",
    "email": "moss@garden.example",
    "text": "Z 1",
    "search": "",
    "": "3",
}


class Form(NamedTuple):
    """Where it goes and what it sends; told: which form of which kind of page it is."""

    action: str
    fields: tuple[tuple[str, str], ...]
    told: tuple[str, ...]


class _Page(HTMLParser):
    """The links and the forms of a page."""

    def __init__(self, address: str, today: str) -> None:
        super().__init__()
        self.address, self.today = address, today
        self.links: list[str] = []
        self.forms: list[dict[str, Any]] = []
        self._form: dict[str, Any] | None = None
        self._select: tuple[str, list[tuple[str, bool]]] | None = None
        self._area = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        a = {name: value or "" for name, value in attrs}
        if tag == "a" and a.get("href", "").startswith(("/g/", "?")):
            self.links.append(urllib.parse.urljoin(self.address, a["href"]).split("#")[0])
        if tag == "form" and a.get("method", "").lower() == "post":
            action = urllib.parse.urljoin(self.address, a.get("action", "") or self.address)
            self._form = {"action": action, "fields": [], "buttons": [], "file": False}
            self.forms.append(self._form)
        if self._form is None:
            return
        name = a.get("name", "")
        if tag == "input" and name:
            self._input(a, name)
        elif tag == "select" and name:
            self._select = (name, [])
        elif tag == "option" and self._select is not None:
            self._select[1].append((a.get("value", ""), "selected" in a))
        elif tag == "textarea" and name:
            self._form["fields"].append((name, "2 coir\n1 perlite"))
        elif tag == "button" and a.get("type", "submit") == "submit":
            self._form["buttons"].append((name, a.get("value", "")))

    def _input(self, a: dict[str, str], name: str) -> None:
        assert self._form is not None
        kind = a.get("type", "text")
        if kind == "file":
            self._form["file"] = True
        elif kind in ("checkbox", "radio"):
            known = any(n == name for n, _ in self._form["fields"])
            if "checked" in a or (kind == "radio" and not known) or name == "batch":
                self._form["fields"].append((name, a.get("value", "on")))
        else:
            value = a.get("value", "")
            if not value and kind != "hidden":
                value = self.today if kind == "date" else FILLED.get(kind, "")
                value = "3" if a.get("inputmode") in ("numeric", "decimal") else value
            self._form["fields"].append((name, value))

    def handle_endtag(self, tag: str) -> None:
        if tag == "select" and self._select is not None and self._form is not None:
            name, options = self._select
            chosen = next((value for value, is_it in options if is_it), "")
            chosen = chosen or next((value for value, _ in options if value), "")
            self._form["fields"].append((name, chosen))
            self._select = None
        if tag == "form":
            self._form = None


def _kind(address: str) -> str:
    """The address without its numbers and what is asked: pages of one kind have one."""
    parts = ["#" if any(c.isdigit() for c in part) else part for part in address.split("?")[0].split("/")]
    return "/".join(parts)


def crawl(browser: Browser, garden: Any) -> tuple[int, list[Form]]:
    """Pages opened, and every form on them, so many of one kind."""
    from aestiva.gardens import clock

    today = clock.today(garden).isoformat()
    look, seen, kinds = [f"/g/{garden.pk}/today/"], set[str](), Counter[str]()
    look += [
        f"/g/{garden.pk}/{p}"
        for p in ("care/tools/", "hardening/people/", "place/warmth/", "bench/stock/", "place/feeds/", "crops/")
    ]
    found: dict[tuple[str, ...], Form] = {}
    while look and len(seen) < MOST_PAGES:
        address = look.pop(0)
        if address in seen or kinds[_kind(address)] >= OF_ONE_KIND or not address.startswith(f"/g/{garden.pk}/"):
            continue
        seen.add(address)
        kinds[_kind(address)] += 1
        status, text, _ = browser.send("GET", address)
        if status != 200 or "<html" not in text[:400]:
            continue
        page = _Page(address, today)
        page.feed(text)
        look += page.links
        for form in page.forms:
            if form["file"] or any(part in form["action"] for part in LEFT_ASIDE):
                continue
            for name, value in (form["buttons"] or [("", "")])[:MOST_BUTTONS]:
                fields = [(n, v) for n, v in form["fields"] if n not in ("key", "csrfmiddlewaretoken", "sure")]
                fields += [(name, value)] if name else []
                button = value if not any(c.isdigit() for c in value) else "#"
                told = (_kind(form["action"]), *sorted({n for n, _ in fields}), name, button)
                found.setdefault(told, Form(form["action"], tuple(fields), told))
    return len(seen), list(found.values())


def _send(browser: Browser, form: Form, key: str) -> tuple[int, str]:
    fields = [*form.fields, ("key", key), ("sure", "yes"), ("csrfmiddlewaretoken", TOKEN)]
    headers = {**browser.headers, "Content-Type": "application/x-www-form-urlencoded"}
    try:
        status, text, _ = browser.send("POST", form.action, urllib.parse.urlencode(fields).encode(), headers)
    except (OSError, http.client.HTTPException) as error:
        return 0, str(error)
    return status, text


def _together(browsers: list[Browser], form: Form, keys: list[str]) -> list[int]:
    """Statuses of the same form sent at once under these keys, to the servers in turn."""
    gate, found = threading.Barrier(len(keys)), [0] * len(keys)

    def one(n: int) -> None:
        gate.wait()
        found[n] = _send(browsers[n % len(browsers)], form, keys[n])[0]

    threads = [threading.Thread(target=one, args=(n,)) for n in range(len(keys))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found


def lost(garden: Any, since: int) -> list[str]:
    """Rows that are not as the last entry that wrote them left them."""
    from django.apps import apps

    from aestiva.gardens import changeset
    from aestiva.gardens.models import JournalEntry

    last: dict[tuple[str, int], Any] = {}
    for entry in JournalEntry.objects.filter(garden=garden, pk__gt=since).order_by("pk"):
        for one in entry.changes:
            before = last.get((one["model"], one["pk"])) or {}
            last[one["model"], one["pk"]] = None if one["after"] is None else {**before, **one["after"]}
    wrong = []
    by_model: dict[str, list[int]] = defaultdict(list)
    for label, pk in last:
        by_model[label].append(pk)
    for label, pks in by_model.items():
        rows = apps.get_model(label)._base_manager.in_bulk(pks)
        for pk in pks:
            wanted, row = last[label, pk], rows.get(pk)
            if (row is None) != (wanted is None):
                wrong.append(f"{label} {pk} is {'gone' if row is None else 'there'}")
            elif row is not None:
                now = {n: v for n, v in changeset.fields(row).items() if n not in changeset.REVISIONS}
                differs = [n for n, v in wanted.items() if n in now and now[n] != v]
                wrong += [f"{label} {pk}.{n}" for n in differs]
    return wrong


def _take_back(garden: Any, since: int) -> int:
    """Undo all that was written since, newest first; how many stay."""
    from aestiva.gardens.models import JournalEntry
    from aestiva.gardens.outcomes import CannotUndo
    from aestiva.gardens.undo import undo

    stay = 0
    entries = JournalEntry.objects.filter(
        garden=garden, pk__gt=since, undone_by=None, undoes=None, kind__in=("change", "device")
    )
    for entry in list(entries.order_by("-pk")):
        try:
            undo(entry, None)
        except CannotUndo:
            stay += 1
    return stay


def _garden() -> tuple[Any, Any]:
    """Quarry Lane as it was lived, brought in as somebody's own garden."""
    import json

    from aestiva.frame.tests.garden import user
    from aestiva.gardens.bring_in import bring_in
    from aestiva.gardens.document import read_document
    from aestiva.gardens.portable import export
    from demo.scenario import build

    document = json.dumps(export(build())).encode()
    owner = user("crawler")
    return bring_in(read_document(document), owner), owner


def forms() -> bool:
    """The crawl, then each form: two at once with one key, three at once with three; figures."""
    from django.db import connection

    from aestiva.gardens.models import JournalEntry

    garden, owner = _garden()
    servers = [Server() for _ in range(1 if connection.vendor == "sqlite" else 2)]
    for server in servers:
        server.start()
    browsers = [Browser(server.port, session_of(owner)) for server in servers]
    pages, found = crawl(browsers[0], garden)
    statuses: Counter[int] = Counter()
    errors, doubled, missing, refused_second, stay, written = [], [], [], [], 0, 0
    began = time.monotonic()
    for n, form in enumerate(found):
        since = JournalEntry.objects.filter(garden=garden).latest("pk").pk
        key = f"same{n}"
        same = _together(browsers, form, [key, key])
        entries = JournalEntry.objects.filter(garden=garden, pk__gt=since).count()
        if entries > 1:
            doubled.append(f"{form.told}: {entries} entries of one key")
        if entries == 1 and sorted(same)[1] >= 400:
            refused_second.append(f"{form.told}: {same}")
        several = _together(browsers, form, [f"{key}.{k}" for k in range(3)])
        more = JournalEntry.objects.filter(garden=garden, pk__gt=since)
        kept = Counter(more.values_list("key", flat=True))
        doubled += [f"{form.told}: {k}" for k, count in kept.items() if count > 1]
        if len(kept) - entries > 3:
            doubled.append(f"{form.told}: {len(kept) - entries} entries of three keys")
        written += len(kept)
        statuses.update([*same, *several])
        errors += [f"{form.told[0]}: {s}" for s in (*same, *several) if s >= 500 or s == 0]
        missing += [f"{form.told[0]}: {one}" for one in lost(garden, since)]
        stay += _take_back(garden, since)
    for server in servers:
        server.kill()
    good = not (errors or doubled or missing or refused_second)
    servers_said = f"{len(servers)} server{'s' * (len(servers) > 1)}"
    figures = f"{connection.vendor}, {servers_said}: {pages} pages, {len(found)} forms, {sum(statuses.values())} posts "
    figures += f"{dict(sorted(statuses.items()))}, {written} entries, {len(doubled)} doubled {doubled[:3]}, {len(missing)} lost {missing[:3]}, "
    figures += f"{len(refused_second)} second taps refused {refused_second[:3]}, {len(errors)} errors {errors[:3]}, {stay} not taken back, "
    return report("forms", good, f"{figures}{time.monotonic() - began:.0f} s")


ODD = ("0x10", "nan", "1e999", "-1", "1_0", "٣", "31 February", "9" * 30, "‮½", "x" * 3000)


def odd() -> bool:
    """Every field of every form, one at a time, with what nobody means: refused or taken, never an error; nothing half."""
    from aestiva.gardens.models import JournalEntry

    garden, owner = _garden()
    server = Server()
    server.start()
    browser = Browser(server.port, session_of(owner))
    pages, found = crawl(browser, garden)
    statuses: Counter[int] = Counter()
    errors: list[str] = []
    stay, began, number = 0, time.monotonic(), 0
    for form in found:
        since = JournalEntry.objects.filter(garden=garden).latest("pk").pk
        for k, (name, _) in enumerate(form.fields):
            for value in ODD[k % 2 :: 2]:
                number += 1
                fields = tuple((n, value if n == name else v) for n, v in form.fields)
                status, _ = _send(browser, form._replace(fields=fields), f"odd{number}")
                statuses[status] += 1
                if status >= 500 or status == 0:
                    errors.append(f"{form.told[0]} {name}={value[:12]}: {status}")
        stay += _take_back(garden, since)
    live = [
        page
        for page in ("today/", "plan/", "bench/", "care/", "hardening/")
        if browser.ask("GET", f"/g/{garden.pk}/{page}") != 200
    ]
    server.kill()
    figures = f"{pages} pages, {len(found)} forms, {sum(statuses.values())} posts {dict(sorted(statuses.items()))}, "
    figures += f"{len(errors)} errors {errors[:6]}, {stay} not taken back, pages that fail {live}, {time.monotonic() - began:.0f} s"
    return report("odd", not errors and not live, figures)
