"""A real MariaDB of its own, a migrated schema, the application on a real port, and Debian's Chromium."""

import fcntl
import secrets
import shutil
import tempfile
import threading
import time
from contextlib import ExitStack
from itertools import count
from pathlib import Path
from types import SimpleNamespace

import pytest
from argon2 import PasswordHasher
from flask import Flask
from hypothesis import settings
from jinja2 import FileSystemBytecodeCache
from playwright.sync_api import expect, sync_playwright
from sqlalchemy import create_engine, make_url, text
from werkzeug.serving import WSGIRequestHandler, make_server

from levelmoor.demo.load import load_demo
from levelmoor.records import passwords, sign_ins
from levelmoor.records.accounts import add_member, find_team, find_user
from levelmoor.records.database import connect, migrate
from levelmoor.records.private_server import Addresses, addresses_in, private_server
from levelmoor.records.roles import MemberRole
from levelmoor.services.list_card import refresh_card
from levelmoor.services.shelving import shelf_figures
from levelmoor.web.app import create_app
from levelmoor.web.context import TOKEN

# The time a case takes is no property; speed goes into benchmarks/.
settings.register_profile("levelmoor", deadline=None, print_blob=True)
# What ./test takes, the same fifty every time: a fault that chance alone finds is to be found by who looks for it, not by
# who lands something else.
settings.register_profile("same-cases", settings.get_profile("levelmoor"), derandomize=True, max_examples=50)
settings.load_profile("levelmoor")

# Passwords are hashed at the least cost: what a good one costs is the business of whoever guesses, not of each test.
passwords._hasher = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)

LONG = (
    "test_standalone.py",
    "test_sentences.py",
    "test_outbox.py",
    "test_roles.py",
    "test_each_screen.py",
    "test_standalone_life.py",
    "test_bench_commands.py",
    "test_imports.py",
)
"""Files with long tests, which are begun first, so that no worker is left with them alone at the end; one with a
browser among them, since several at once take the machine from one another."""

WITHOUT_DATABASE = ("tests/core", "tests/formats")
PASSWORD = "a long enough one"
_numbers = count(1)
_served = []
"""The application that pages are asked of, and its address."""


def pytest_collection_modifyitems(config, items):
    place = {name: n for n, name in enumerate(LONG)}
    items.sort(key=lambda item: place.get(item.path.name, len(LONG)))
    config.stash[_demo_wanted] = any({"demo_loaded", "untouched_demo"} & set(item.fixturenames) for item in items)


# One database server for all workers: the process that hands out the tests keeps it, each worker has a schema of its
# own. What all of them would do alike is done once: loading the demo, compiling templates.
_shared = pytest.StashKey[tuple[Path, ExitStack]]()
_demo_wanted = pytest.StashKey[bool]()


def pytest_configure(config):
    if folder := getattr(config, "workerinput", {}).get("database"):
        Flask.jinja_options = {"bytecode_cache": FileSystemBytecodeCache(str(Path(folder).parent))}
    elif config.getoption("numprocesses", None) and not all(a.startswith(WITHOUT_DATABASE) for a in config.args):
        config.stash[_shared] = (Path(tempfile.mkdtemp(prefix="levelmoor-tests-")) / "database", ExitStack())


@pytest.hookimpl(trylast=True)  # the workers begin meanwhile
def pytest_sessionstart(session):
    if _shared in session.config.stash:
        folder, held = session.config.stash[_shared]
        held.callback(shutil.rmtree, folder.parent, ignore_errors=True)
        held.enter_context(private_server(folder, durable=False))


@pytest.hookimpl(optionalhook=True)
def pytest_configure_node(node):
    if _shared in node.config.stash:
        node.workerinput["database"] = str(node.config.stash[_shared][0])


def pytest_sessionfinish(session):
    if _shared in session.config.stash:
        session.config.stash[_shared][1].close()


