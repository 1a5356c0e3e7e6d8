"""A short starter set by class of instrument, with figures typical of the class (common practice, no source)."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

TYPICAL = "typical of the class, not measured"


@dataclass(frozen=True)
class Starter:
    """A class of instrument with the values that its fields start with."""

    name: str
    values: Mapping[str, Any]


def _of(name: str, instrument_class: str, description: str, **values: Any) -> Starter:
    return Starter(
        name, {"instrument_class": instrument_class, "description": description, "figures_source": TYPICAL, **values}
    )


STARTER = (
    _of(
        "Handheld one-port analyzer",
        "analyzer",
        "one port, handheld",
        low_hz=1e6,
        high_hz=500e6,
        points=201,
        memories=1,
        connector="UHF female",
        max_input_dbm=10.0,
        directivity_db=36.0,
        tracking=0.02,
        source_match_db=30.0,
    ),
    _of(
        "Pocket vector analyzer",
        "analyzer",
        "two ports, pocket size",
        low_hz=1e6,
        high_hz=1e9,
        points=201,
        ports=2,
        memories=1,
        connector="SMA female",
        max_input_dbm=10.0,
        directivity_db=38.0,
        tracking=0.015,
        source_match_db=33.0,
    ),
    _of(
        "Bench vector analyzer",
        "analyzer",
        "two ports, bench",
        low_hz=1e6,
        high_hz=3e9,
        points=1001,
        ports=2,
        memories=10,
        connector="N female",
        max_input_dbm=20.0,
        directivity_db=44.0,
        tracking=0.005,
        source_match_db=38.0,
    ),
    _of(
        "Radio's own meter",
        "meter",
        "SWR meter of a transceiver",
        connector="UHF female",
        directivity_db=24.0,
        tracking=0.06,
        source_match_db=24.0,
    ),
    _of(
        "Wattmeter",
        "wattmeter",
        "forward and reflected power",
        low_hz=1.6e6,
        high_hz=200e6,
        connector="UHF female",
        directivity_db=25.0,
        tracking=0.05,
        source_match_db=26.0,
    ),
    _of(
        "Return loss bridge",
        "bridge",
        "needs a source and a meter",
        low_hz=1e6,
        high_hz=500e6,
        connector="BNC female",
        directivity_db=35.0,
        tracking=0.03,
        source_match_db=30.0,
    ),
    _of(
        "Handheld spectrum analyzer",
        "spectrum",
        "handheld",
        low_hz=1e6,
        high_hz=1e9,
        points=501,
        connector="SMA female",
        max_input_dbm=10.0,
        noise_dbm=-100.0,
        noise_rbw_hz=1e4,
    ),
    _of(
        "Bench spectrum analyzer",
        "spectrum",
        "bench",
        low_hz=1e5,
        high_hz=2e9,
        points=1001,
        connector="N female",
        max_input_dbm=20.0,
        noise_dbm=-110.0,
        noise_rbw_hz=1e4,
    ),
    _of("Signal source", "source", "carrier for bridge and checks", low_hz=1e5, high_hz=1e9, connector="SMA female"),
)
