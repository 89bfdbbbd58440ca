"""Text printed on sheets, maps and pieces."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.measure.words import pair, small
from zinc_margin.plan.finish.page import Page, Pieces

Of = tuple[int, int]
"""Number and total."""


def piece_label(name: str, row: Of, column: Of, number: Of) -> str:
    """Return the label of a piece.

    Parameters
    ----------
    row, column, number : Of
        Number, from 1, and total.
    """
    return (
        f"{name}   row {row[0]} of {row[1]}, column {column[0]} of {column[1]}"
        f"   piece {number[0]} of {number[1]}"
    )


def paper_name(pieces: Pieces) -> str:
    """Return the paper of the pieces: a sheet's name, or a roll."""
    if pieces.roll_mm is not None:
        return f"a roll {small(pieces.roll_mm, 'cm')} wide"
    assert pieces.paper is not None
    return pieces.paper.label


def laid_words(pieces: Pieces) -> str:
    """Return the paper that a picture is spread over."""
    return (
        f"{len(pieces.each)} pieces, {pieces.columns} across and {pieces.rows} down, on "
        f"{paper_name(pieces)}"
    )


def map_head(pieces: Pieces, whole: Page, units: str) -> str:
    """Return the line under a map's name.

    Parameters
    ----------
    whole : Page
        The whole page.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return f"{laid_words(pieces)}; joined {pair(whole.width_mm, whole.height_mm, units)}"


def map_foot(join_mm: Fraction, units: str) -> str:
    """Return the line under a map: how to join the pieces.

    Parameters
    ----------
    join_mm : Fraction
        Overlap of neighbours.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return (
        "Assemble row by row from the top left. Each piece overlaps the next by "
        f"{small(join_mm, units)}: cut at the outer ticks, then align the next piece's edge "
        "with the inner ones."
    )


def column_name(number: int) -> str:
    """Return a map's name for a column.

    Parameters
    ----------
    number : int
        From 1.
    """
    return f"column {number}"


def row_name(number: int) -> str:
    """Return a map's name for a row.

    Parameters
    ----------
    number : int
        From 1.
    """
    return f"row {number}"
