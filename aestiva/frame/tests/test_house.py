"""The house keeps its order: wording for every rule, contrast from the tokens, no reaching into later stages."""

from __future__ import annotations

import ast
import json
import re
from pathlib import Path
from unittest import TestCase

from django.core.exceptions import ImproperlyConfigured

from aestiva.frame import say, values, wording
from aestiva.frame.wording import Said, StageWords
from aestiva.gardens.providers import event_kinds, steps
from growing.batch.history import COUNTED
from growing.calendar import Window
from growing.place import kinds as places
from growing.steps import WHERE
from growing.working import Value, Working

ROOT = Path(__file__).resolve().parents[3]
ORDER = ["accounts", "gardens", "season", "place", "beds", "seeds", "course", "plan", "bench", "emergence", "light", "care",
         "hardening", "plantingout", "lookback", "today"]  # fmt: skip


class Wording(TestCase):
    def test_every_rule_of_the_core_is_declared(self) -> None:
        """Words are held against what is declared when a stage registers; here what is declared against the code."""
        rules: set[str] = set()
        for path in (ROOT / "growing").rglob("*.py"):
            if "tests" not in path.parts and path.name != "rules.py":
                rules |= set(re.findall(r'"([a-z]+\.[a-z_]+)"', path.read_text(encoding="utf-8")))
        rules = {rule for rule in rules if rule.split(".")[0] in ORDER}
        self.assertGreater(len(rules), 40)
        self.assertEqual(rules - set(wording.RULES), set())

    def test_every_problem_of_the_core_has_words(self) -> None:
        codes: set[str] = set()
        for path in (ROOT / "growing").rglob("*.py"):
            if "tests" not in path.parts:
                codes |= set(re.findall(r'\bProblem\(\s*"([a-z_]+)"', path.read_text(encoding="utf-8")))
        self.assertGreater(len(codes), 15)
        self.assertEqual(codes - set(wording.PROBLEMS), set())

    def test_words_that_do_not_fit_are_refused_at_start(self) -> None:
        said = Said("From {result}", "{plain} and {other}")
        for words, rules, kinds, wrong in (
            (StageWords({}), {"dip.day": ("plain",)}, (), "without words"),
            (StageWords({"dip.day": said}), {}, (), "without words"),
            (StageWords({"dip.day": said}), {"dip.day": ("plain",)}, (), "no input"),
            (StageWords({"day": said}), {"day": ("plain", "other")}, (), "begins with its name"),
            (StageWords({}), {}, ("dip",), "steps of dip"),
            (StageWords({}, events={"up": "up"}), {}, (), "taken"),
        ):
            with self.assertRaisesRegex(ImproperlyConfigured, wrong):
                wording.register("dip", words, rules, kinds)
        self.assertNotIn("dip.day", wording.RULES)

    def test_every_event_that_the_ledgers_count_belongs_to_a_stage(self) -> None:
        self.assertEqual(COUNTED - set(event_kinds()), set())

    def test_a_kind_of_work_belongs_to_one_stage_and_stands_somewhere(self) -> None:
        kinds = [spec.kind for spec in steps()]
        self.assertEqual(len(kinds), len(set(kinds)))
        for spec in steps():
            self.assertIn(spec.where, WHERE)
            self.assertTrue(wording.STEPS[spec.kind].plain and wording.STEPS[spec.kind].instruction, spec.kind)

    def test_numbers_and_days_as_people_say_them(self) -> None:
        from datetime import date

        self.assertEqual(say.number(-1.50), "−1.5")
        self.assertEqual(say.number(-0.04), "0")
        self.assertEqual(say.day(date(2026, 3, 21)), "Sat 21 March")
        self.assertEqual(say.away(date(2026, 3, 21), date(2026, 3, 12)), "in 9 days")
        self.assertEqual(say.span(*Window(date(2026, 3, 9), date(2026, 3, 23))), "9–23 March")
        self.assertEqual([say.odds(p) for p in (1, 0.9, 0.5, 0.1, 0.05, 0.01, 0.001)],
                         ["always", "9 in 10", "1 in 2", "1 in 10", "1 in 20", "under 1 in 20", "hardly ever"])  # fmt: skip
        self.assertEqual(say.amount(10, "Δ°C", say.US), "18 °F")
        self.assertEqual(say.amount(0, "°C", say.US), "32 °F")

    def test_a_value_that_is_not_known_says_so(self) -> None:
        self.assertEqual(values.said(Value("cloud", None, "share"), say.METRIC), "not known")
        unknown = Working("place.soil_gate", (Value("needs", 18.0, "°C"),), (), Value("unknown", None))
        self.assertIn("nothing waits for it", wording.line(unknown, say.METRIC))