def fresh_schema(server, revision="head"):
    """A schema with nothing in it but the tables, on a running server."""
    name = f"levelmoor_{secrets.token_hex(4)}"
    engine = create_engine(server.owner)
    with engine.begin() as connection:
        connection.execute(text(f"CREATE DATABASE {name} CHARACTER SET utf8mb4"))
    engine.dispose()
    found = Addresses(*(url.replace("/levelmoor?", f"/{name}?") for url in server))
    migrate(found.owner, revision, serving_url=found.serving)
    return found


@pytest.fixture(scope="session")
def mariadb(request, tmp_path_factory):
    """The running server: the addresses of its first schema."""
    shared = getattr(request.config, "workerinput", {}).get("database")
    if not shared:
        with private_server(tmp_path_factory.mktemp("database"), durable=False) as server:
            yield server.addresses
        return
    for _ in range(1200):
        if found := addresses_in(Path(shared)):
            break
        time.sleep(0.1)
    yield found


def demo_once(folder, server):
    """The schema with the demo in it, which the first worker to come makes for all."""
    with (folder / "demo-schema").open("a+") as note:
        fcntl.flock(note, fcntl.LOCK_EX)
        note.seek(0)
        if not (name := note.read()):
            made = fresh_schema(server)
            maker = connect(made.serving)
            load_demo(maker, refresh_card, shelf_figures)
            maker.kw["bind"].dispose()
            name = make_url(made.owner).database
            note.write(name)
        return name


def copy_rows(name, owner_url):
    """Put all rows of another schema into an empty one."""
    engine = create_engine(owner_url)
    with engine.begin() as connection:
        tables = connection.scalars(
            text("SELECT table_name FROM information_schema.tables WHERE table_schema = :n"), {"n": name}
        )
        connection.execute(text("SET foreign_key_checks = 0"))
        for table in set(tables) - {"alembic_version"}:
            connection.execute(text(f"INSERT INTO `{table}` SELECT * FROM `{name}`.`{table}`"))
    engine.dispose()


def add_shared_demo(config, server, found):
    """Put the demo into an empty schema, if the workers share one."""
    folder = getattr(config, "workerinput", {}).get("database")
    if folder and config.stash[_demo_wanted]:
        copy_rows(demo_once(Path(folder).parent, server), found.owner)


@pytest.fixture(scope="session")
def addresses(request, mariadb):
    """The database by the account that serves and by the one that owns the schema."""
    found = fresh_schema(mariadb)
    add_shared_demo(request.config, mariadb, found)
    return found


@pytest.fixture(scope="session")
def database_url(addresses):
    return addresses.serving


@pytest.fixture(scope="session")
def owner_url(addresses):
    return addresses.owner


@pytest.fixture(scope="session")
def maker(database_url):
    made = connect(database_url)
    yield made
    made.kw["bind"].dispose()


@pytest.fixture(scope="session")
def demo_loaded(maker):
    """The demo is in the database."""
    load_demo(maker, refresh_card, shelf_figures)


@pytest.fixture
def untouched_demo(request, mariadb):
    """A browser on a database of its own, with the demo and nothing else in it."""
    found = fresh_schema(mariadb)
    add_shared_demo(request.config, mariadb, found)
    app = create_app(found.serving, demo_sign_in=True)
    app.config["WTF_CSRF_ENABLED"] = False
    load_demo(app.config["SESSIONS"], refresh_card, shelf_figures)
    yield app.test_client()
    app.config["SESSIONS"].kw["bind"].dispose()


@pytest.fixture
def session(maker):
    with maker() as opened:
        yield opened
        opened.rollback()


@pytest.fixture(scope="session")
def app(database_url):
    made = create_app(database_url, demo_sign_in=True)
    made.config["TESTING"] = True
    yield made
    made.config["SESSIONS"].kw["bind"].dispose()


