"""Pack rectangles onto sheets or a roll with little waste, separable by straight cuts.

A hand trimmer cuts from edge to edge, so layouts consist only of such cuts. Each rectangle goes
where it fits best, for several orders and two ways to cut the rest; then orders are shuffled,
always with the same seed, and the best result is kept.

References
----------
J. Jylänki (2010), "A thousand ways to pack the bin": guillotine layouts.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import product
from typing import Any

_TRIES = 160  # orders to try, within the effort limit
_SEED = 20  # fixed, so that the same prints always get the same layout
_EFFORT = 400_000
"""Limit of comparisons between a rectangle and a place, over all attempts: about a second."""


@dataclass(frozen=True)
class Piece:
    """A rectangle to place.

    Attributes
    ----------
    width, height : int
        Size without the gap, in any small unit.
    turned : (int, int) or None
        Size rotated by 90°; None if rotation is not allowed.
    """

    width: int
    height: int
    turned: tuple[int, int] | None = None


@dataclass(frozen=True)
class Laid:
    """The place of one rectangle.

    Attributes
    ----------
    which : int
        Index of the piece.
    left, top : int
    width, height : int
        Size as placed.
    turned : bool
    """

    which: int
    left: int
    top: int
    width: int
    height: int
    turned: bool


_Free = tuple[int, int, int, int]
_Rule = Callable[[_Free, int, int], tuple[int, int]]


def _low(free: _Free, width: int, height: int) -> tuple[int, int]:
    """Prefer the highest place, then the one with the least space left beside it."""
    return free[1] + height, free[2] - width


def _tight(free: _Free, width: int, height: int) -> tuple[int, int]:
    """Prefer the place whose shorter remainder is smallest."""
    over = free[2] - width, free[3] - height
    return min(over), max(over)


def pack(pieces: Sequence[Piece], room: tuple[int, int | None], gap: int) -> list[list[Laid]]:
    """Place rectangles on as few sheets as possible, with the least paper on the last one.

    Parameters
    ----------
    pieces : sequence of Piece
        Pieces that fit the room in some orientation.
    room : (int, int or None)
        Width and height of a sheet; no height for a roll, which takes all of them.
    gap : int
        Gap between neighbours.

    Returns
    -------
    list of list of Laid
        One list per sheet.
    """
    long = room[1]
    if long is None:
        long = sum(max(piece.width, piece.height) + gap for piece in pieces)
    box = room[0] + gap, long + gap
    best: list[list[Laid]] | None = None
    worth: tuple[int, ...] = ()
    steps = 0
    for tried, order in enumerate(_orders(pieces)):
        rules: tuple[_Rule, ...] = (_low,) if room[1] is None else (_low, _tight)
        for rule, lying, flat in product(rules, (True, False), (True, False)):
            sheets, work = _once(pieces, order, box, gap, rule, lying, flat)
            steps += work
            used = _paper_of(sheets)
            if best is None or used < worth:
                best, worth = sheets, used
        if tried >= 4 and steps > _EFFORT:
            break
    return best or []


_MEASURES: tuple[Callable[[Piece], tuple[int, int]], ...] = (
    lambda one: (one.width * one.height, one.height),
    lambda one: (max(one.width, one.height), min(one.width, one.height)),
    lambda one: (min(one.width, one.height), max(one.width, one.height)),
    lambda one: (one.height, one.width),
    lambda one: (one.width, one.height),
)


def _orders(pieces: Sequence[Piece]) -> Iterator[list[int]]:
    """Yield orders to try: large rectangles first, by several measures; then shuffled ones."""

    def by(keys: Sequence[Any]) -> list[int]:
        # Identical rectangles follow each other.
        return sorted(range(len(keys)), key=lambda at: (keys[at], at), reverse=True)

    for measure in _MEASURES:
        yield by([measure(one) for one in pieces])
    chance = random.Random(_SEED)
    kinds = sorted({(one.width, one.height) for one in pieces})
    for at in range(_TRIES if len(pieces) > 1 else 0):
        if at % 2 and len(kinds) > 1:  # shuffle whole groups of identical rectangles
            rank = {kind: chance.random() for kind in kinds}
            yield by([rank[one.width, one.height] for one in pieces])
        else:  # nearly by area
            yield by([one.width * one.height * chance.uniform(0.6, 1.0) for one in pieces])


def _once(
    pieces: Sequence[Piece],
    order: Sequence[int],
    box: tuple[int, int],
    gap: int,
    rule: _Rule,
    lying: bool,
    flat: bool,
) -> tuple[list[list[Laid]], int]:
    """Place the rectangles in one order; also return the number of places tried."""
    sheets: list[list[Laid]] = []
    frees: list[list[_Free]] = []
    steps = 0
    for which in order:
        piece = pieces[which]
        ways = [(piece.width, piece.height, False)]
        if piece.turned is not None and piece.turned != (piece.width, piece.height):
            ways.append((*piece.turned, True))
        best: tuple[tuple[int, int], int, int, tuple[int, int, bool]] | None = None
        for sheet, free in enumerate(frees):
            for at, place in enumerate(free):
                for way in ways:
                    wide, high = way[0] + gap, way[1] + gap
                    steps += 1
                    if wide <= place[2] and high <= place[3]:
                        score = rule(place, wide, high)
                        if best is None or score < best[0]:
                            best = score, sheet, at, way
            if best is not None:
                break
        if best is None:
            frees.append([(0, 0, *box)])
            sheets.append([])
            fits = [way for way in ways if way[0] + gap <= box[0] and way[1] + gap <= box[1]]
            first = min if flat else max
            best = (0, 0), len(frees) - 1, 0, first(fits, key=lambda way: (way[1], way[0]))
        _, sheet, at, (width, height, turned) = best
        left, top, wide, high = frees[sheet].pop(at)
        sheets[sheet].append(Laid(which, left, top, width, height, turned))
        frees[sheet] += _cut((left, top, wide, high), width + gap, height + gap, lying)
    return sheets, steps


def _cut(place: _Free, width: int, height: int, lying: bool) -> list[_Free]:
    """Return the rest of a place: cut across first (`lying`), or down first."""
    left, top, wide, high = place
    over = wide - width, high - height
    if lying:
        parts = [(left + width, top, over[0], height), (left, top + height, wide, over[1])]
    else:
        parts = [(left + width, top, over[0], high), (left, top + height, width, over[1])]
    return [part for part in parts if part[2] > 0 and part[3] > 0]


def _paper_of(sheets: Sequence[Sequence[Laid]]) -> tuple[int, ...]:
    """Return the paper used: sheets, then length and width used on the last one."""
    last = min(sheets, key=lambda sheet: sum(one.width * one.height for one in sheet))
    deep = max(one.top + one.height for one in last)
    return len(sheets), deep, max(one.left + one.width for one in last)
