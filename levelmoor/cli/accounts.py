"""The command line's accounts and schema: user add, user reset, migrate."""

import argparse
import sys
from typing import Any

from levelmoor.cli.exits import BadInput


def add_commands(commands: Any) -> None:
    """The parsers of these commands."""
    migrate = commands.add_parser(
        "migrate", help="update the database to the current schema, and set its access rights"
    )
    migrate.set_defaults(run=_migrate)

    user = commands.add_parser("user", help="accounts").add_subparsers(dest="action", required=True)
    add = user.add_parser("add", help="add a member to a team; asks for the password, or reads it from a pipe")
    add.add_argument("email")
    add.add_argument("--name", default="")
    add.add_argument("--team", required=True, help="the team's name; created if there is no such team")
    add.add_argument(
        "--role", choices=["reader", "member", "reviewer", "editor"], default="member", help="the member's role"
    )
    add.add_argument("--editor", action="store_const", dest="role", const="editor", help="short for --role editor")
    add.set_defaults(run=_add)
    reset = user.add_parser("reset", help="make a link to choose a new password")
    reset.add_argument("email")
    reset.add_argument("--server", default="http://127.0.0.1:8080", help="the address of the server")
    reset.set_defaults(run=_reset)
    step = user.add_parser("second-step-off", help="ask somebody who has lost app and recovery codes for none")
    step.add_argument("email")
    step.set_defaults(run=_second_step_off)


def _migrate(_options: argparse.Namespace) -> int:
    from levelmoor.records.database import connect, database_url, migrate, owner_url
    from levelmoor.services.shelving import catch_up

    migrate(owner_url(), serving_url=database_url())
    catch_up(connect())
    return 0


def _add(options: argparse.Namespace) -> int:
    from getpass import getpass

    from levelmoor.records.accounts import AccountProblem, add_member, find_user
    from levelmoor.records.audit import OPERATOR, record
    from levelmoor.records.database import connect
    from levelmoor.records.roles import MemberRole

    maker = connect()
    with maker() as session:
        known = find_user(session, options.email) is not None
    password = ""
    if not known:
        password = getpass("Password: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
    try:
        with maker.begin() as session:
            name = options.name or options.email
            user = add_member(session, options.team, options.email, name, password, MemberRole(options.role))
            team_id = next(m.team_id for m in user.memberships if m.team.name == options.team.strip())
            record(session, team_id, OPERATOR, "member", f"{user.email} was added")
    except AccountProblem as problem:
        raise BadInput(str(problem)) from None
    print(f"{options.email} is now in {options.team}" + (", with the existing password" if known else ""))
    return 0


def _reset(options: argparse.Namespace) -> int:
    from levelmoor.records.accounts import RESET_FOR, find_user, reset_link
    from levelmoor.records.audit import OPERATOR
    from levelmoor.records.database import connect

    with connect().begin() as session:
        user = find_user(session, options.email)
        if user is None:
            raise BadInput(f"there is no account {options.email}")
        team_id = user.memberships[0].team_id if user.memberships else None
        token = reset_link(session, user, OPERATOR, team_id)
    print(f"{options.server.rstrip('/')}/reset/{token}")
    print(f"it can be used once, within {RESET_FOR.days * 24 + RESET_FOR.seconds // 3600} hours", file=sys.stderr)
    return 0


def _second_step_off(options: argparse.Namespace) -> int:
    from levelmoor.records.accounts import find_user
    from levelmoor.records.audit import OPERATOR, record
    from levelmoor.records.database import connect
    from levelmoor.records.second_step import turn_off

    with connect().begin() as session:
        user = find_user(session, options.email)
        if user is None:
            raise BadInput(f"{options.email} has no account")
        turn_off(session, user.id)
        for place in user.memberships:
            record(session, place.team_id, OPERATOR, "password", f"{user.email}: the second step at sign-in turned off")
    print(f"{options.email} signs in with the password alone from now on.")
    return 0
