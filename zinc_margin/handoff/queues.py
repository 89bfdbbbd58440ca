"""The system's printers and their reported abilities: papers, margins, trays, types."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from urllib.parse import quote

from zinc_margin.handoff import ipp
from zinc_margin.handoff.channel import send
from zinc_margin.handoff.machine import forget_printers
from zinc_margin.keeping.own_printers import OwnPrinters
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, CannotDo, ZincError
from zinc_margin.measure.printer_papers import NEAR_MM, PrinterPapers
from zinc_margin.measure.sizes import PrintSize, catalogue

_QUEUE = [
    "printer-name",
    "printer-info",
    "printer-state",
    "printer-state-reasons",
    "printer-is-accepting-jobs",
]
_HUNDREDTHS = 100
"""IPP gives paper sizes in hundredths of a millimetre."""
QUALITIES = {3: "draft", 4: "normal", 5: "best"}
_STATES = {3: "ready", 4: "printing", 5: "stopped"}


@dataclass(frozen=True)
class Medium:
    """A paper that a printer accepts, in one way.

    Attributes
    ----------
    width_mm, height_mm : Fraction
    edges_mm : tuple of four Fraction
        Unprintable edges: top, right, bottom, left.
    kind, tray : str or None
        Printer keywords, if this paper exists only with them.
    """

    width_mm: Fraction
    height_mm: Fraction
    edges_mm: tuple[Fraction, Fraction, Fraction, Fraction]
    kind: str | None = None
    tray: str | None = None

    @property
    def is_borderless(self) -> bool:
        """Whether it prints to the paper's edges."""
        return not any(self.edges_mm)

    @property
    def name(self) -> str:
        """The paper's name in the catalogue, else its sides."""
        sides = self.width_mm, self.height_mm
        for size in catalogue():
            if size.family.startswith("paper") and _alike(sides, (size.width_mm, size.height_mm)):
                return size.label
        return words.pair(self.width_mm, self.height_mm, "cm")

    def holds(self, width_mm: Fraction, height_mm: Fraction) -> bool:
        """Return whether a page fits on the paper, in either orientation."""
        page, own = sorted((width_mm, height_mm)), sorted((self.width_mm, self.height_mm))
        return all(a <= b + NEAR_MM for a, b in zip(page, own, strict=True))

    def is_as_large(self, width_mm: Fraction, height_mm: Fraction) -> bool:
        """Return whether a page covers the paper, in either orientation."""
        return _alike((width_mm, height_mm), (self.width_mm, self.height_mm))


def _alike(one: tuple[Fraction, Fraction], other: tuple[Fraction, Fraction]) -> bool:
    pairs = zip(sorted(one), sorted(other), strict=True)
    return all(abs(a - b) <= NEAR_MM for a, b in pairs)


@dataclass(frozen=True)
class Queue:
    """A printer of the system.

    Attributes
    ----------
    name, title : str
    state : str
        ``ready``, ``printing`` or ``stopped``.
    reasons : tuple of str
        Why it is stopped, or its requests, as IPP keywords.
    accepts : bool
    media : tuple of Medium
    kinds, trays : tuple of str
        Printer keywords.
    qualities : tuple of int
        Keys of `QUALITIES`.
    resolutions : tuple of int
        Dots per inch, for display; not a useful ppi.
    colour : bool
    simulated : bool
        Whether it is simulated and prints pictures of sheets.
    """

    name: str
    title: str
    state: str
    reasons: tuple[str, ...]
    accepts: bool
    media: tuple[Medium, ...] = ()
    kinds: tuple[str, ...] = ()
    trays: tuple[str, ...] = ()
    qualities: tuple[int, ...] = ()
    resolutions: tuple[int, ...] = ()
    colour: bool = False
    simulated: bool = False

    @property
    def path(self) -> str:
        """The path of its address at the scheduler."""
        return f"/printers/{quote(self.name)}"

    @property
    def uri(self) -> str:
        """Its address."""
        return f"ipp://localhost{self.path}"


def queues() -> tuple[Queue, ...]:
    """Return the system's printers.

    Raises
    ------
    CannotDo
        If the printing system does not answer.
    """
    answer = send("/", ipp.request(ipp.GET_QUEUES, "", {"requested-attributes": list(_QUEUE)}))
    if not answer.accepted:
        return ()  # the answer if it has no printers
    named = ((group.text("printer-name"), group) for group in answer.printers)
    return tuple(_queue(name, group) for name, group in named if name)


def find_queue(name: str) -> Queue:
    """Return a printer with all its reported abilities.

    Raises
    ------
    BadRequest
        If no printer has this name.
    CannotDo
    """
    uri = Queue(name, "", "", (), True)
    asked = {"requested-attributes": ["all", "media-col-database"]}
    answer = send(uri.path, ipp.request(ipp.GET_PRINTER, uri.uri, asked))
    if not answer.accepted or not answer.printers:
        names = ", ".join(queue.name for queue in queues()) or "none"
        raise BadRequest(f"There is no printer “{name}” on this system. Choose one of: {names}.")
    return _queue(name, answer.printers[0])


