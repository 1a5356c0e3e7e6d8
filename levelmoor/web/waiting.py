"""How many changes of one evaluation may wait for one another; who comes then is told to send again."""

from collections import Counter
from collections.abc import Hashable
from threading import Lock

from flask import g
from werkzeug.exceptions import ServiceUnavailable

MOST = 6
"""Changes of one evaluation at a time on one server: the one that is made, and those that wait for it. The threads
that are left answer everybody else."""
HEADER = "Levelmoor-Busy"
SEND_AGAIN = "Others are changing this right now. Your change was not made; go back, and send it again in a moment."
WORDS = "Others are changing this right now. What you did is kept here, and will be sent again by itself."


class Busy(ServiceUnavailable):
    """So many changes wait that no more is let wait; the page sends it again."""

    description = WORDS


_here: Counter[Hashable] = Counter()
_lock = Lock()


def stand_in_line(key: Hashable) -> None:
    """Take a place among the changes of a thing; it is given back when the request ends.

    Raises
    ------
    Busy
        Where there is none.
    """
    if g.get("in_line") is not None:  # the same request once more, after the database asked for that
        return
    with _lock:
        if _here[key] >= MOST:
            raise Busy
        _here[key] += 1
    g.in_line = key


def leave_line() -> None:
    """Give the place back, if the request had one."""
    key = g.pop("in_line", None)
    if key is not None:
        with _lock:
            _here[key] -= 1
            if _here[key] <= 0:
                del _here[key]
