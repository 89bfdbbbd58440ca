"""The examples in docstrings are true."""

from __future__ import annotations

import doctest
import importlib
import pkgutil

import pytest

import zinc_margin.measure
import zinc_margin.plan

MODULES = [
    found.name
    for package in (zinc_margin.measure, zinc_margin.plan)
    for found in pkgutil.walk_packages(package.__path__, f"{package.__name__}.")
    if not found.ispkg
]


def test_there_are_examples():
    finder = doctest.DocTestFinder()
    count = sum(
        len(one.examples) for name in MODULES for one in finder.find(importlib.import_module(name))
    )
    assert count >= 20


@pytest.mark.parametrize("name", MODULES)
def test_examples_are_true(name):
    assert doctest.testmod(importlib.import_module(name)).failed == 0
