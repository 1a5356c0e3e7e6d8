"""Channel numbers of citizens' band and licence-exempt radios as frequencies.

References
----------
.. [1] CEPT ECC decision (11)03 and ECC decision (15)05, channel plans (memory).
"""

CB_CHANNELS = 40
_CB_GAPS = (3, 7, 11, 15, 19)
"""After these channels of citizens' band one frequency is left out."""
_CB_ODD = {23: 27.255e6, 24: 27.235e6, 25: 27.245e6}
PMR_CHANNELS = 16


def cb_channel_hz(number: int) -> float:
    """The frequency of a citizens' band channel, 1 to 40 [1]_: 10 kHz apart, with gaps, and 23 to 25 out of order.

    Raises
    ------
    ValueError
        Where there is no such channel.
    """
    if not 1 <= number <= CB_CHANNELS:
        raise ValueError(f"citizens' band has channels 1 to {CB_CHANNELS}, not {number}")
    if number in _CB_ODD:
        return _CB_ODD[number]
    if number > 25:
        return 27.265e6 + 10e3 * (number - 26)
    return 26.965e6 + 10e3 * (number - 1 + sum(1 for gap in _CB_GAPS if number > gap))


def pmr_channel_hz(number: int) -> float:
    """The frequency of a PMR446 channel, 1 to 16, 12.5 kHz apart [1]_.

    Raises
    ------
    ValueError
        Where there is no such channel.
    """
    if not 1 <= number <= PMR_CHANNELS:
        raise ValueError(f"PMR446 has channels 1 to {PMR_CHANNELS}, not {number}")
    return 446.00625e6 + 12.5e3 * (number - 1)
