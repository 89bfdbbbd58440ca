"""Lab counters: their terms, and the check of a file against them.

The counters that ship are stand-ins, made up; a person describes a real one in a file of the same
fields. A counter reads files by itself, by other means than what wrote them.
"""

from __future__ import annotations

import io
import json
import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

import tifffile
from PIL import Image, ImageCms

from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.lengths import MM_PER_INCH, plain_text
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo.limits import check_declared
from zinc_margin.plan.model import Plan

_SHIPPED = Path(__file__).parent / "data" / "counters.json"


@dataclass(frozen=True)
class Counter:
    """What a lab takes.

    Attributes
    ----------
    key, name : str
    ppi, floor : Fraction
        What it asks, and the least that it prints from.
    formats, profiles : tuple of str
        No profiles: any that the file carries.
    bits : tuple of int
    most_bytes : int
    enlarges : bool
        Whether it wants the photo's own pixels and enlarges by itself.
    tolerance : Fraction
        By which the shape may be off.
    bleed_mm : Fraction
        That it wants round the ordered size.
    name_rule : str
        A regular expression that a file's name (without its ending) has to match.
    """

    key: str
    name: str
    ppi: Fraction
    floor: Fraction
    formats: tuple[str, ...]
    bits: tuple[int, ...]
    profiles: tuple[str, ...]
    most_bytes: int
    enlarges: bool
    tolerance: Fraction
    bleed_mm: Fraction
    name_rule: str

    @property
    def takes_orders(self) -> bool:
        """Whether orders can be sent to it; devices are there for the check alone."""
        return not self.key.startswith("device:")


@dataclass(frozen=True)
class Finding:
    """What is wrong with a file for a counter, and the way out of it."""

    code: str
    text: str
    way: str


@dataclass(frozen=True)
class Seen:
    """What a counter reads of a file by itself.

    Attributes
    ----------
    format : str
    width, height, bits, bytes : int
    profile : str or None
    space : str
    ppi : float or None
        By its tag.
    """

    format: str
    width: int
    height: int
    bits: int
    bytes: int
    profile: str | None
    space: str
    ppi: float | None


def _counter(raw: Mapping[str, Any], source: str) -> Counter:
    try:
        re.compile(raw["name"])
        return Counter(
            str(raw["key"]), str(raw["title"]),
            Fraction(raw["ppi"]), Fraction(raw["floor"]), tuple(raw["formats"]),
            tuple(int(bits) for bits in raw["bits"]), tuple(raw["profiles"]),
            int(raw["most_bytes"]), bool(raw["enlarges"]), Fraction(raw["tolerance"]),
            Fraction(raw["bleed_mm"]), str(raw["name"]),
        )  # fmt: skip
    except (KeyError, TypeError, ValueError, ZeroDivisionError, re.error) as why:
        raise BadRequest(f"{source} describes no counter: {why} is missing or wrong.") from None


@cache
def shipped() -> tuple[Counter, ...]:
    """Return the stand-ins that come with the program."""
    raw = json.loads(_SHIPPED.read_text("utf-8"))
    return tuple(_counter(entry, "the shipped list") for entry in raw["counters"])


def every() -> tuple[Counter, ...]:
    """Return the stand-ins and the counters that a person has described."""
    own = sorted((own_folder("data") / "counters").glob("*.json"))
    return (*shipped(), *(find(str(path)) for path in own))


def find(name: str) -> Counter:
    """Return a counter by its key or name, or from a file that describes one.

    Raises
    ------
    BadRequest
    """
    if name.endswith(".json"):
        try:
            raw = json.loads(Path(name).read_text("utf-8"))
        except (OSError, ValueError):
            raise BadRequest(f"{name} is no readable description of a counter.") from None
        if not isinstance(raw, dict):
            raise BadRequest(f"{name} is no readable description of a counter.")
        return _counter(raw, name)
    wanted = plain_text(name)
    known = every()
    for counter in known:
        short = counter.key.partition(":")[2]
        if wanted in (counter.key, short, plain_text(counter.name)):
            return counter
    keys = ", ".join(counter.key for counter in known)
    raise BadRequest(f"“{name}” is no counter that I know; there are {keys}.")