def _queue(name: str, group: ipp.Attributes) -> Queue:
    qualities = group.numbers("print-quality-supported")
    return Queue(
        name=name,
        title=group.text("printer-info") or name,
        state=_STATES.get(group.number("printer-state") or 0, "stopped"),
        reasons=tuple(each for each in group.texts("printer-state-reasons") if each != "none"),
        accepts=group.flag("printer-is-accepting-jobs", True),
        media=tuple(dict.fromkeys(_media(group.parts("media-col-database")))),
        kinds=group.texts("media-type-supported"),
        trays=group.texts("media-source-supported"),
        qualities=tuple(quality for quality in qualities if quality in QUALITIES),
        resolutions=tuple(sorted(group.dots_per_inch("printer-resolution-supported"))),
        colour="color" in group.texts("print-color-mode-supported"),
    )


def _media(rows: Iterable[ipp.Attributes]) -> Iterator[Medium]:
    for row in rows:
        size = next(iter(row.parts("media-size")), ipp.Attributes())
        wide, high = size.number("x-dimension"), size.number("y-dimension")
        # A roll or a custom size is a range without fixed margins.
        if not wide or not high or min(wide, high) < 0:
            continue
        top, right, bottom, left = (
            Fraction(max(0, row.number(f"media-{side}-margin") or 0), _HUNDREDTHS)
            for side in ("top", "right", "bottom", "left")
        )
        yield Medium(
            Fraction(wide, _HUNDREDTHS),
            Fraction(high, _HUNDREDTHS),
            (top, right, bottom, left),
            row.text("media-type") or None,
            row.text("media-source") or None,
        )


def medium_for(
    queue: Queue,
    page: tuple[Fraction, Fraction],
    paper: PrintSize | None = None,
    borderless: bool = False,
    kind: str | None = None,
) -> Medium:
    """Return the paper for a page: the requested one, else one of its size, else the smallest.

    Parameters
    ----------
    page : (Fraction, Fraction)
        Width and height, in mm.
    paper : PrintSize, optional
        The requested paper.
    borderless : bool
        Only borderless papers.
    kind : str, optional
        Type of paper, as a printer keyword.

    Raises
    ------
    BadRequest
        If the printer has no matching paper.
    """
    fit = [each for each in queue.media if each.holds(*page)]
    if paper is not None:
        fit = [each for each in fit if each.is_as_large(paper.width_mm, paper.height_mm)]
    if kind is not None:
        fit = [each for each in fit if each.kind in (None, kind)]
    if borderless:
        fit = [each for each in fit if each.is_borderless]
    if not fit:
        asked = " borderless" if borderless else ""
        wanted = f" on {paper.label}" if paper is not None else ""
        raise BadRequest(
            f"{queue.name} cannot print a page of {words.pair(*page, 'cm')}{wanted}{asked}. "
            f"It has {papers_of(queue)}."
        )
    return min(
        fit,
        key=lambda each: (
            not each.is_as_large(*page),
            each.width_mm * each.height_mm,
            sum(each.edges_mm),
        ),
    )


def ask_all() -> int:
    """Ask every printer for its papers, save them, and return the number of answers.

    Raises
    ------
    CannotDo
        If the printing system does not answer.
    """
    count = 0
    for queue in queues():
        with suppress(ZincError):  # ignore a printer that has disappeared meanwhile
            count += bool(ask(queue.name).media)
    return count


def ask(name: str) -> Queue:
    """Ask one printer for its abilities, and save its papers."""
    queue = find_queue(name)
    remember(queue)
    return queue


def remember(queue: Queue) -> None:
    """Save a printer's papers for planning; if that fails, the printer is asked again next time."""
    papers = tuple((each.width_mm, each.height_mm, each.edges_mm) for each in queue.media)
    with suppress(ZincError):
        OwnPrinters().keep(PrinterPapers(queue.name, queue.title, papers))
        forget_printers()


def papers_of(queue: Queue) -> str:
    """Return the names of a printer's papers, for a sentence."""
    names = dict.fromkeys(
        medium.name + (" borderless" if medium.is_borderless else "") for medium in queue.media
    )
    return ", ".join(names) or "no reported papers"


_WORDS = {
    "media-empty": "it is out of paper: add some",
    "media-needed": "it is waiting for its paper: load it",
    "media-jam": "paper is jammed: remove it",
    "cover-open": "its cover is open: close it",
    "door-open": "a door is open: close it",
    "marker-supply-empty": "an ink is empty: replace it",
    "toner-empty": "its toner is empty: replace it",
    "offline": "it is switched off or unplugged",
    "connecting-to-device": "it does not answer: is it switched on?",
    "paused": "it was stopped manually: start its queue again",
    "timed-out": "it does not answer: is it switched on?",
}


def wants(reasons: tuple[str, ...]) -> str | None:
    """Return a printer's request to its user as text, or None.

    Parameters
    ----------
    reasons : tuple of str
        IPP keywords.
    """
    for reason in reasons:
        plain = re.sub(r"-(report|warning|error)$", "", reason)
        if plain in _WORDS:
            return _WORDS[plain]
    return None


def check_ready(queue: Queue) -> None:
    """Refuse a printer that accepts no jobs."""
    if not queue.accepts:
        raise CannotDo(f"{queue.name} accepts no prints at present. Enable its queue.")
