"""What goes wrong with an instrument, told so that it can be put right."""

from enum import StrEnum


class Trouble(StrEnum):
    UNREACHABLE = "unreachable"
    TIMEOUT = "timeout"
    GARBAGE = "garbage"
    WRONG_SPAN = "wrong_span"
    DISCONNECTED = "disconnected"
    DRIVER = "driver"


class InstrumentProblem(Exception):
    """The kind of trouble, and in words what was asked and what came."""

    def __init__(self, trouble: Trouble, words: str) -> None:
        super().__init__(words)
        self.trouble = trouble
