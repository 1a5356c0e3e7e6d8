"""Plug-ins by entry points: one installed from a folder reads, names columns, brings rules and bands; a broken one is
named and left out."""

import json
import sys

import pytest

from levelmoor.core import plugins
from levelmoor.core.model import rule_sets
from levelmoor.core.rf import bandplan
from levelmoor.formats import columns, plugged_readers
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import read_sweep_file

CODE = """
from levelmoor.core.rf.sweep import Sweep
import numpy as np

class Fells:
    def knows(self, name, data):
        return name.endswith(".fell")
    def read(self, name, data):
        f, size = np.array([line.split() for line in data.decode().splitlines()], dtype=float).T
        return Sweep(f, size.astype(complex), scalar=True)

reader = Fells()
dialect = {"Moorland ratio": "swr"}
wrong_dialect = {"Moorland ratio": "height"}
rules = {"id": "moor-1", "title": "Rules of the moor", "sections": [{"name": "all", "low_hz": 0, "high_hz": 1e9,
         "terms": [{"kind": "absolute", "figure": 1e-6}]}]}
no_rules = {"title": "Rules without an id", "sections": []}
bands = {"title": "Moor", "sources": ["the moor"], "bands": [
         {"name": "Marsh", "low_hz": 3.0e7, "high_hz": 3.1e7, "segments": []}]}
"""
POINTS = {
    "levelmoor.readers": {"fell": "moor_plugin:reader", "gone": "no_such_module:reader"},
    "levelmoor.dialects": {"moor": "moor_plugin:dialect", "heights": "moor_plugin:wrong_dialect"},
    "levelmoor.rule_sets": {"moor": "moor_plugin:rules", "nameless": "moor_plugin:no_rules"},
    "levelmoor.band_plans": {"moor": "moor_plugin:bands"},
}
KEPT = (
    plugged_readers._readers, plugged_readers.plugged_headings, rule_sets.shipped_rule_sets, bandplan.other_services,
    bandplan._by_name,
)  # fmt: skip


def forget():
    plugins.forget()
    for kept in KEPT:
        kept.cache_clear()


@pytest.fixture
def installed(tmp_path, monkeypatch):
    (tmp_path / "moor_plugin.py").write_text(CODE)
    info = tmp_path / "moor_plugin-1.0.dist-info"
    info.mkdir()
    (info / "METADATA").write_text("Metadata-Version: 2.1\nName: moor-plugin\nVersion: 1.0\n")
    sections = [f"[{group}]\n" + "".join(f"{n} = {at}\n" for n, at in of.items()) for group, of in POINTS.items()]
    (info / "entry_points.txt").write_text("\n".join(sections))
    monkeypatch.syspath_prepend(tmp_path)
    forget()
    yield
    monkeypatch.undo()
    sys.modules.pop("moor_plugin", None)
    forget()


def test_a_reader_reads_its_own_files_and_no_others(installed):
    assert read_sweep_file("a.fell", b"7e6 0.2\n7.1e6 0.1\n").format == "fell"
    assert read_sweep_file("a.csv", b"MHz,SWR\n14,1.5\n14.1,1.4\n").format == "csv"


def test_what_a_reader_stumbles_over_is_a_problem_of_the_file(installed):
    with pytest.raises(FileProblem, match="the plug-in fell cannot read it: could not convert"):
        read_sweep_file("a.fell", b"7e6 x\n")


def test_a_dialect_names_a_heading(installed):
    assert read_sweep_file("a.csv", b"MHz,Moorland Ratio\n14,1.5\n14.1,1.4\n").options.kind == "swr"


def test_rules_and_bands_come_along(installed):
    assert rule_sets.shipped_rule_sets()["moor-1"].title == "Rules of the moor"
    assert bandplan.find_band("Marsh", 1).high_hz == 31e6


@pytest.mark.parametrize(
    ("use", "said"),
    [
        (plugged_readers._readers, "levelmoor.readers: gone: cannot be loaded"),
        (
            lambda: plugged_readers.plugged_headings(columns._KNOWN),
            "levelmoor.dialects: heights: a heading stands for height",
        ),
        (rule_sets.shipped_rule_sets, "levelmoor.rule_sets: nameless: the rule set has no id"),
    ],
)
def test_a_broken_one_is_named_and_left_out(installed, use, said):
    use()
    assert any(words.startswith(said) for words in plugins.left_out())


def test_without_plugins_nothing_is_brought():
    assert json.dumps([plugins.plugged(group, str) for group in plugins.GROUPS]) == "[{}, {}, {}, {}]"