def luminance(colour: str) -> float:
    channels = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    r, g, b = (c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in channels)
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


class Contrast(TestCase):
    def test_text_on_its_grounds(self) -> None:
        css = (ROOT / "aestiva/frame/static/aestiva/look.css").read_text(encoding="utf-8")
        token = dict(re.findall(r"--([a-z0-9-]+): (#[0-9a-f]{6})", css))
        pairs = [(ink, ground) for ink in ("ink", "ink-2", "alarm", "leaf") for ground in ("paper", "sheet")]
        pairs += [("ink", "sun-2"), ("ink", "alarm-2"), ("ink", "leaf-2"), ("ink-2", "frost-2")]
        grounds = [(token[a], token[b]) for a, b in pairs]
        grounds += [
            ("#173f59", "#80afcd"),
            ("#173f59", "#fafcfc"),
            ("#ffffff", token["leaf"]),
        ]  # the sky's words; buttons
        for ink, ground in grounds:
            high, low = sorted((luminance(ink), luminance(ground)), reverse=True)
            self.assertGreaterEqual((high + 0.05) / (low + 0.05), 4.5, (ink, ground))


class Layers(TestCase):
    def test_no_string_reaches_into_a_later_stage(self) -> None:
        """String foreign keys, model look-ups, template includes and links that import-linter cannot see."""
        names: dict[str, str] = {}
        for app in ORDER:
            urls = ROOT / "aestiva" / app / "urls.py"
            if urls.exists():
                names |= dict.fromkeys(re.findall(r'name="([a-z_]+)"', urls.read_text(encoding="utf-8")), app)
        # the frame and the plan link onward to where the reader goes next; nothing else may
        allowed = {("plan", "batch")}
        for app in ORDER:
            for path in (ROOT / "aestiva" / app).rglob("*.html"):
                for target in re.findall(r"{% url '([a-z_]+)'", path.read_text(encoding="utf-8")):
                    owner = names.get(target, app)
                    if ORDER.index(owner) > ORDER.index(app) and (app, target) not in allowed:
                        self.assertEqual(target, "today", f"{path.name} links to {target} of {owner}")
            for path in (ROOT / "aestiva" / app).glob("*.py"):
                text = path.read_text(encoding="utf-8")
                for other in re.findall(r'(?:ForeignKey|OneToOneField)\(\s*"([a-z]+)\.', text):
                    self.assertLessEqual(ORDER.index(other), ORDER.index(app), path.name)

    def test_templates_do_no_arithmetic_and_pictures_no_inline_style(self) -> None:
        for path in (ROOT / "aestiva").rglob("*.html"):
            text = path.read_text(encoding="utf-8")
            self.assertNotIn("|add:", text, path.name)
            self.assertNotIn(' style="', text, path.name)
            self.assertIsNone(re.search(r"<script>|onclick=|javascript:", text), path.name)

    def test_kinds_of_place_are_listed_in_their_table_alone(self) -> None:
        """Who asks for some takes a set of `growing.place.kinds`, so that a new kind is entered once."""
        for path in [*(ROOT / "growing").rglob("*.py"), *(ROOT / "aestiva").rglob("*.py")]:
            if {"tests", "migrations"} & set(path.parts) or path == ROOT / "growing" / "place" / "kinds.py":
                continue
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.Tuple | ast.List | ast.Set) and len(node.elts) > 1:
                    words = [e.value for e in node.elts if isinstance(e, ast.Constant)]
                    if len(words) == len(node.elts) and words != ["room", "mat"]:  # how a place is heated
                        self.assertFalse(set(words) <= set(places.ALL), f"{path.name}:{node.lineno} {words}")


