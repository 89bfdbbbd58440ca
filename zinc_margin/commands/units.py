"""The units of the command line: from the option, else from typed lengths, else the locale."""

from __future__ import annotations

import argparse

from zinc_margin.measure.units import unit_named, usual_units

_TYPED = (
    "size",
    "width",
    "height",
    "long_edge",
    "short_edge",
    "within",
    "mat",
    "sheet",
    "distance",
)


def declare(parser: argparse.ArgumentParser) -> None:
    """Declare the option."""
    parser.add_argument(
        "--units",
        choices=("cm", "in"),
        help=("units for display and typing; by default from the locale"),
    )


def units_of(options: argparse.Namespace) -> str:
    """Return ``cm`` or ``in``."""
    if options.units is not None:
        return str(options.units)
    typed = (getattr(options, name, None) for name in _TYPED)
    named = (unit_named(text) for text in typed if text)
    return next((unit for unit in named if unit is not None), usual_units())
