"""What may be typed into a field, with examples in the units in use."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.measure.distances import named_distances

_NAMED = ", ".join(name for name, _ in named_distances())

_HINTS: dict[str, tuple[str, str]] = {
    "size": (
        "Two sides or a name: 30x20, A3+, A4 upright.\n"
        "One side: 1 m wide, 60 cm high, long edge 40 cm, 2.2 m.\n"
        "A box, a shape, all of it: within 18x13 cm, 16:9, 300 ppi.\n"
        "A mat, a sheet: mat 36x27 cm reveal 6 mm, A3 with 2 cm border.\n"
        "Pixels: 50 %, 12 MP, 1920x1080 px. The file: 2 MB.",
        "Two sides or a name: 12x8, 8 1/2 x 11, Letter upright.\n"
        "One side: 40 in wide, 2 ft high, long edge 16 in.\n"
        "A box, a shape, all of it: within 7x5 in, 16:9, 300 ppi.\n"
        "A mat, a sheet: mat 14x11 in reveal 1/4 in, Letter with 1/2 in border.\n"
        "Pixels: 50 %, 12 MP, 1920x1080 px. The file: 2 MB.",
    ),
    "distance": (f"80 cm; 70-110 cm; or words: {_NAMED}", f"30 in; 2-4 ft; or words: {_NAMED}"),
    "overspill": ("or such as 3 mm", "or such as ⅛ in"),
    "border": ("20 mm; or four", "¾ in; or four"),
    "sheet": ("A3+, 50 x 40 cm; empty: none", "Letter, 20 x 16 in; empty: none"),
    "pieces": ("A3, or 61 cm roll", "Letter, or 24 in roll"),
}


def hint(field: str, units: str) -> str:
    """Return what may be typed into a field.

    Parameters
    ----------
    field : str
        A key of the table above.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return _HINTS[field][words.unit(units) == "in"]