def seen(path: Path) -> Seen:
    """Read a file as a counter does: with the libraries' own readers, to its last pixel.

    Raises
    ------
    BadRequest
        When it cannot be read to its end.
    """
    try:
        size = path.stat().st_size
        head = path.open("rb").read(8)
        if head[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+"):
            return _seen_tiff(path, size)
        if head[:5] == b"%PDF-":
            return Seen("pdf", 0, 0, 8, size, None, "", None)
        with Image.open(path) as image:
            check_declared(path, *image.size, 4, size)
            image.load()
            form = str(image.format or "").lower()
            bits = 16 if image.mode.startswith("I") else 8
            icc = image.info.get("icc_profile")
            noted = image.info.get("dpi")
            space = {"L": "grey", "CMYK": "CMYK"}.get(image.mode, "RGB")
            return Seen(
                form, image.width, image.height, bits, size, _profile_name(icc), space,
                float(noted[0]) if noted else None,
            )  # fmt: skip
    except (OSError, ValueError, SyntaxError, EOFError, tifffile.TiffFileError) as why:
        raise BadRequest(f"{path.name} cannot be read to its end ({type(why).__name__}).") from None


def _seen_tiff(path: Path, size: int) -> Seen:
    with tifffile.TiffFile(path) as file:
        page = file.pages[0]
        assert isinstance(page, tifffile.TiffPage)
        for _ in page.segments():  # to the last strip
            pass
        tags = page.tags
        icc = tags.valueof(34675)
        noted = tags.valueof(282)
        ppi = None
        if noted:
            ppi = noted[0] / noted[1] * (2.54 if tags.valueof(296) == 3 else 1)
        space = {5: "CMYK", 0: "grey", 1: "grey"}.get(int(page.photometric), "RGB")
        bits = int(page.dtype.itemsize * 8) if page.dtype is not None else 8
        return Seen(
            "tiff", page.imagewidth, page.imagelength, bits, size, _profile_name(icc), space, ppi
        )


def _profile_name(icc: bytes | None) -> str | None:
    if not icc:
        return None
    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(icc))
        return str(ImageCms.getProfileDescription(profile)).strip() or "unnamed"
    except (OSError, ImageCms.PyCMSError):
        return "unreadable"


def check(path: Path, counter: Counter, ordered: PrintSize | None = None) -> list[Finding]:
    """Return what a counter would refuse a file for; nothing when it takes it.

    Parameters
    ----------
    ordered : PrintSize, optional
        The size that is ordered; else the file's own tag says.
    """
    try:
        file = seen(path)
    except ZincError as why:
        return [Finding("unreadable", str(why), "Make the file again.")]
    return findings_of(file, path.stem, counter, ordered)


def planned(plan: Plan, name: str, profile: str | None, counter: Counter) -> list[Finding]:
    """Return what a counter would refuse a file for that is not made yet.

    Parameters
    ----------
    name : str
        The file's, without its ending.
    profile : str or None
        The profile that it will carry.
    """
    leaf, file = plan.leaf, plan.file
    space = {1: "grey", 3: "RGB", 4: "CMYK"}[file.channels]
    will = Seen(
        file.format, leaf.width, leaf.height, file.bits, file.bytes_estimate, profile, space,
        leaf.tag_x[0] / leaf.tag_x[1],
    )  # fmt: skip
    bleed = plan.sheet.bleed_mm if plan.sheet is not None else 0
    ordered = plan.size
    if plan.sheet is not None and not bleed:
        ordered = PrintSize("", leaf.width_mm, leaf.height_mm)
    return findings_of(will, name, counter, ordered)


