"""Files and messages with something wrong in them, three hundred of each kind: refused or taken whole, quickly, never an error."""

from __future__ import annotations

import json
import random
import time
from collections.abc import Callable
from datetime import date, timedelta
from typing import Any, NamedTuple

from soak.ground import begin, report

TIMES = 300
LONGEST_S = 5.0
NASTY = (
    b"\x00", b"\xff\xfe", b"9" * 5000, b"NaN", b"-Infinity", b'"', b"'", b"[" * 400, b"{" * 50, b"\r", b"\n\n", b";", b",", b"\t", b"-",
    b"=1+1", "＝1".encode(), "🌱".encode(), b"\\ud800", b"0001-01-01", b"9999-12-31", b"2026-02-31", b"1e999", b"-1", b"..", b"/", b"null",
    b"true", b"tomato", b"a" * 300, b"\xed\xa0\x80", "½".encode() * 40, b" " * 300, b"TMIN", b"-9999",
)  # fmt: skip


class Kind(NamedTuple):
    """A format: a good example, and how it is sent (status code); `counts`: what may only change when it is taken."""

    name: str
    good: bytes
    send: Callable[[bytes], int]


def mutate(data: bytes, chance: random.Random) -> bytes:
    """One to four changes: bytes flipped, a piece dropped, doubled or moved, something nasty put in, the end cut off."""
    out = bytearray(data)
    for _ in range(chance.randrange(1, 5)):
        at, much = chance.randrange(len(out) + 1), chance.randrange(1, 40)
        what = chance.randrange(6)
        if what == 0 and out:
            out[min(at, len(out) - 1)] = chance.randrange(256)
        elif what == 1:
            del out[at : at + much]
        elif what == 2:
            out[at:at] = out[at : at + much] * chance.randrange(1, 30)
        elif what == 3:
            out[at:at] = chance.choice(NASTY)
        elif what == 4:
            out[at : at + much] = chance.choice(NASTY)
        elif chance.random() < 0.3:
            del out[at:]
    return bytes(out)


def _weather(fahrenheit: bool) -> bytes:
    rows = ["date,tmin (°F),tmax (°F)" if fahrenheit else "date,tmin,tmax"]
    for k in range(420):
        low, high = -4 + k % 13, 8 + k % 15
        if fahrenheit:
            low, high = round(low * 1.8 + 32), round(high * 1.8 + 32)
        rows.append(f"{date(2024, 6, 1) + timedelta(days=k)},{low},{high}")
    return "\n".join(rows).encode()


def _long() -> bytes:
    rows = ["STATION,DATE,ELEMENT,VALUE,M,Q,S"]
    for k in range(300):
        day = date(2024, 6, 1) + timedelta(days=k)
        rows += [
            f"WEIR,{day:%Y%m%d},TMIN,{-20 + k % 80},,,",
            f"WEIR,{day:%Y%m%d},TMAX,{150 + k % 70},,,",
            f"WEIR,{day:%Y%m%d},PRCP,3,,,",
        ]
    return "\n".join(rows).encode()


def _wide() -> bytes:
    rows = ["STATION,DATE,LATITUDE,LONGITUDE,ELEVATION,NAME,TMAX,TMAX_ATTRIBUTES,TMIN,TMIN_ATTRIBUTES"]
    rows += [
        f'WEIR,{date(2024, 6, 1) + timedelta(days=k)},52.4,-3.1,240,"ORRIN, WEIR",{150 + k % 70},",,",{-20 + k % 80},",,"'
        for k in range(300)
    ]
    return "\n".join(rows).encode()


def _fixed() -> bytes:
    lines = []
    for month in range(1, 13):
        for element, base in (("TMAX", 150), ("TMIN", 20)):
            lines.append(f"WEIR000000{1:01d}2024{month:02d}{element}" + "".join(f"{base + d:5d}   " for d in range(31)))
    return "\n".join(lines).encode()


