"""The command line's serve and demo."""

import argparse
from typing import Any


def add_commands(commands: Any) -> None:
    """The parsers of these commands."""
    serve = commands.add_parser("serve", help="serve the web application")
    serve.add_argument("--host", default="127.0.0.1")
    serve.add_argument("--port", type=int, default=8080)
    serve.add_argument("--threads", type=int, default=40, help="at most half of them for live screens (default 40)")
    serve.add_argument(
        "--processes", type=int, default=0, help="each with so many threads (default: as many as the machine has cores)"
    )
    serve.set_defaults(run=_serve)

    demo = commands.add_parser("demo", help="load the made-up demo into the database")
    demo.set_defaults(run=_demo)


def _serve(options: argparse.Namespace) -> int:
    from levelmoor.web.processes import serve

    serve(options.host, options.port, options.threads, options.processes)
    return 0


def _demo(_options: argparse.Namespace) -> int:
    from levelmoor.demo.load import load_demo
    from levelmoor.records.database import connect
    from levelmoor.services.list_card import refresh_card
    from levelmoor.services.shelving import shelf_figures

    print(load_demo(connect(), refresh_card, shelf_figures))
    return 0
