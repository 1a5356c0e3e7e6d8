"""What people work on, by the name of its kind: as cells, addresses and the history call it."""

from collections.abc import Mapping
from typing import Any

from levelmoor.records import tables as t
from levelmoor.records.mapping import claim_of

KINDS: Mapping[str, type[Any]] = {
    "evaluation": t.Evaluation,
    "product": t.Product,
    "sample": t.Sample,
    "setup": t.Setup,
    "setting": t.ArticleSetting,
    "element": t.ArticleElement,
    "adjustment": t.Adjustment,
    "width": t.WidthReading,
    "strip": t.TimeStrip,
    "comparison": t.ChosenComparison,
    "network": t.TunerNetwork,
    "trial": t.Trial,
    "through": t.ThroughSweep,
    "record": t.FieldRecord,
    "claim": t.Claim,
    "sweep": t.Sweep,
    "reading": t.Reading,
    "capture": t.Capture,
    "filter": t.Filter,
    "picture": t.Picture,
    "file": t.PendingFile,
    "comment": t.Comment,
    "calibration": t.Calibration,
    "check": t.BenchCheck,
    "instrument": t.Instrument,
    "piece": t.Owned,
    "driver": t.Driver,
    "rules": t.RuleSet,
    "team": t.Team,
}
KIND_WORDS = {kind: kind for kind in KINDS} | {
    "element": "moving part",
    "adjustment": "round",
    "strip": "time strip",
    "through": "port-to-port sweep",
    "record": "field measurement",
    "file": "waiting file",
    "piece": "equipment",
    "rules": "rule set",
}
"""What people call it, where that is another word."""
_NAMES = {model: kind for kind, model in KINDS.items()}
_CALLED_BY = ("label", "name", "rule_id", "file_name", "done_at", "words", "title")


def kind_of(row: Any) -> str:
    """The name of a row's kind, empty for what is no such thing."""
    return _NAMES.get(type(row), "")


def name_of(row: Any) -> str:
    """What a row is called."""
    if isinstance(row, t.Claim):
        return claim_of(row).wording
    if isinstance(row, t.Evaluation):
        return row.product.name
    if isinstance(row, t.WidthReading):
        return f"of {row.band}, {row.low_hz / 1e6:g} to {row.high_hz / 1e6:g} MHz"
    if isinstance(row, t.TimeStrip):
        return f"of {row.kind}, {row.begun_at.replace('T', ' ')}"
    if isinstance(row, t.Trial):
        return f"on {row.frequency_hz / 1e6:g} MHz into {row.load or 'its load'}"
    if isinstance(row, t.Reading):
        return f"at {row.typed.get('frequency', 'no frequency')}"
    return str(next((v for n in _CALLED_BY if (v := getattr(row, n, ""))), ""))[:200]
