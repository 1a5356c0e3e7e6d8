"""The demo's findings stay what they were, however the house is arranged.

`tests/demo/findings.json` is what was found before; where a rule is changed on purpose, it is written anew:

    LEVELMOOR_FINDINGS=write .venv/bin/pytest tests/records/test_findings_stay.py
"""

import json
import os
from pathlib import Path

from levelmoor.core.judge import judge
from levelmoor.records.exporting import exported
from tests.demo.told import told
from tests.records.test_bench_records import demo_rows  # noqa: F401  the fixture

KEPT = Path(__file__).parents[1] / "demo/findings.json"


def test_demo_is_judged_as_it_was(session, demo_rows):  # noqa: F811
    found = [told(core, judge(core)) for core in (exported(session, row).evaluation for row in demo_rows)]
    found = json.loads(json.dumps(found))
    if os.environ.get("LEVELMOOR_FINDINGS") == "write":
        KEPT.write_text(json.dumps(found, ensure_ascii=False, indent=0) + "\n", "utf-8")
    kept = json.loads(KEPT.read_text("utf-8"))
    for one, other in zip(found, kept, strict=True):
        assert one == other, one["title"]
