"""A person's own papers: what a test strip, or a figure that was typed, told of each."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

from zinc_margin.docket.store import checked, document, plain, read_text, text_of
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.papers import SCREEN, papers
from zinc_margin.photo.keeping import own_folder, save_own

VERSION = 1
_MOST = 200


@dataclass(frozen=True)
class OwnPaper:
    """A paper of one's own.

    Attributes
    ----------
    name : str
    sigma_mm : Fraction
        The Gaussian by which it blurs.
    strength : Fraction
        Percent of the sharpening that is worked out, as its test strip looked right.
    maker : str or None
        Where that strip was printed; None: anywhere.
    """

    name: str
    sigma_mm: Fraction
    strength: Fraction = Fraction(100)
    maker: str | None = None


def usual_file() -> Path:
    """Return where own papers are kept (XDG)."""
    return own_folder("data") / "papers.json"


class OwnPapers:
    """The list; each change is written at once, whole or not at all.

    Parameters
    ----------
    path : Path, optional
        The file; it need not be there yet.
    """

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or usual_file()
        self.all: tuple[OwnPaper, ...] = _read(self.path) if self.path.exists() else ()

    def keep(self, paper: OwnPaper) -> None:
        """Add a paper, or put it in the place of the one of that name.

        Raises
        ------
        BadRequest
            When the name is no name, or is a shipped paper's.
        """
        name = plain_text(paper.name)
        if not name or len(name) > 60:
            raise BadRequest("A paper needs a name of 1 to 60 letters.")
        if name == SCREEN or any(known.name == name for known in papers()):
            raise BadRequest(f"There is a paper called “{name}” already; choose another name.")
        rest = tuple(one for one in self.all if one.name != name)
        if len(rest) >= _MOST:
            raise BadRequest(f"{_MOST} papers of your own are the most.")
        kept = OwnPaper(name, paper.sigma_mm, paper.strength, paper.maker)
        self._write((*rest, kept))

    def find(self, name: str) -> OwnPaper | None:
        """Return the paper of a name."""
        wanted = plain_text(name)
        return next((one for one in self.all if one.name == wanted), None)

    def remove(self, name: str) -> None:
        """Forget a paper."""
        self._write(tuple(one for one in self.all if one.name != plain_text(name)))

    def _write(self, kept: tuple[OwnPaper, ...]) -> None:
        entries = [{key: plain(value) for key, value in vars(one).items()} for one in kept]
        save_own(self.path, text_of({"zinc_margin_papers": VERSION, "papers": entries}))
        self.all = kept


def _read(path: Path) -> tuple[OwnPaper, ...]:
    text = read_text(path, "list of papers")
    raw = document(text, str(path), "zinc_margin_papers", VERSION)
    try:
        return tuple(
            OwnPaper(
                checked("sharpen", "paper", entry["name"]),
                checked("sharpen", "sigma_mm", entry["sigma_mm"]),
                checked("sharpen", "strength", entry["strength"]),
                checked("size", "maker", entry.get("maker")),
            )
            for entry in raw["papers"]
        )
    except (ValueError, KeyError, TypeError, BadRequest):
        raise BadRequest(f"{path} holds no readable papers; it was left as it is.") from None
