"""Serving with waitress, by several processes at one socket: in each one thread reads all that comes in, and only
whole requests reach those that answer.

So a body that is announced and never sent holds a connection and nothing else. The threads that draw pages are more
than those that streams may take (`levelmoor.web.streams`), whoever opens them.
"""

import logging
import os
import socket
import time
from ipaddress import ip_address
from typing import Any

from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer, create_server

from levelmoor.records import logs
from levelmoor.records.held_memory import give_back, hold_less
from levelmoor.records.kept_results import keep_in
from levelmoor.web.app import create_app
from levelmoor.web.security import LARGEST_REQUEST

CONNECTIONS = 1000
SILENT_S = 60
"""A connection on which nothing comes or goes for so long is closed."""
WHOLE_S = 120
"""A request that is not whole after so long is given up, however steadily it drips."""


class _Channel(HTTPChannel):  # type: ignore[misc]
    """A connection that remembers since when its request comes in."""

    begun = 0.0

    def received(self, data: bytes) -> bool:
        before = self.request
        done = bool(super().received(data))
        if self.request is None:
            self.begun = 0.0
        elif before is None or not self.begun:
            self.begun = time.monotonic()
        return done


def tidy_up(server: TcpWSGIServer, whole_s: float = WHOLE_S) -> None:
    """Have the server close, at its rounds, connections whose request does not become whole, and give back memory."""
    server.channel_class = _Channel
    usual = server.maintenance

    def maintenance(now: float) -> None:
        usual(now)
        late = time.monotonic() - whole_s
        for channel in list(server.active_channels.values()):
            if channel.request is not None and 0 < channel.begun < late:
                channel.will_close = True
        give_back()

    server.maintenance = maintenance


def is_loopback(host: str) -> bool:
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"


def make_server(
    host: str,
    port: int,
    threads: int,
    whole_s: float = WHOLE_S,
    url: str | None = None,
    listening: socket.socket | None = None,
) -> Any:
    """The server, listening and not yet running; settings of the installation come from the environment.

    `listening` is a socket that other processes listen at too; without one, the server has its own.
    """
    behind_tls = os.environ.get("LEVELMOOR_BEHIND_TLS", "") == "1"
    proxies = int(os.environ.get("LEVELMOOR_PROXIES", "0"))
    hosts = [h.strip() for h in os.environ.get("LEVELMOOR_HOSTS", "").split(",") if h.strip()]
    app = create_app(
        url,
        behind_tls=behind_tls,
        proxies=proxies,
        hosts=hosts,
        streams=max(threads // 2, 1),
        # The demo's password is in its documents: it opens nothing that others can reach.
        demo_sign_in=is_loopback(host) and not behind_tls and not proxies,
        served_at=f"{'localhost' if host in ('', '0.0.0.0', '::') else host}:{port}",  # noqa: S104  none is bound by it
    )
    keep_in(app.config["SESSIONS"])
    server = create_server(
        app,
        **({"host": host, "port": port} if listening is None else {"sockets": [listening]}),
        threads=threads,
        connection_limit=CONNECTIONS,
        channel_timeout=SILENT_S,
        cleanup_interval=min(10, max(int(whole_s), 1)),
        max_request_body_size=LARGEST_REQUEST,
        max_request_header_size=32_768,
        ident=None,
        clear_untrusted_proxy_headers=not proxies,
    )
    tidy_up(server, whole_s)
    return server


def begin(host: str, port: int, threads: int, listening: socket.socket | None = None) -> None:
    """Serve until the process is told to end, with the workers that `apart` knows."""
    hold_less()
    logs.configure()
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)  # a moment's wait is in the figures
    make_server(host, port, threads, listening=listening).run()
