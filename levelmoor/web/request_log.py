"""What is known of each request once it is answered: a line in the log, figures for a monitor, minutes for the
operator's page. Its route is told and not its address, which may hold what lets somebody in."""

import secrets
import threading
import time
from datetime import datetime
from typing import Any

from flask import Flask, Response, g, got_request_exception, request
from prometheus_client import Counter, Histogram
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records.database import now
from levelmoor.records.logs import log, places_of, request_id
from levelmoor.records.operating import Answered, keep_minute
from levelmoor.services.live_runs import SERVER

HEADER = "Levelmoor-Request"
MOST_IN_A_MINUTE = 20_000
ANSWERS = Counter("levelmoor_answers", "Answers by route and status", ["route", "status"])
SECONDS = Histogram(
    "levelmoor_answer_seconds", "Time to the head of an answer", ["route"],
    buckets=(0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 30),
)  # fmt: skip


class Minutes:
    """The answers of the minute that goes on; those of the one before are kept as soon as another has begun."""

    def __init__(self, maker: sessionmaker[Session]) -> None:
        self._maker, self._lock = maker, threading.Lock()
        self._minute: datetime | None = None
        self._answers: list[Answered] = []

    def add(self, one: Answered) -> None:
        minute = now().replace(second=0)
        with self._lock:
            before, answers = self._minute, self._answers
            if minute != before:
                self._minute, self._answers = minute, []
            if len(self._answers) < MOST_IN_A_MINUTE:
                self._answers.append(one)
        if before is not None and minute != before:
            threading.Thread(target=self._keep, args=(before, answers), daemon=True).start()

    def keep_now(self) -> None:
        """Keep what there is of this minute too."""
        with self._lock:
            minute, answers, self._minute, self._answers = self._minute, self._answers, None, []
        if minute is not None and answers:
            self._keep(minute, answers)

    def _keep(self, minute: datetime, answers: list[Answered]) -> None:
        try:
            with self._maker.begin() as session:
                keep_minute(session, SERVER, minute, answers)
        except SQLAlchemyError as problem:
            log("levelmoor.operating").warning("minute not kept", exc_info=problem)


def install(app: Flask) -> None:
    minutes = app.config["MINUTES"] = Minutes(app.config["SESSIONS"])
    requests = log("levelmoor.request")

    # Flask's own line quotes the address, which may let somebody in, and the error's words.
    app.log_exception = lambda exc_info: log("levelmoor.web").error("broken", exc_info=exc_info)  # type: ignore[method-assign]

    @app.before_request
    def begin() -> None:
        g.begun, g.request_id = time.monotonic(), secrets.token_hex(8)
        request_id.set(g.request_id)

    @got_request_exception.connect_via(app)
    def broken(_app: Flask, exception: BaseException, **_: Any) -> None:
        g.error = exception

    @app.after_request
    def told(response: Response) -> Response:
        if "begun" not in g or request.endpoint == "static":
            return response
        response.headers[HEADER] = g.request_id
        seconds = time.monotonic() - g.begun
        route = str(request.url_rule) if request.url_rule else "none"
        error: BaseException | None = g.pop("error", None)
        kind, places = (type(error).__name__, places_of(error)) if error else ("", [])
        status = response.status_code
        minutes.add(Answered(g.request_id, route, status, seconds, kind, places[-1] if places else ""))
        ANSWERS.labels(route, status).inc()
        SECONDS.labels(route).observe(seconds)
        place = g.get("membership")
        requests.info(
            "request", method=request.method, route=route, status=status, ms=round(1000 * seconds, 1),
            bytes=response.content_length, team=place.team_id if place else None,
            user=place.user_id if place else None, **({"error": kind, "at": places} if kind else {}),
        )  # fmt: skip
        return response
