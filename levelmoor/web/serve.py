"""Serving with gunicorn's threads."""

import os
from typing import Any

from flask import Flask
from gunicorn.app.base import BaseApplication

from levelmoor.web.app import create_app


class _Server(BaseApplication):  # type: ignore[misc]
    def __init__(self, app: Flask, settings: dict[str, Any]) -> None:
        self._app, self._settings = app, settings
        super().__init__()

    def load_config(self) -> None:
        for name, value in self._settings.items():
            self.cfg.set(name, value)

    def load(self) -> Flask:
        return self._app


def serve(host: str, port: int, threads: int) -> None:
    """Serve until the process is told to end. One worker: the limits on sign-in are kept in its memory."""
    app = create_app(
        behind_tls=os.environ.get("LEVELMOOR_BEHIND_TLS", "") == "1",
        proxies=int(os.environ.get("LEVELMOOR_PROXIES", "0")),
    )
    settings = {
        "bind": f"{host}:{port}",
        "workers": 1,
        "threads": threads,
        "worker_class": "gthread",
        "graceful_timeout": 5,
        "timeout": 120,
        "loglevel": "warning",
        "control_socket_disable": True,
    }
    _Server(app, settings).run()
