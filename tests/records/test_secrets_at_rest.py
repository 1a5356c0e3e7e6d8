"""What the database keeps of secrets where the installation has a key, and where it has none."""

import re

import pyotp
import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.records import tables as t
from levelmoor.records.accounts import find_user
from levelmoor.records.secrets_at_rest import VARIABLE, opened, sealed, signing_key


@pytest.fixture(scope="module")
def key_file(tmp_path_factory):
    return tmp_path_factory.mktemp("key") / "key"


@pytest.fixture
def key(key_file, monkeypatch):
    """Gives the installation another key; without one it has none."""
    monkeypatch.delenv(VARIABLE, raising=False)

    def another(line):
        key_file.write_text(f"{line}\n")
        monkeypatch.setenv(VARIABLE, str(key_file))

    return another


ONE, OTHER = "water" * 8, "stone" * 8


@given(st.text())
def test_a_sealed_secret_opens_again(secret):
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("levelmoor.records.secrets_at_rest.key_of_installation", lambda: b"k" * 32)
        assert opened(sealed(secret, "one"), "one") == secret


@pytest.mark.parametrize(("then", "of"), [(OTHER, "one"), (ONE, "another")], ids=["with another key", "of another"])
def test_it_opens_neither_with_another_key_nor_for_another(key, then, of):
    key(ONE)
    kept = sealed("a secret", "one")
    key(then)
    assert opened(kept, of) == ""


def test_what_was_kept_before_there_was_a_key_still_counts(key):
    kept = sealed("a secret", "one")
    key(ONE)
    assert (kept, opened(kept, "one")) == ("a secret", "a secret")


def test_each_key_signs_cookies_with_its_own(key, maker):
    signs = {}
    for line in (ONE, OTHER):
        key(line)
        signs[line] = signing_key(maker)
        assert signing_key(maker) == signs[line]
    with maker() as session:
        kept = [row.value for row in session.query(t.Setting)]
    assert signs[ONE] != signs[OTHER] and not {*signs.values()} & {*kept}


@pytest.mark.parametrize(
    ("line", "said"), [("short", "has 5 characters; it needs at least 32"), (None, "cannot be read")]
)
def test_a_key_that_is_none_is_told(key, key_file, line, said):
    key(line)
    if line is None:
        key_file.unlink()
    with pytest.raises(ValueError, match=said):
        sealed("a secret", "one")


def test_the_second_step_is_kept_sealed(key, signed_in, member, maker):
    key(ONE)
    secret = re.search(
        r"Key: <code>([A-Z2-7]+)<", signed_in.post("/account/second-step", data={"now": member.password}).text
    )[1]
    with maker() as session:
        assert secret not in session.get(t.SecondStep, find_user(session, member.email).id).secret
    confirmed = signed_in.post("/account/second-step/confirm", data={"code": pyotp.TOTP(secret).now()})
    assert "It is on." in confirmed.text
