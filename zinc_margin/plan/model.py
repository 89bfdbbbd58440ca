"""The Plan: every number of one print, and its notes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import Any

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts, Said
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.printer_papers import PrinterPapers
from zinc_margin.plan.finish.page import Page, Piece, Pieces, Sheet
from zinc_margin.plan.parts import (
    CropPart,
    FileParts,
    Grain,
    PixelsPart,
    Sharpening,
    Sides,
    SizePart,
)
from zinc_margin.plan.pixels.networks import Stages, stages


@dataclass(frozen=True)
class Machine:
    """This machine's abilities.

    Attributes
    ----------
    without_networks : str or None
        Why AI cannot run here; None if it can.
    printers : tuple of PrinterPapers
        The reported papers of printers that have been asked.
    """

    without_networks: str | None = None
    printers: tuple[PrinterPapers, ...] = ()


@dataclass(frozen=True)
class Remedy:
    """A remedy for a note.

    Attributes
    ----------
    code : str
        A code for programs; `plan.text` has the wording.
    docket : Docket
        The docket after accepting it.
    values : Mapping
        Values for the text, lengths in mm.
    """

    code: str
    docket: Docket
    values: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Note:
    """A remark with its remedies; `plan.text` has the wording.

    Attributes
    ----------
    code : str
        A stable code for programs.
    line : str
        The line of the margin.
    values : Mapping
        Values for the text: lengths in mm, resolutions in ppi, shares of 0–1.
    remedies : tuple of Remedy
    grave : bool
        Whether the line needs a look.
    """

    code: str
    line: str
    values: Mapping[str, Any] = field(default_factory=dict)
    remedies: tuple[Remedy, ...] = ()
    grave: bool = False


@dataclass(frozen=True)
class Record:
    """The decisions behind a plan, for files and the print log.

    Attributes
    ----------
    paper : str
    strength : float
        Strength of sharpening, percent.
    renderer : int
    version : str
        The version's name: as typed, or from its settings.
    is_named : bool
        Whether it was typed.
    text : callable
        Returns the docket as JSON.
    """

    paper: str
    strength: float
    renderer: int
    version: str
    is_named: bool
    text: Callable[[], str] = field(repr=False, compare=False)


@dataclass(frozen=True, kw_only=True)
class PrintPlan(SizePart, CropPart, PixelsPart):
    """Every number of one print: everything that pixels/ and handoff/ need.

    Attributes
    ----------
    facts : Facts
    matte : str
        The background of a transparent photo.
    measured : Measured or None
        The photo's measurements, from the docket, else from the facts.
    judged_ppi : float
        The ppi that decides the grade: the photo's, or the file's if that is lower.
    grade : str
        ``ample``, ``good``, ``from a distance`` or ``too few pixels``.
    sharp_from_mm : float
    sharpen : Sharpening or None
    grain : Grain or None
    file : FileParts
    sheet : Sheet or None
        None if the print has no sheet.
    pieces : Pieces or None
        The pieces of a large print, or None.
    cut : Piece or None
        The piece that this plan makes, or None.
    record : Record
        The decisions behind it, for files and the print log.
    small : callable
        Returns this print planned with at most this many pixels along its longer side.
    fewer_pixels : callable
        Returns this print planned with its pixels scaled by a factor each way; None if no picture
        would remain.
    """

    facts: Facts = field(repr=False)
    matte: str
    measured: Measured | None = field(repr=False)
    judged_ppi: float
    grade: str
    sharp_from_mm: float
    sharpen: Sharpening | None
    file: FileParts
    grain: Grain | None = None
    sheet: Sheet | None = None
    pieces: Pieces | None = None
    cut: Piece | None = None
    record: Record
    small: Callable[[int], PrintPlan] = field(repr=False, compare=False)
    fewer_pixels: Callable[[float], PrintPlan | None] = field(repr=False, compare=False)

    @property
    def said(self) -> Said:
        """The photo's title, author and date, for names."""
        return self.facts.said

    @property
    def provisional(self) -> bool:
        """Whether the photo's pixels have not been measured yet."""
        return self.measured is None

    @property
    def networks(self) -> Stages:
        """The networks that process the photo's pixels, in order."""
        return stages(self.pixels, self.facts.width * self.facts.height)

    @property
    def whole(self) -> Page:
        """The finished page: the sheet, or the print without a sheet."""
        if self.sheet is not None:
            return self.sheet.page
        pixels, size = self.pixels, self.size
        return Page(
            size.width_mm, size.height_mm, pixels.width, pixels.height, pixels.tag_x, pixels.tag_y
        )

    @property
    def page(self) -> Page:
        """The page in the file: the whole, or one piece of it."""
        return self.whole if self.cut is None else self.cut.page

    @property
    def trimmed_part(self) -> Sides:
        """The part trimmed from each side, as a share of the rotated picture's width or height."""
        wide, high = self.turned.box
        crop = self.crop
        return Sides(
            crop.left / wide,
            crop.top / high,
            (wide - crop.left - crop.width) / wide,
            (high - crop.top - crop.height) / high,
        )

    @property
    def px_per_mm(self) -> Fraction:
        """Pixels of the rotated picture per mm of the print, across."""
        return self.frame.width / (self.size.width_mm - self.bands_mm.left - self.bands_mm.right)

    @property
    def paper_px(self) -> float:
        """The blur of paper and process, in pixels of the file; 0 without sharpening."""
        if self.sharpen is None:
            return 0.0
        return self.sharpen.paper_mm * self.pixels.width / float(self.size.width_mm)

    @property
    def enlargement(self) -> float:
        """The enlargement of the photo's pixels; 1 if they are kept or reduced."""
        return float(self.pixels.scale) if self.pixels.choice == "enlarge" else 1.0


@dataclass(frozen=True, kw_only=True)
class Plan(PrintPlan):
    """A print's numbers with the underlying decisions, for screens and notes.

    Attributes
    ----------
    docket : Docket
    settled : Docket
        The docket with the maker's consequences filled in.
    machine : Machine
    notes : tuple of Note
    """

    docket: Docket
    settled: Docket = field(repr=False)
    machine: Machine
    notes: tuple[Note, ...] = ()

    def again(self, docket: Docket) -> Plan:
        """Return the plan for another docket, with the same photo and machine."""
        return self.build(self.facts, docket, self.machine)

    build: Callable[[Facts, Docket, Machine], Plan] = field(repr=False, compare=False)
    annotate: Callable[[Plan], tuple[Note, ...]] = field(repr=False, compare=False)


def plan_of_file(made: PrintPlan) -> Plan:
    """Return the plan of a finished file, with the notes that its own figures call for.

    Parameters
    ----------
    made : PrintPlan
        As returned by the writer.
    """
    assert isinstance(made, Plan)  # only the type is narrower: handoff reads no docket
    return replace(made, notes=made.annotate(made))
