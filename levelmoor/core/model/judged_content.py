"""What of an evaluation findings rest on: two evaluations that are alike in it are judged alike."""

from collections.abc import Hashable

from levelmoor.core.model.claims import Claim
from levelmoor.core.model.evaluation import Evaluation, Sample

SHOWN_BESIDE = (
    "wishes",
    "pictures",
    "elements",
    "adjustments",
    "wanted_hz",
    "strips",
    "levels",
    "contacts",
    "comparisons",
    "sections",
)
"""What pages show and no finding rests on."""
TOLD = ("title", "product", "notes")
"""What only the report tells."""
_BY_FILE = {"sweeps": ("sweep",), "checks": ("sweep", "traces"), "captures": ("trace",), "throughs": ("two_port",)}
"""What was read from raw files, for which their digests stand and how they were read."""
_OF_SAMPLES = ("id", "label", "connector", "suspicion", "control", "set_aside")


def judged_content(evaluation: Evaluation) -> Hashable:
    """Everything that findings rest on."""
    return bench_content(evaluation), evaluation.claims


def bench_content(evaluation: Evaluation) -> Hashable:
    """The same without the claims."""
    apart = {*SHOWN_BESIDE, *TOLD, *_BY_FILE, "samples", "claims"}
    files = tuple(
        (name, *(v for k, v in vars(row).items() if k not in left))
        for name, left in _BY_FILE.items()
        for row in getattr(evaluation, name)
    )
    samples = tuple(_of_sample(s) for s in evaluation.samples)
    return tuple(v for k, v in vars(evaluation).items() if k not in apart), samples, files


def _of_sample(sample: Sample) -> Hashable:
    return tuple(getattr(sample, name) for name in _OF_SAMPLES)


def asked_of_bench(claims: tuple[Claim, ...]) -> Hashable:
    """What claims ask of the bench that other claims are heard by as well: which windows, quantities and tuners there
    are. A limit is each claim's own."""
    return frozenset((c.quantity, c.tuner, c.windows) for c in claims)