class Weight(TestCase):
    def test_first_page_is_light_as_the_server_sends_it(self) -> None:
        """Styles and scripts compressed, fonts as they are: under 300 kB with the page itself."""
        import gzip

        from django.contrib.staticfiles import finders
        from django.test import Client

        page = Client().get("/").content
        total = len(gzip.compress(page))
        names = set(re.findall(r'(?:href|src)="/static/([^"]+)"', page.decode()))
        self.assertGreaterEqual(len(names), 5)
        for name in names | {
            f"vendor/fonts/{f}-latin-wght-normal.woff2" for f in ("literata", "atkinson-hyperlegible-next")
        }:
            found = finders.find(name)
            assert isinstance(found, str), name
            data = Path(found).read_bytes()
            total += len(data) if name.endswith("woff2") else len(gzip.compress(data))
        self.assertLess(total, 300_000)


class Forms(TestCase):
    """Every form of a garden that is posted counts once; the audit says when it could look nothing up."""

    FREE = (
        "accounts/",
        "frame/templates/base.html",
        "gardens/welcome.html",
        "gardens/delete_account.html",
        "gardens/join.html",
        "gardens/ask.html",  # posts again what was posted, its key with it
    )

    def test_every_posted_form_carries_a_one_use_key(self) -> None:
        seen = 0
        for path in sorted((ROOT / "aestiva").rglob("templates/**/*.html")):
            name = path.relative_to(ROOT).as_posix()
            for form in re.findall(
                r"<form[^>]*method=\"post\"[^>]*>.*?</form>", path.read_text(encoding="utf-8"), flags=re.S
            ):
                if not any(free in name for free in self.FREE):
                    seen += 1
                    self.assertIn("one_use_key", form, name)
        self.assertGreater(seen, 40)

    def test_the_audit_fails_where_it_could_look_nothing_up(self) -> None:
        from tools.audit import verdict

        one = {"name": "django", "version": "5.2", "vulns": []}
        for output, code, said in (
            ("", 2, "Nothing was looked up"),
            (
                json.dumps({"dependencies": [{"name": "django", "skip_reason": "no network"}]}),
                2,
                "Nothing was looked up",
            ),
            (json.dumps({"dependencies": [one]}), 0, "1 packages looked up, 0 known holes"),
            (json.dumps({"dependencies": [{**one, "vulns": [{"id": "X-1"}]}]}), 1, "django 5.2: X-1"),
            (json.dumps({"dependencies": [one, {"name": "numpy", "skip_reason": "x"}]}), 1, "Not looked up: numpy"),
        ):
            found = verdict(output, "")
            self.assertEqual(found[0], code)
            self.assertIn(said, found[1])


# Where changes are still written past the commands (`gardens/commands.py`): no file joins them, and what is mended is taken off.
PAST_COMMANDS = {
    "bench": ("day_actions", "day_begin", "day_views", "path_views", "placing", "repair_acts",
              "tray_act_views", "tray_actions"),
    "beds": ("actions",),
    "gardens": ("commands", "journal", "views"),
    "place": ("actions", "views", "weather_views"),
    "plan": ("actions", "crop_views", "file_views", "ways_views"),
    "seeds": ("actions", "drawer_views", "file_views"),
    "today": ("demo_views",),
}  # fmt: skip


READ = {
    "emergence/urls": 1,
    "emergence/warm_views": 1,
    "light/views": 1,
    "care/feed_views": 1,
    "care/tool_views": 1,
    "care/trouble_views": 1,
    "care/urls": 3,
    "hardening/home_views": 1,
    "plantingout/tonight_views": 1,
    "plantingout/views": 1,
}


class OneWayIn(TestCase):
    def test_what_is_changed_is_changed_by_a_command(self) -> None:
        found: dict[str, list[str]] = {}
        for path in sorted((ROOT / "aestiva").rglob("*.py")):
            if "tests" not in path.parts and re.search(r"\bjournal\.change\(", path.read_text(encoding="utf-8")):
                found.setdefault(path.parts[len(ROOT.parts) + 1], []).append(path.stem)
        self.assertEqual({app: tuple(names) for app, names in found.items()}, PAST_COMMANDS)

    def test_what_runs_by_commands_reads_no_post(self) -> None:
        """Where it goes on to, and what was typed, to be shown again; of values only what comes with a probe's file."""
        found: dict[str, int] = {}
        for app in ("emergence", "light", "care", "hardening", "plantingout"):
            for path in sorted((ROOT / "aestiva" / app).glob("*.py")):
                if read := path.read_text(encoding="utf-8").count("request.POST"):
                    found[f"{app}/{path.stem}"] = read
        self.assertEqual(found, READ)
