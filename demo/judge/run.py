"""`make simulate`: our rules against growers' habits, a line a policy; ONLY=name … for some of the comparisons."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable, Iterator
from typing import Any

from demo.judge import care, counts, dates, lamps, outs, room, successions, trouble, verdicts

COMPARISONS: dict[str, Callable[[], Iterator[Any]]] = {
    "dates": dates.compare,
    "counts": counts.compare,
    "successions": successions.compare,
    "room": room.compare,
    "verdicts": verdicts.compare,
    "lamps": lamps.compare,
    "water": care.waters,
    "feed": care.feeds,
    "trouble": trouble.trouble,
    "out": outs.compare,
}
CROPS = {"dates": dates.CROPS, "out": outs.CROPS, "counts": tuple(w.name for w in counts.wishes())}


def main(wanted: list[str]) -> int:
    """Run the comparisons of these names, all without any; 2 where a name is unknown."""
    flags, names = {w for w in wanted if w.startswith("--")}, [w for w in wanted if not w.startswith("--")]
    if unknown := [w for w in names if w not in COMPARISONS]:
        print(f"no comparison {', '.join(unknown)}; there are {', '.join(COMPARISONS)}", file=sys.stderr)
        return 2
    for name in names or COMPARISONS:
        began = time.monotonic()
        for line in COMPARISONS[name]():
            print(line, flush=True)
            if "--crops" in flags and name in CROPS:
                print(
                    "   " + ", ".join(f"{c} {w:.2f}" for c, w in zip(CROPS[name], line.by_crop, strict=True)),
                    flush=True,
                )
        print(f"# {name}: {time.monotonic() - began:.0f} s", flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
