"""`make measure`: each measure against its floor, alternating, median of nine or more runs after a warm-up."""

from __future__ import annotations

import json
import os
import sys
import tempfile

from measures.bench import bench_400, tray_page
from measures.care import care_400, round_page
from measures.core import (
    bootstrap_1000,
    chain_10000x30,
    course_10000x30,
    dating_500,
    frost_100y,
    library_load,
    nature_day,
    sow_counts_300,
)
from measures.hardening import door_page, gates_2000, hardening_400
from measures.light import lamp_drag, light_map, light_season
from measures.pages import (
    bed_600,
    commit_cost,
    demo_built,
    ical_400,
    json_roundtrip_400,
    place_page,
    plan_400,
    today_400,
    weather_import_30y,
)
from measures.room import occupancy_2000, optimise_40_gap, optimise_300_gap
from measures.seasons import (
    calendar_page_400,
    gardens_20,
    handle_move,
    import_2000,
    line_let_go_400,
    redating_400,
    season_loaded_400,
    tap_400,
)
from measures.timing import LANDED, found, landed, loop_ms
from measures.warmth import clocks_400, emergence_page, posterior_400, probe_posts

MEASURES = (
    frost_100y,
    bootstrap_1000,
    place_page,
    sow_counts_300,
    bed_600,
    dating_500,
    chain_10000x30,
    course_10000x30,
    nature_day,
    today_400,
    plan_400,
    ical_400,
    season_loaded_400,
    tap_400,
    calendar_page_400,
    line_let_go_400,
    handle_move,
    redating_400,
    tray_page,
    bench_400,
    care_400,
    round_page,
    occupancy_2000,
    optimise_40_gap,
    optimise_300_gap,
    clocks_400,
    posterior_400,
    probe_posts,
    emergence_page,
    light_map,
    light_season,
    lamp_drag,
    hardening_400,
    gates_2000,
    door_page,
    weather_import_30y,
    json_roundtrip_400,
    import_2000,
    library_load,
    commit_cost,
    gardens_20,
    demo_built,
)


def main(wanted: list[str]) -> int:
    with tempfile.TemporaryDirectory() as data:
        os.environ["AESTIVA_DATA"] = data
        os.environ["AESTIVA_DEBUG"] = "0"
        os.environ["AESTIVA_HOSTS"] = "testserver"  # as the test client calls itself, without test settings too
        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "aestiva.settings")
        import django
        from django.core.management import call_command
        from django.test.utils import setup_test_environment

        django.setup()
        setup_test_environment()
        call_command("migrate", verbosity=0)
        from aestiva.serve import settle

        settle()  # as the server does once it has started
        print(f"LOOP {loop_ms():.2f} ms", flush=True)
        results = [m() for m in MEASURES if not wanted or m.__name__ in wanted]
    if "--keep" in wanted_flags():
        LANDED.write_text(json.dumps(landed() | found, indent=1, sort_keys=True) + "\n", encoding="utf-8")
    return 0 if all(results) else 1


def wanted_flags() -> list[str]:
    return [a for a in sys.argv[1:] if a.startswith("--")]


if __name__ == "__main__":
    sys.exit(main([a for a in sys.argv[1:] if not a.startswith("--")]))
