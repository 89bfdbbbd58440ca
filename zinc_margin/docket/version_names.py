"""Names of a photo's versions: as typed, or from their settings."""

from __future__ import annotations

from collections.abc import Sequence

from zinc_margin.docket.docket import Docket
from zinc_margin.measure.makers import find_maker, usual_maker
from zinc_margin.measure.way_labels import label_of


def version_names(dockets: Sequence[Docket]) -> tuple[str, ...]:
    """Return the versions' names, all different: as typed, or from their settings."""
    result: list[str] = []
    for docket in dockets:
        name = docket.version or settings_name(docket)
        same = sum(other == name or other.startswith(f"{name}, ") for other in result)
        result.append(f"{name}, {same + 1}" if same else name)
    return tuple(result)


def settings_name(docket: Docket) -> str:
    """Return a name from a docket's settings: its size and paper, or who makes it.

    Examples
    --------
    >>> settings_name(Docket())
    'lab'
    """
    line = docket.size
    maker = find_maker(line.maker) if line.maker else usual_maker()
    size = line.size.label if line.size is not None else ""
    if line.way is not None:
        size = label_of(line.way)
    paper = docket.sharpen.paper or ""
    if line.maker is None or maker.for_screen:
        return " ".join(filter(None, (size, paper))) or maker.key
    return " ".join(filter(None, (size, paper or maker.key)))