@pytest.fixture
def member(maker):
    """A new team with one editor: email, password, team's id and name."""
    number = next(_numbers)
    with maker.begin() as session:
        team = find_team(session, f"Team {number}")
        team.bench_rule = "stated"  # what a proven bench asks for is the business of its own tests
        add_member(
            session, team.name, f"one{number}@team.example", f"Member {number}", PASSWORD, role=MemberRole.EDITOR
        )
        return SimpleNamespace(email=f"one{number}@team.example", password=PASSWORD, team_id=team.id, team=team.name)


@pytest.fixture
def client(app, monkeypatch):
    """A signed-out client; the token of the forms is the browser tests' business."""
    monkeypatch.setitem(app.config, "WTF_CSRF_ENABLED", False)
    return app.test_client()


@pytest.fixture
def signed_in(client, member):
    client.post("/sign-in", data={"email": member.email, "password": member.password})
    return client


class Quiet(WSGIRequestHandler):
    """Notes no request. It keeps no connection either: what an answer leaves unread would begin the next request."""

    def log_request(self, *_):
        pass


def served(app):
    """A server of an application on a port of its own."""
    return make_server("127.0.0.1", 0, app, threaded=True, request_handler=Quiet)


@pytest.fixture(scope="session")
def live(app):
    """The address of the running application."""
    server = served(app)
    thread = threading.Thread(target=server.serve_forever)
    thread.start()
    _served[:] = app, f"http://127.0.0.1:{server.server_port}"
    yield _served[1]
    server.shutdown()
    thread.join()


@pytest.fixture(scope="session")
def browsers():
    """Opens browsers, each once: with our own fonts, or without, which spares each page half of its time."""
    opened = {}
    with sync_playwright() as playwright:

        def browser(fonts=False):
            if fonts not in opened:
                # What the browser does in processes of its own, it does in one here: less is handed to and fro.
                arguments = ["--in-process-gpu", "--enable-features=NetworkServiceInProcess2"]
                arguments += ["--disable-component-update", "--no-sandbox", "--disable-gpu"]
                arguments += ["--disable-background-networking", *([] if fonts else ["--disable-remote-fonts"])]
                path = "/usr/bin/chromium-headless-shell"
                opened[fonts] = playwright.chromium.launch(executable_path=path, args=arguments)
            return opened[fonts]

        yield browser
        for one in opened.values():
            one.close()


@pytest.fixture
def browser(browsers, request):
    """A browser; tests marked `fonts` measure what text takes."""
    return browsers(request.node.get_closest_marker("fonts") is not None)


PATIENCE_MS = 60_000
expect.set_options(timeout=PATIENCE_MS)


@pytest.fixture
def page(browser, live):
    """A page at 1280x800 that fails the test on any script error or refused resource."""
    yield from watched(browser, live, service_workers="block")


@pytest.fixture
def page_to_carry(browser, live):
    """The same in a browser that keeps pages for where there is no signal."""
    yield from watched(browser, live)


def watched(browser, live, **more):
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=live, accept_downloads=True, **more)
    opened = context.new_page()
    opened.set_default_timeout(PATIENCE_MS)
    wrong = []
    opened.on("pageerror", lambda error: wrong.append(str(error)))
    opened.on("console", lambda message: wrong.append(message.text) if "Content Security" in message.text else None)
    yield opened
    context.close()
    assert wrong == []


def sign_in(page, member, to="/"):
    """Signed in by a cookie, with a page open: the form itself is the business of the main path."""
    app, address = _served
    with app.config["SESSIONS"].begin() as session:
        user = find_user(session, member.email)
        kept = {TOKEN: sign_ins.begin(session, user, "127.0.0.1", "Chromium"), "_user_id": str(user.id), "_fresh": True}
    value = app.session_interface.get_signing_serializer(app).dumps(kept)
    page.context.add_cookies([{"name": app.config["SESSION_COOKIE_NAME"], "value": value, "url": address}])
    if to:
        page.goto(to)
