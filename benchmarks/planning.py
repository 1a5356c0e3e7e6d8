"""Planning 50 claims over 4 samples and 6 setups: python -m benchmarks.planning."""

import statistics
import time
from dataclasses import replace

from levelmoor.core.metrology.uncertainty import Residuals
from levelmoor.core.model.claims import Claim
from levelmoor.core.model.connectors import parse_connector
from levelmoor.core.model.equipment import Adapter, Equipment, Instrument, InstrumentClass
from levelmoor.core.model.evaluation import Evaluation, Product, Sample, Setup
from levelmoor.core.model.quantities import Quantity
from levelmoor.core.plan.plan import make_plan
from levelmoor.core.rf.bandplan import band_plan
from levelmoor.core.rf.windows import Window


def case(claims: int = 50, samples: int = 4, setups: int = 6) -> Evaluation:
    """Claims on bands and ranges with different limits, six instruments, twelve adapters."""
    bands = [b.window for b in band_plan(1).bands]
    ranges = [Window(w.low_hz * (1 + k / 1000), w.high_hz * (1 + k / 1000)) for k in range(1, 4) for w in bands]
    windows = (bands + ranges)[:claims]
    ends = [parse_connector(f"{f} {g}") for f in ("N", "BNC", "SMA", "UHF") for g in ("male", "female")]
    adapters = tuple(
        Adapter(str(i), f"adapter {i}", ends[i % 8], ends[(3 * i + 1) % 8], high_hz=1e9, loss_db=0.1) for i in range(12)
    )
    instruments = tuple(
        Instrument(
            str(i), f"analyzer {i}", "", Residuals(30 + 2 * i), "", InstrumentClass.ANALYZER, 1e5, 1.5e9,
            points=101 + 100 * i, connector=ends[(2 * i + 1) % 8], memories=i,
        )
        for i in range(6)
    )  # fmt: skip
    return Evaluation(
        "many", Product("many"),
        samples=tuple(Sample(f"s{i}", f"Unit {i}", connector=ends[1 + 2 * (i % 2)]) for i in range(samples)),
        claims=tuple(Claim(str(i), Quantity.SWR, (w,), 1.5 + i % 5 / 4) for i, w in enumerate(windows)),
        setups=tuple(Setup(f"u{i}", f"Setup {i}") for i in range(setups)),
        instruments=instruments, equipment=Equipment(adapters=adapters),
    )  # fmt: skip


def main() -> None:
    small, large = case(5, 1, 1), case()
    times: dict[str, list[float]] = {"5 claims, 1 sample, 1 setup": [], "50 claims, 4 samples, 6 setups": []}
    runs = {}
    for _ in range(7):
        for name, one in zip(times, (small, large), strict=True):
            fresh = replace(one, notes=str(time.perf_counter()))
            start = time.perf_counter()
            runs[name] = len(make_plan(fresh).runs)
            times[name].append(time.perf_counter() - start)
    for name, took in times.items():
        print(
            f"{name}: {runs[name]} runs, median {1e3 * statistics.median(took):.0f} ms, worst {1e3 * max(took):.0f} ms"
        )


if __name__ == "__main__":
    main()
