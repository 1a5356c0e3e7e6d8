import pytest

from levelmoor.core.words.counting import counted, duration


@pytest.mark.parametrize(
    ("number", "words", "said"),
    [
        (1, ("rebuild",), "1 rebuild"),
        (0, ("rebuild",), "0 rebuilds"),
        (2, ("pass", "passes"), "2 passes"),
        (1, ("reading counts", "readings count"), "1 reading counts"),
    ],
)
def test_one_is_told_from_many(number, words, said):
    assert counted(number, *words) == said


@pytest.mark.parametrize(("minutes", "said"), [(25.2, "25 min"), (59.6, "1 h 0 min"), (118, "1 h 58 min")])
def test_time_is_told_in_hours_and_minutes(minutes, said):
    assert duration(minutes) == said
