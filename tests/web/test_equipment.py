"""What the team owns, on the page and as CSV."""

import io

import pytest

from levelmoor.records import tables as t
from levelmoor.records.bench import rows_of


def ids(signed_in, maker, member, kind):
    with maker() as session:
        return [r.id for r in rows_of(session, member.team_id, kind)]


def test_csv_goes_out_and_comes_in_again(signed_in, maker, member):
    text = "Name,One end,Other end,Up to\r\nlead,BNC male,N male,1 GHz\r\nturn,SMA male,SMA male,\r\n"
    answer = signed_in.post("/equipment/adapter/import", data={"file": (io.BytesIO(text.encode()), "a.csv")})
    assert "2 rows imported: 2 new" in answer.data.decode()
    out = signed_in.get("/equipment/adapter.csv")
    assert out.data.decode().splitlines()[1].startswith("lead,BNC male,N male,,1000 MHz")
    again = signed_in.post("/equipment/adapter/import", data={"file": (io.BytesIO(out.data), "a.csv")})
    assert "0 new, 2 updated" in again.data.decode()
    assert len(ids(signed_in, maker, member, "adapter")) == 2


def test_csv_with_a_slip_takes_nothing(signed_in, maker, member):
    text = "Name,One end,Other end\ngood,BNC male,N male\nbad,BNC,N male\n"
    answer = signed_in.post("/equipment/adapter/import", data={"file": (io.BytesIO(text.encode()), "a.csv")})
    assert answer.status_code == 422
    assert "Line 3, column 2" in " ".join(answer.text.split())
    assert ids(signed_in, maker, member, "adapter") == []


def test_cell_is_kept_as_understood_or_refused_with_the_reason(signed_in, maker, member):
    signed_in.post("/equipment/adapter/add")
    (row,) = ids(signed_in, maker, member, "adapter")
    assert "BNC male" in signed_in.post(f"/equipment/adapter/{row}/end_a", data={"value": "bnc plug"}).data.decode()
    answer = signed_in.post(f"/equipment/adapter/{row}/end_b", data={"value": "N"})
    assert answer.status_code == 422
    assert "does not say its gender" in answer.data.decode()
    with maker() as session:
        assert session.get(t.Owned, row).facts == {"end_a": "BNC male"}


def test_starter_set_is_marked_as_typical(signed_in):
    answer = signed_in.post("/equipment/instrument/add", data={"starter": "Handheld one-port analyzer"})
    assert "typical of the class, not measured" in answer.data.decode()


@pytest.mark.parametrize("path", ["/equipment/line/1/length_m", "/equipment/line/1/remove", "/equipment/sausage/add"])
def test_what_is_not_the_teams_is_not_there(signed_in, maker, path):
    with maker.begin() as session:
        team = t.Team(name=f"Owners of {path}")
        session.add(team)
        session.flush()
        session.add(t.Owned(team_id=team.id, kind="line", name="Theirs", facts={}))
        session.flush()
        mine = session.query(t.Owned).filter_by(name="Theirs").order_by(t.Owned.id.desc()).first().id
    assert signed_in.post(path.replace("/1/", f"/{mine}/"), data={"value": "2"}).status_code == 404
    assert b"Theirs" not in signed_in.get("/equipment").data


@pytest.mark.parametrize("name", ["=1+1", "+cmd", "-3+cmd|x", "@x", "-3", "'quoted'"])
def test_name_that_begins_with_a_sign_is_text_to_a_spreadsheet_and_comes_back_as_it_was(signed_in, maker, member, name):
    signed_in.post("/equipment/load/add")
    (row,) = ids(signed_in, maker, member, "load")
    signed_in.post(f"/equipment/load/{row}/name", data={"value": name})
    out = signed_in.get("/equipment/load.csv").data
    cell = out.decode().splitlines()[1].split(",")[0].strip('"')
    assert cell == name if name in ("-3", "'quoted'") else cell == f"'{name}"
    signed_in.post("/equipment/load/import", data={"file": (io.BytesIO(out), "a.csv")})
    assert len(ids(signed_in, maker, member, "load")) == 1
