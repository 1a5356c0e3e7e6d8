import json
from hashlib import sha256
from pathlib import Path

ROOT = Path(__file__).parents[2]


def sources():
    """Everything the built files depend on; the same list in assets/build.mjs."""
    found = [
        p for e in ("css", "mjs", "json") for p in (ROOT / "assets").rglob(f"*.{e}") if "node_modules" not in p.parts
    ]
    found.append(ROOT / "levelmoor" / "figures" / "figure.css")
    return sorted(p.relative_to(ROOT).as_posix() for p in found)


def test_built_files_are_of_these_sources():
    digest = sha256()
    for name in sources():
        digest.update(f"{name}\0{sha256((ROOT / name).read_bytes()).hexdigest()}\n".encode())
    built = json.loads((ROOT / "levelmoor/web/static/built.json").read_text())
    assert built["sources"] == digest.hexdigest(), "run npm ci && npm run build in assets/"


def test_lock_names_no_registry():
    lock = json.loads((ROOT / "assets/package-lock.json").read_text())
    assert [p for p, entry in lock["packages"].items() if "resolved" in entry] == []
