"""What is expected of readings: where they are taken, and with what."""

from levelmoor.core.model.equipment import Instrument, InstrumentClass
from levelmoor.core.model.evaluation import Evaluation
from levelmoor.core.readings.slips import Expected
from levelmoor.core.rf.bandplan import band_plan

BEHIND_A_TRANSMITTER = (InstrumentClass.METER, InstrumentClass.WATTMETER)


def expected_of(evaluation: Evaluation, instrument_id: object) -> Expected:
    """Where readings are expected: the windows of the claims, and where the instrument can and may be used."""
    instrument = next((i for i in evaluation.instruments if i.id == str(instrument_id)), Instrument("", ""))
    bands = (*(b.window for b in band_plan(evaluation.region).bands), *evaluation.own_bands)
    radio = next((r for r in evaluation.equipment.radios if r.ranges and r.meter == instrument.name), None)
    permitted = radio.ranges if radio is not None else bands
    windows = tuple(dict.fromkeys(w for c in evaluation.claims for w in c.windows))
    return Expected(
        windows=windows or bands,
        range_hz=(instrument.low_hz, instrument.high_hz),
        may_transmit=permitted if instrument.instrument_class in BEHIND_A_TRANSMITTER else None,
        radio=radio.name if radio is not None else "",
    )