def formats(seed: int = 1) -> bool:
    """Every format in turn; figures of each."""
    from django.core.cache import cache
    from django.core.files.uploadedfile import SimpleUploadedFile
    from django.test import Client

    from aestiva.frame.tests.garden import client_for
    from aestiva.gardens.models import Garden, JournalEntry
    from aestiva.place.keys import digest_of
    from aestiva.place.models import Feed, ForecastNight, GardenNight, SoilReading, StationYear
    from aestiva.season.models import CropValue, GardenCrop, Lot, Planting

    garden, owner = begin("mutants")
    client = client_for(owner)
    client.raise_request_exception = False
    device = Client(raise_request_exception=False)
    Feed.objects.create(garden=garden, name="shed", digest=digest_of("token"))
    lot = Lot.objects.create(garden=garden, crop_key="tomato", variety="Old Ferry", packed_year=2025)
    url = f"/g/{garden.pk}/"

    def file(address: str, called: str, **more: Any) -> Callable[[bytes], int]:
        return lambda data: client.post(address, {"file": SimpleUploadedFile(called, data), **more}).status_code

    def previewed(address: str, called: str, kept: str, **more: Any) -> Callable[[bytes], int]:
        def send(data: bytes) -> int:
            shown = client.post(address, {"file": SimpleUploadedFile(called, data), **more})
            sealed = (shown.context or {}).get(kept) if shown.status_code == 200 else None
            if not sealed:
                return int(shown.status_code)
            return int(
                client.post(
                    address,
                    {"kept": sealed, "leave_out": "yes", "leave_bad": "yes", "what": "keep", "order": "dmy", **more},
                ).status_code
            )

        return send

    def text(data: bytes) -> int:
        words = data.decode("utf-8", "replace")
        first = client.post(f"{url}seeds/{lot.pk}/text/", {"text": words})
        if first.status_code != 200:
            return int(first.status_code)
        taken = {f"take-{r.field}": "1" for r in first.context["read"].readings} if first.context["read"] else {}
        keep = {"text": words, "keep": "1", "base": "last_frost", **taken}
        return int(client.post(f"{url}seeds/{lot.pk}/text/", keep).status_code)

    def post(data: bytes) -> int:
        key = {"Authorization": "Bearer token"}
        return int(device.post("/feed/", data, content_type="application/json", headers=key).status_code)

    plantings = (
        "crop,variety,wanted,sow,method,term\n"
        + "Tomato,Old Ferry,6,2026-04-14,raised,spring\nKale,,9,,direct,autumn\n" * 6
    )
    lots = (
        "crop,variety,packed,seeds,grams,from,price,note\n"
        + "Tomato,Lintel,2025,30,,a friend,2.50,dry\nKale,,2024,,2,,,\n" * 6
    )
    nights = "date,tmin\n" + "".join(f"{date(2026, 3, 1) + timedelta(days=k)},{k % 7 - 2}\n" for k in range(30))
    coming = "date,tmin,tmax\n" + "".join(
        f"{date(2026, 4, 12) + timedelta(days=k)},{k % 5 - 2},{9 + k}\n" for k in range(8)
    )
    toml = (
        'format = 1\n[crop.tree]\nname = "Tree spinach"\nrelative = "spinach"\n'
        '[[value]]\ncrop = "tomato"\nfield = "hold"\nvalue = 12\nreason = "own"\n'
    )
    whole = client.get(f"{url}garden.json").content
    words = b"start indoors 6-8 weeks before last frost, 1/4 in deep, 70-85F, 7-14 days. Transplant after danger of frost, 18 in apart."
    posts = json.dumps(
        {"kind": "soil", "readings": [{"at": f"2026-04-{d:02}T08:00", "celsius": 9.1} for d in range(1, 12)]}
    ).encode()
    kinds = [
        Kind("weather °C", _weather(False), previewed(f"{url}place/weather/", "w.csv", "stored", name="Weir")),
        Kind("weather °F", _weather(True), previewed(f"{url}place/weather/", "w.csv", "stored", name="Weir F")),
        Kind("daily, long", _long(), previewed(f"{url}place/weather/", "w.csv", "stored", name="Weir long")),
        Kind("daily, wide", _wide(), previewed(f"{url}place/weather/", "w.csv", "stored", name="Weir wide")),
        Kind("daily, fixed width", _fixed(), previewed(f"{url}place/weather/", "w.dly", "stored", name="Weir fixed")),
        Kind("plantings", plantings.encode(), previewed(f"{url}plan/import/", "p.csv", "sealed")),
        Kind("lots", lots.encode(), previewed(f"{url}seeds/import/", "s.csv", "sealed", known="also")),
        Kind("own nights", nights.encode(), file(f"{url}place/readings/", "n.csv", which="file")),
        Kind("forecast", coming.encode(), file(f"{url}place/forecast/", "f.csv")),
        Kind("crops", toml.encode(), file(f"{url}crops/import/", "c.toml")),
        Kind("garden", whole, previewed("/gardens/import/", "g.json", "sealed")),
        Kind("packet text", words, text),
        Kind("device", posts, post),
    ]
    models: tuple[Any, ...] = (
        Planting,
        Lot,
        GardenNight,
        SoilReading,
        ForecastNight,
        StationYear,
        GardenCrop,
        CropValue,
        Garden,
    )

    def counted() -> tuple[int, ...]:
        return tuple(model.objects.count() for model in models)

    good = True
    for kind in kinds:
        if kind.send(kind.good) not in (200, 302):
            good = report(f"mutations {kind.name}", False, "the good example is refused")
            continue
        chance, errors, half, slow, taken, slowest = random.Random(f"{kind.name} {seed}"), 0, 0, 0, 0, 0.0
        for _ in range(TIMES):
            cache.clear()
            if kind.name == "crops":  # what came in before would refuse the next
                GardenCrop.objects.all().delete()
            data = mutate(kind.good, chance)
            before, entries, began = (
                counted(),
                JournalEntry.objects.filter(kind__in=("change", "device")).count(),
                time.monotonic(),
            )
            status = kind.send(data)
            seconds = time.monotonic() - began
            slowest, slow = max(slowest, seconds), slow + (seconds > LONGEST_S)
            errors += status >= 500
            if status in (400, 413, 422):
                half += counted() != before
            else:
                taken += 1
                half += JournalEntry.objects.filter(kind__in=("change", "device")).count() - entries > 1
        ok = not (errors or half or slow)
        figures = f"{TIMES} mutations, {taken} taken whole, {errors} errors, {half} half, {slow} over {LONGEST_S:g} s, slowest {slowest:.2f} s"
        good = report(f"mutations {kind.name}", ok, figures) and good
    main = ("today/", "plan/", "seeds/", "beds/", "place/", "crops/", "calendar/", "place/readings/")
    failed = ", ".join(page for page in main if client.get(url + page).status_code != 200)
    return (
        report("mutations afterwards", not failed, f"failed: {failed}" if failed else "every main page lives") and good
    )
