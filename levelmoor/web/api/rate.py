"""How often one address may ask: a bucket that fills again, in each server process."""

import time
from collections import OrderedDict
from threading import Lock

from flask import Response, jsonify

A_MINUTE, AT_ONCE = 240, 60
MOST_ADDRESSES = 10_000
_buckets: OrderedDict[str, tuple[float, float]] = OrderedDict()
_lock = Lock()


def within_rate(address: str) -> Response | None:
    """Take one from the bucket of an address; where it is empty, the answer that says so."""
    now = time.monotonic()
    with _lock:
        held, at = _buckets.pop(address, (float(AT_ONCE), now))
        held = min(held + (now - at) * A_MINUTE / 60, AT_ONCE)
        _buckets[address] = max(held - 1, 0.0), now
        if len(_buckets) > MOST_ADDRESSES:
            _buckets.popitem(last=False)
    if held >= 1:
        return None
    refused = jsonify(problem=f"Too many requests: {A_MINUTE} a minute are served. Wait a second and go on.")
    refused.status_code = 429
    refused.headers["Retry-After"] = "1"
    return refused
