"""A few hostile surroundings; hundreds by `python -m tests.attacks.surroundings`."""

from __future__ import annotations

from tests.attacks.surroundings import attack


def test_whatever_surrounds_a_command_it_ends_with_a_result_or_a_sentence():
    _, wrong = attack(6, seed=3)
    assert not wrong, "\n".join(wrong)
