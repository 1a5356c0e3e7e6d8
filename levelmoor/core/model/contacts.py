"""Contacts and spots on the air: colour beside the evidence, which no verdict reads."""

from dataclasses import dataclass
from enum import StrEnum


class ContactKind(StrEnum):
    """A contact both ways, or a weak signal that one side reported of the other."""

    CONTACT = "contact"
    SPOT = "spot"


@dataclass(frozen=True)
class Contact:
    """One of them. `at` is ISO, UTC; `setup_id` the state of the antenna in use; the reports as they were given;
    `snr_db` what a spot reports. `call` and locators are as they were heard; `band` where nothing
    but the band is known, `frequency_hz` is then its middle."""

    id: str
    at: str
    frequency_hz: float
    mode: str = ""
    call: str = ""
    kind: ContactKind = ContactKind.CONTACT
    own_locator: str = ""
    locator: str = ""
    power_w: float | None = None
    sent: str = ""
    received: str = ""
    snr_db: float | None = None
    sample_id: str = ""
    setup_id: str = ""
    who: str = ""
    note: str = ""
    band: str = ""
