"""Planning the whole ladder for one photo: milliseconds, and against parsing its sizes as JSON."""

from __future__ import annotations

import json
from importlib import resources
from pathlib import Path

from common import best

from zinc_margin.docket.docket import Docket
from zinc_margin.measure.sizes import catalogue
from zinc_margin.photo.facts import Facts
from zinc_margin.plan.ladder import ladder
from zinc_margin.plan.planning import plan

if __name__ == "__main__":
    facts = Facts(Path("a.jpg"), "JPEG", 6000, 4000, 8, "RGB")
    docket = Docket()
    made = plan(facts, docket)
    ladder(facts, docket, made)
    seconds = best(lambda: ladder(facts, docket, made), 20)
    raw = resources.files("zinc_margin.measure").joinpath("data/sizes.json").read_text("utf-8")
    other = best(lambda: json.loads(raw), 20)
    print(
        f"{len(catalogue())} sizes planned in {seconds * 1e3:.2f} ms, "
        f"{seconds / other:.1f} times as long as json reads their "
        f"file; under 5 ms is asked: {'met' if seconds < 0.005 else 'NOT met'}"
    )
