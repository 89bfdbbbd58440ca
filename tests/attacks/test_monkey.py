"""A short monkey; a long one by `python -m tests.attacks.monkey`."""

from __future__ import annotations

import pytest

from tests.attacks.monkey import attack


@pytest.mark.parametrize("seed", [7])
def test_nothing_that_hands_do_has_the_window_fall_over(qapp, seed):
    wrong = attack(150, seed)
    assert not wrong, "\n".join(wrong)
