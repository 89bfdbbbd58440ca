"""Decimals as the locale has them, on the screen and the terminal, and what is typed so."""

from __future__ import annotations

import pytest

from zinc_margin.measure import words
from zinc_margin.measure.wish import parse_wish


@pytest.fixture
def locale(monkeypatch):
    def use(name):
        for key in ("LC_ALL", "LC_NUMERIC", "LANG"):
            monkeypatch.delenv(key, raising=False)
        monkeypatch.setenv("LANG", name)
        words.decimal_mark.cache_clear()

    yield use
    words.decimal_mark.cache_clear()


@pytest.mark.parametrize(
    ("name", "told"),
    [
        ("de_DE.UTF-8", "45,7 × 30,5 cm, 2. and v1"),
        ("fr_FR", "45,7 × 30,5 cm, 2. and v1"),
        ("de_CH.UTF-8", "45.7 × 30.5 cm, 2. and v1"),
        ("en_GB.UTF-8", "45.7 × 30.5 cm, 2. and v1"),
        ("C", "45.7 × 30.5 cm, 2. and v1"),
        ("en_ZA.UTF-8", "45,7 × 30,5 cm, 2. and v1"),
    ],
)
def test_a_sentence_has_the_locales_decimals(locale, name, told):
    locale(name)
    assert words.local("45.7 × 30.5 cm, 2. and v1") == told


def test_what_is_shown_can_be_typed_again(locale):
    locale("de_DE.UTF-8")
    for shown in ("45.7 × 30.5 cm", "12.5 MP", "2.2 m"):
        assert parse_wish(words.local(shown)) == parse_wish(shown)
