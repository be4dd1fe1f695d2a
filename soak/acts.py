"""What two people may do in a garden, each at random: plan, tasks, records, packets, beds, crops, place; and taking back."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from typing import TYPE_CHECKING, Any

from aestiva.course.state import load
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.models import GardenNight, SoilReading, Warmth
from aestiva.plan.replan import proposals
from aestiva.season.crops import Crops
from aestiva.season.models import Absence, Batch, BedArea, CropValue, GardenCrop, Lot, Planting, Spot
from aestiva.seeds.models import SeedTest
from growing.practices import SCHOOLS
from soak.bench_acts import came, comes_up, hands, mend, mix, path, put, sheet, shelf, tray
from soak.care_acts import care
from soak.door_acts import door
from soak.light_acts import light

if TYPE_CHECKING:
    from soak.walk import Walk


def _plantings(walk: Walk) -> Any:
    return Planting.objects.filter(season__garden=walk.garden, cancelled_on=None)


def _batches(walk: Walk) -> Any:
    return Batch.objects.filter(planting__season__garden=walk.garden, failed_on=None)


def plan(walk: Walk) -> None:
    crop = walk.pick(("Tomato", "Kale", "Leek", "Cosmos", "Pepper", "Onion"))
    form = {"crop": crop, "wanted": str(walk.random.randrange(1, 20)), "method": "raised", "term": "spring"}
    if walk.random.random() < 0.5:
        form["sow_on"] = walk.day()
    walk.post("plan/add/", sown_in="cells", variety="", **form)


def edit(walk: Walk) -> None:
    one = walk.pick(_plantings(walk))
    if one is None:
        return
    wanted, name = str(walk.random.randrange(1, 30)), Crops(walk.garden)[one.crop_key].name
    walk.post(
        f"plan/{one.pk}/", crop=name, wanted=wanted, method=one.method, term=one.term, sown_in=one.sown_in, variety=one.variety,
        sow_on=_sown_on(one).isoformat(), revision=walk.pick((one.revision, one.revision, one.revision - 1)),
    )  # fmt: skip


def _sown_on(one: Any) -> date:
    """The day pinned, or the one proposed when it was planned."""
    return one.chosen_sow or date.fromisoformat(one.made["sow_on"])


def cancel(walk: Walk) -> None:
    one = walk.pick(_plantings(walk))
    if one is not None and walk.random.random() < 0.3:
        walk.post(f"plan/{one.pk}/cancel/", sure="yes", revision=one.revision)


def shift(walk: Walk) -> None:
    one = walk.pick(_plantings(walk))
    if one is not None:
        day = (_sown_on(one) + timedelta(days=walk.random.randrange(-9, 10))).isoformat()
        walk.post("plan/moves/keep/", moves=f"{one.pk}.{day}", seen=f"{one.pk}.{one.revision}")


def several(walk: Walk) -> None:
    """Several sowing days at once, some of them let go."""
    some = [one for one in (walk.pick(_plantings(walk)) for _ in range(3)) if one is not None]
    days = {one.pk: (_sown_on(one) + timedelta(days=walk.random.randrange(-9, 30))).isoformat() for one in some}
    moves = ",".join(f"{pk}.{day if walk.random.random() < 0.8 else ''}" for pk, day in days.items())
    walk.post("plan/moves/keep/", moves=moves, seen=",".join(f"{one.pk}.{one.revision}" for one in some))


def away(walk: Walk) -> None:
    gone = walk.pick(Absence.objects.filter(garden=walk.garden))
    if gone is not None and walk.random.random() < 0.5:
        walk.post(f"plan/away/{gone.pk}/home/", revision=gone.revision)
        return
    since = walk.today + timedelta(days=walk.random.randrange(0, 60))
    walk.post(
        "plan/away/", since=since.isoformat(), until=(since + timedelta(days=walk.random.randrange(0, 12))).isoformat()
    )


def replan(walk: Walk) -> None:
    """Some of what facts have overtaken."""
    now = load(Garden.objects.get(pk=walk.garden.pk), walk.today)
    found = [p for p in proposals(now) if p.after is not None and walk.random.random() < 0.7]
    seen = [f"{p.key}:{p.item.planting.revision}" for p in found]
    walk.post("plan/replan/", take=[p.key for p in found], seen=seen)


def again(walk: Walk) -> None:
    crop = walk.pick(("Lettuce", "Radish", "Coriander"))
    if walk.random.random() < 0.4:
        first = walk.today + timedelta(days=walk.random.randrange(0, 20))
        last = (first + timedelta(days=30)).isoformat()
        walk.post(
            "plan/again/",
            crop=crop,
            by="days",
            method="raised",
            every_days="14",
            plants="5",
            first=first.isoformat(),
            last=last,
        )


def way(walk: Walk) -> None:
    garden = Garden.objects.get(pk=walk.garden.pk)
    school = walk.pick(SCHOOLS[:-1])
    chosen = {school.field: walk.pick(school.options).key}
    walk.post("plan/ways/", revision=garden.settings_revision, **chosen)


def task(walk: Walk) -> None:
    todos = load(Garden.objects.get(pk=walk.garden.pk), walk.today).todos(walk.today + timedelta(days=40))
    todo = walk.pick(todos)
    if todo is None:
        return
    what = walk.random.random()
    if what < 0.1:
        walk.post(f"task/{todo.task.key}/", what="skip")
    elif what < 0.2:
        walk.post(f"task/{todo.task.key}/", what="move", to=(walk.today + timedelta(days=4)).isoformat())
    else:
        count = todo.task.count or 0
        if todo.task.kind in ("look", "count"):
            count = walk.random.randrange(0, 20)
        part = str(count if walk.random.random() < 0.7 else max(0, count // 2))
        data = {"count": part} if todo.task.kind in ("look", "count") or walk.random.random() < 0.5 else {}
        walk.post(f"task/{todo.task.key}/", **data)


def record(walk: Walk) -> None:
    one = walk.pick(_batches(walk))
    if one is not None:
        kind = walk.pick(("up", "up", "died", "given", "thinned", "never_up", "lost_outside"))
        seen = walk.pick((one.revision, one.revision, one.revision - 1))
        walk.post(
            f"batch/{one.pk}/record/", kind=kind, count=str(walk.random.randrange(0, 14)), on=walk.day(), revision=seen
        )


def split(walk: Walk) -> None:
    one = walk.pick(_batches(walk))
    if one is not None:
        walk.post(
            f"batch/{one.pk}/change/", what="split", count=str(walk.random.randrange(1, 5)), revision=one.revision
        )


def move(walk: Walk) -> None:
    one, spot = walk.pick(_batches(walk)), walk.pick(Spot.objects.filter(garden=walk.garden))
    if one is not None and spot is not None:
        walk.post(f"batch/{one.pk}/change/", what="move", spot=spot.pk, revision=one.revision)


def give_up(walk: Walk) -> None:
    one = walk.pick(_batches(walk))
    if one is not None and walk.random.random() < 0.3:
        walk.post(f"batch/{one.pk}/change/", what="fail", sure="yes", note="slugs", revision=one.revision)


def emergence(walk: Walk) -> None:
    """Counted, lifted, or the mix read where it stands."""
    one, at = walk.pick(_batches(walk)), walk.pick(Spot.objects.filter(garden=walk.garden))
    what = walk.random.random()
    if one is not None and what < 0.4:
        seen = walk.pick((one.revision, one.revision, one.revision - 1))
        walk.post(f"emergence/{one.pk}/count/keep/", count=str(walk.random.randrange(0, 12)), revision=seen)
    elif one is not None and what < 0.6:
        walk.post(
            f"emergence/{one.pk}/lifted/keep/", revision=one.revision, **{walk.pick(("root", "soft", "nothing")): "1"}
        )
    elif at is not None:
        most = walk.pick(({}, {"most": str(walk.random.randrange(18, 30))}))
        walk.post("emergence/reading/keep/", spot=at.pk, celsius=str(walk.random.randrange(8, 18)), **most)


def around(walk: Walk) -> None:
    """Something done around a batch, moved, sown again, looked at, or graded."""
    one, at = walk.pick(_batches(walk)), walk.pick(Spot.objects.filter(garden=walk.garden))
    if one is None or at is None:
        return
    seen = walk.pick((one.revision, one.revision, one.revision - 1))
    what = walk.pick(("trigger", "trigger", "move", "again", "stage", "grade"))
    data = {
        "trigger": {"kind": walk.pick(("lamp", "vents", "ajar", "lid", "mat", "below", "paper"))},
        "move": {"spot": at.pk},
        "again": {"count": "6", "spot": at.pk},
        "stage": {"leaves": str(walk.random.randrange(0, 5)), "cm": walk.pick(("", "6"))},
        "grade": {"small": str(walk.random.randrange(1, 5)), "leaves": walk.pick(("", "1"))},
    }[what]
    walk.post(f"emergence/{one.pk}/{what}/keep/", revision=seen, **data)


def packet(walk: Walk) -> None:
    crop = walk.pick(("Tomato", "Kale", "Leek", "Onion"))
    packed = str(walk.random.randrange(2012, 2027))
    walk.post(
        "seeds/", crop=crop, variety=walk.pick(("Old Ferry", "Lintel", "")), packed=packed, seeds="80", twin="another"
    )


def seed_test(walk: Walk) -> None:
    one = walk.pick(Lot.objects.filter(garden=walk.garden))
    if one is not None:
        walk.post(f"seeds/{one.pk}/test/", on=walk.day(30), sown="20", up=str(walk.random.randrange(0, 21)))


def untest(walk: Walk) -> None:
    one = walk.pick(SeedTest.objects.filter(lot__garden=walk.garden))
    if one is not None:
        walk.post(f"seeds/{one.lot_id}/test/", remove=one.pk)


def sow_from(walk: Walk) -> None:
    one = walk.pick(_plantings(walk))
    lot = None if one is None else walk.pick(Lot.objects.filter(garden=walk.garden, crop_key=one.crop_key))
    if one is not None:
        walk.post(f"seeds/count/{one.pk}/", lot="" if lot is None else lot.pk, revision=one.revision)


def store(walk: Walk) -> None:
    one = walk.pick(Lot.objects.filter(garden=walk.garden))
    if one is not None:
        place = walk.pick(("shed", "cool", "kitchen", "fridge"))
        walk.post(f"seeds/{one.pk}/facts/", variety=one.variety, packed_year=one.packed_year or "", storage=place,
                  revision=one.revision)  # fmt: skip


def spot(walk: Walk) -> None:
    walk.post("spots/new/", code=f"Z{walk.random.randrange(9)}", kind=walk.pick(("shelf", "frame", "porch")))


def lay(walk: Walk) -> None:
    one, bed = walk.pick(_plantings(walk)), walk.pick(Spot.objects.filter(garden=walk.garden, kind="bed"))
    if one is not None and bed is not None:
        walk.post(f"beds/{bed.pk}/lay/", planting=one.pk)


def area(walk: Walk) -> None:
    one = walk.pick(BedArea.objects.filter(planting__season__garden=walk.garden))
    if one is not None:
        how = walk.pick(({"lift": "yes"}, {"as_fits": "yes"}, {"x": "10", "y": "10", "l": "90", "w": "60"}))
        walk.post(f"beds/area/{one.pk}/", revision=one.revision, **how)


def measure(walk: Walk) -> None:
    one = walk.pick(Spot.objects.filter(garden=walk.garden, kind="bed"))
    if one is not None:
        length = str(walk.random.randrange(100, 400))
        walk.post(
            f"beds/{one.pk}/measure/",
            code=one.code,
            kind="bed",
            length_cm=length,
            width_cm="120",
            revision=one.revision,
        )


def crop_value(walk: Walk) -> None:
    name = walk.pick(("raise_min", "raise_max", "hold", "germinate_c", "out_min"))
    walk.post(f"crops/{walk.pick(('tomato', 'kale'))}/{name}/", value=str(walk.random.randrange(2, 16)), reason="own")


def forget_value(walk: Walk) -> None:
    one = walk.pick(CropValue.objects.filter(garden=walk.garden))
    if one is not None:
        walk.post(f"crops/{one.crop_key}/{one.field}/", forget="1")


def own_crop(walk: Walk) -> None:
    walk.post("crops/", name=f"Sort {walk.random.randrange(99)}", relative="Tomato")
    own = walk.pick(GardenCrop.objects.filter(garden=walk.garden))
    if own is not None and walk.random.random() < 0.5:
        walk.post("plan/add/", crop=own.name, wanted="4", method="raised", term="spring", sown_in="cells", variety="")


def frost(walk: Walk) -> None:
    day = f"2026-05-{walk.random.randrange(1, 28):02}"
    walk.post("place/typed/", last_on=day, last_meaning="average", first_meaning="unknown")


def risk(walk: Walk) -> None:
    walk.post("place/line/", risk=str(walk.random.randrange(2, 49)))


def reading(walk: Walk) -> None:
    if walk.random.random() < 0.5:
        walk.post("place/readings/", which="soil", day=walk.day(9), hour="8", celsius=str(walk.random.randrange(4, 14)))
    else:
        walk.post("place/readings/", which="night", day=walk.day(9), celsius=str(walk.random.randrange(-4, 9)))


def unread(walk: Walk) -> None:
    model: Any = walk.pick((SoilReading, GardenNight, Warmth))
    one = walk.pick(model.objects.filter(garden=walk.garden))
    if one is not None and model is Warmth:
        walk.post(f"place/warmth/{one.pk}/remove/")
    elif one is not None:
        walk.post("place/readings/", which="remove", of="soil" if model is SoilReading else "", pk=one.pk)


def forecast(walk: Walk) -> None:
    day = (walk.today + timedelta(days=walk.random.randrange(0, 6))).isoformat()
    walk.post("place/forecast/", one="1", day=day, tmin=str(walk.random.randrange(-5, 8)))


def take_back(walk: Walk) -> None:
    """Any entry at all: many refuse, and say so."""
    entry = walk.pick(JournalEntry.objects.filter(garden=walk.garden).defer("changes")[:25])
    if entry is not None:
        walk.post(f"journal/{entry.pk}/undo/")


def take_back_last(walk: Walk) -> None:
    entries = JournalEntry.objects.filter(garden=walk.garden, undone_by=None).defer("changes")[:3]
    if entries:
        walk.post(f"journal/{walk.pick(entries).pk}/undo/")


ACTIONS: dict[str, Callable[[Walk], None]] = {
    one.__name__: one
    for one in (
        plan, edit, cancel, shift, several, away, replan, again, way,
        task, task, record, split, move, give_up, packet, seed_test, untest, sow_from, store, spot, tray, put, sheet, mix, shelf, came,
        path, mend, comes_up, hands, light, care, door, emergence, around, lay, area, measure, crop_value, forget_value, own_crop,
        frost, risk, reading, unread, forecast, take_back, take_back_last,
    )
}  # fmt: skip
WEIGHTS = {
    "task": 4,
    "record": 3,
    "tray": 6,
    "sheet": 6,
    "put": 2,
    "take_back": 3,
    "take_back_last": 3,
    "plan": 2,
    "light": 3,
    "care": 6,
    "door": 6,
}
for _name, _times in WEIGHTS.items():
    for _n in range(1, _times):
        ACTIONS[f"{_name} {_n}"] = ACTIONS[_name]