def findings_of(
    file: Seen, stem: str, counter: Counter, ordered: PrintSize | None
) -> list[Finding]:
    """Return what is wrong with what a counter reads."""
    found = []
    if file.format not in counter.formats:
        takes = " or ".join(form.upper() for form in counter.formats)
        found.append(
            Finding("format", f"It is a {file.format.upper()}; {counter.name} takes {takes}.",
                    f"Write a {counter.formats[0].upper()}.")
        )  # fmt: skip
    if file.bytes > counter.most_bytes:
        most = words.size_in_bytes(counter.most_bytes)
        found.append(
            Finding("bytes", f"It has {words.size_in_bytes(file.bytes)}; at most {most} are taken.",
                    f"Write it with at most {most}.")
        )  # fmt: skip
    if re.fullmatch(counter.name_rule, stem) is None:
        found.append(
            Finding("name", f"Its name “{stem}” is not one that {counter.name} takes.",
                    "Name it plainly: letters, figures, hyphens.")
        )  # fmt: skip
    if file.format == "pdf":
        return found
    if file.bits not in counter.bits:
        depth = " or ".join(str(bits) for bits in counter.bits)
        found.append(
            Finding("bits", f"It is {file.bits}-bit; {depth} bits are taken.",
                    f"Write it with {counter.bits[0]} bits.")
        )  # fmt: skip
    found += _profile_findings(file, counter)
    found += _size_findings(file, counter, ordered)
    return found


def remedy(code: str, counter: Counter) -> dict[str, Any]:
    """Return the fields of the File line that take a finding away; none where it cannot."""
    if code == "format":
        return {"format": counter.formats[0]}
    if code == "bits":
        return {"bits": counter.bits[0]}
    if code == "bytes":
        return {"max_bytes": counter.most_bytes}
    if code in ("profile", "no-profile") and counter.profiles:
        colour = {"sRGB": "srgb", "Wide RGB": "wide"}.get(counter.profiles[0])
        return {"colour": colour} if colour else {}
    return {}


def _profile_findings(file: Seen, counter: Counter) -> list[Finding]:
    accepted = " or ".join(counter.profiles)
    if file.profile is None:
        text = f"It carries no colour profile; {accepted or 'one'} is wanted."
        return [Finding("no-profile", text, "Embed the profile.")]
    taken = not counter.profiles or any(
        name.lower() in file.profile.lower() for name in counter.profiles
    )
    taken = taken or (file.space == "CMYK" and "CMYK" in counter.profiles)
    if taken or (file.space == "grey" and "sRGB" in counter.profiles):
        return []
    text = f"Its colours are {file.profile}; {counter.name} prints {accepted}, others wrong."
    return [Finding("profile", text, f"Convert it to {counter.profiles[0]}.")]


def _size_findings(file: Seen, counter: Counter, ordered: PrintSize | None) -> list[Finding]:
    if ordered is None:
        if file.ppi is None:
            return []
        width = Fraction(file.width) / Fraction(file.ppi).limit_denominator(1000) * MM_PER_INCH
        height = width * file.height / file.width
        ordered = PrintSize("", width, height)
    lying = ordered.lying(file.height > file.width)
    bleed = 2 * counter.bleed_mm
    wide, high = lying.width_mm + bleed, lying.height_mm + bleed
    found = []
    off = abs(Fraction(file.width, file.height) / (wide / high) - 1)
    shown = words.pair(lying.width_mm, lying.height_mm, "cm")
    if off > counter.tolerance:
        with_bleed = f" with {words.small(counter.bleed_mm, 'cm')} of bleed" if bleed else ""
        found.append(
            Finding("shape", f"Its shape is {words.share(off)} off {shown}{with_bleed}.",
                    "Crop it to the ordered size.")
        )  # fmt: skip
    ppi = min(file.width / float(wide), file.height / float(high)) * 25.4
    least = counter.floor
    if ppi < float(least) * 0.999:
        found.append(
            Finding("pixels", f"It has {ppi:.0f} ppi at {shown}; at least {float(least):g} are "
                    "printed.", f"Enlarge it to {float(counter.ppi):g} ppi, or order it smaller.")
        )  # fmt: skip
    return found
