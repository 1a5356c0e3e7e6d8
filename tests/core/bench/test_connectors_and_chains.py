"""Connectors and chains: no joint that does not fit, no piece more often than it is owned, none shorter."""

from itertools import permutations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from levelmoor.core.bench.chains import find_chain
from levelmoor.core.model.connectors import Connector, Gender, parse_connector
from levelmoor.core.model.equipment import Adapter

N_M, N_F = Connector("N", Gender.MALE), Connector("N", Gender.FEMALE)
BNC_M, BNC_F = Connector("BNC", Gender.MALE), Connector("BNC", Gender.FEMALE)
SMA_M, SMA_F = Connector("SMA", Gender.MALE), Connector("SMA", Gender.FEMALE)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("N female", "N female"), ("n (f)", "N female"), ("BNC plug", "BNC male"), ("bnc-m", "BNC male"),
        ("SO-239", "UHF female"), ("PL259", "UHF male"), ("RP-SMA male", "RP-SMA male"), ("3.5 mm jack", "3.5 mm female"),
        ("7-16 female", "7-16 female"),
    ],
)  # fmt: skip
def test_written_as_people_write_it(text, said):
    assert str(parse_connector(text)) == said


@pytest.mark.parametrize(
    ("text", "words"), [("BNC", "gender"), ("sausage male", "not a known connector"), ("", "not a known connector")]
)
def test_what_is_no_connector_is_refused(text, words):
    with pytest.raises(ValueError, match=words):
        parse_connector(text)


def test_only_opposite_genders_of_a_family_mate():
    assert N_M.mates(N_F)
    assert not N_M.mates(N_M)
    assert not N_M.mates(BNC_F)
    assert SMA_M.mates(Connector("3.5 mm", Gender.FEMALE))
    assert not SMA_M.mates(Connector("RP-SMA", Gender.FEMALE))


# -- Examples worked by hand -----------------------------------------------------------------------------------------


def test_direct_needs_no_adapter():
    chain = find_chain(BNC_M, BNC_F, ())
    assert (chain.links, chain.missing) == ((), "")
    assert chain.words == "directly, without an adapter"


def test_shortest_of_two_ways():
    """BNC socket to N socket: one lead does it, two adapters would too."""
    lead = Adapter("1", "lead", BNC_M, N_M, loss_db=0.3)
    long_way = (Adapter("2", "a", BNC_M, SMA_F, loss_db=0.05), Adapter("3", "b", SMA_M, N_M, loss_db=0.05))
    chain = find_chain(BNC_F, N_F, (*long_way, lead))
    assert [link.adapter.name for link in chain.links] == ["lead"]
    assert chain.loss_db == 0.3


def test_of_two_alike_the_one_that_loses_less():
    pieces = (Adapter("1", "lossy", BNC_M, N_M, loss_db=0.3), Adapter("2", "good", BNC_M, N_M, loss_db=0.1))
    assert find_chain(BNC_F, N_F, pieces).words == "good"


def test_piece_out_of_range_is_not_taken():
    pieces = (Adapter("1", "low", BNC_M, N_M, high_hz=300e6), Adapter("2", "high", BNC_M, N_M, high_hz=1e9, loss_db=1))
    assert find_chain(BNC_F, N_F, pieces, 430e6, 440e6).words == "high"
    assert find_chain(BNC_F, N_F, pieces, 144e6, 146e6).words == "low"


def test_missing_piece_is_named_by_both_its_ends():
    """From an SMA socket by way of BNC only the last step is missing."""
    pieces = (Adapter("1", "a", SMA_M, BNC_F),)
    assert find_chain(SMA_F, N_F, pieces).missing == "an adapter from SMA male to N male is missing"
    assert find_chain(BNC_F, N_F, ()).missing == "an adapter from BNC male to N male is missing"


def test_piece_is_used_as_often_as_it_is_owned():
    """Turning the gender of N by one barrel twice is possible only where two are owned."""
    barrel = Adapter("1", "there and back", N_M, BNC_F)
    turn = Adapter("2", "turn", BNC_M, BNC_M)
    assert find_chain(N_F, N_F, (barrel, turn)).missing
    twice = (Adapter("1", "there and back", N_M, BNC_F, count=2), turn)
    assert find_chain(N_F, N_F, twice).words == "there and back, then turn, then there and back"


def test_connector_that_is_not_written_down_is_said():
    assert "sample is not stated" in find_chain(None, N_F, ()).missing
    assert "instrument is not stated" in find_chain(N_F, None, ()).missing


# -- Properties ------------------------------------------------------------------------------------------------------

connectors = st.sampled_from([N_M, N_F, BNC_M, BNC_F, SMA_M, SMA_F])
adapters = st.lists(st.tuples(connectors, connectors, st.integers(1, 2)).map(lambda t: t), min_size=0, max_size=4).map(
    lambda rows: tuple(Adapter(str(i), f"p{i}", a, b, count=n) for i, (a, b, n) in enumerate(rows))
)


@given(connectors, connectors, adapters)
def test_every_joint_of_a_chain_fits(sample, port, owned):
    chain = find_chain(sample, port, owned)
    if chain.missing:
        return
    end = sample
    for link in chain.links:
        assert link.near.mates(end)
        assert {link.near, link.far} == {link.adapter.end_a, link.adapter.end_b}
        end = link.far
    assert end.mates(port)
    used = [link.adapter.id for link in chain.links]
    assert all(used.count(a.id) <= a.count for a in owned)


def fewest_by_trying(sample, port, owned):
    """Every order of every choice of up to four pieces."""
    pieces = [a for a in owned for _ in range(a.count)]
    for length in range(min(len(pieces), 4) + 1):
        for chosen in permutations(pieces, length):
            ends = {sample}
            for piece in chosen:
                ends = {
                    far
                    for end in ends
                    for near, far in ((piece.end_a, piece.end_b), (piece.end_b, piece.end_a))
                    if near.mates(end)
                }
            if any(end.mates(port) for end in ends):
                return length
    return None


@settings(max_examples=60)
@given(connectors, connectors, adapters)
def test_no_chain_of_fewer_pieces_is_possible(sample, port, owned):
    chain = find_chain(sample, port, owned)
    fewest = fewest_by_trying(sample, port, owned)
    if fewest is None:
        assert chain.missing or len(chain.links) > 4
    else:
        assert len(chain.links) == fewest
        assert not chain.missing
