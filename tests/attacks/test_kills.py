"""A few kills; forty by `python -m tests.attacks.kills`."""

from __future__ import annotations

from tests.attacks.kills import WORKS, attack


def test_a_kill_at_any_moment_loses_nothing():
    _, wrong = attack(2, seed=5, works=(WORKS[-1], WORKS[2]))
    assert not wrong, "\n".join(wrong)
