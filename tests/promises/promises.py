"""Compare what the program says about a print with what another reader finds in its files.

Every function returns sentences about broken promises; none if all hold.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tests.promises.reading import Found
from tests.promises.words import pairs, pixels, resolutions, value_of

KINDS = {
    "TIFF": "tiff",
    "JPEG": "jpeg",
    "PNG": "png",
    "WebP": "webp",
    "JPEG XL": "jxl",
    "PDF": "pdf",
}
GRADES = ("ample", "good", "from a distance", "too few pixels")


@dataclass(frozen=True)
class Told:
    """What the program says of a print, as its screens and answers say it.

    Attributes
    ----------
    report : Mapping
        The object of ``plan --json`` or ``make --json``.
    foot : (str, str)
        The two rows at the foot of the margin.
    lines : Mapping of str to (str, str)
        The decision and the consequence of every line.
    """

    report: Mapping[str, Any]
    foot: tuple[str, str]
    lines: Mapping[str, tuple[str, str]]

    @property
    def for_screen(self) -> bool:
        return self.foot[0].endswith("for a screen")

    @property
    def uncertain(self) -> bool:
        """Whether a byte limit leaves the pixels or the quality open until the file is made."""
        limited = self.report["file"]["limited"]
        return limited is not None and any(
            ends is not None and ends[0] != ends[1] for ends in (limited["ppi"], limited["quality"])
        )


def broken(told: Told, files: Sequence[Found]) -> list[str]:
    """Return how one print's statements differ from its file, or from the files of its pieces."""
    if told.report["pieces"] is not None:
        return [*_pieces(told, files), *_among_themselves(told)]
    (found,) = files
    return [
        *_report(told, found),
        *_foot(told, found),
        *_lines(told, found),
        *_among_themselves(told),
    ]


def _near(told: float, found: float, error: float) -> bool:
    return abs(told - found) <= error + 1e-6 * abs(found)


def _error_mm(found: Found, side: int) -> float:
    """Return how far a side may be off because the format states resolutions coarsely."""
    assert found.ppi is not None and found.sides_mm is not None
    return found.sides_mm[side] * found.step / found.ppi[side] + 0.002


def _report(told: Told, found: Found) -> Iterator[str]:
    sheet, file = told.report["sheet"], told.report["file"]
    if (sheet["width_px"], sheet["height_px"]) != (found.width, found.height):
        yield f"report: {sheet['width_px']} × {sheet['height_px']} px, found {found}"
    if file["format"] != found.format:
        yield f"report: {file['format']}, found {found}"
    if found.bits and file["bits"] != found.bits:
        yield f"report: {file['bits']} bits, found {found}"
    if file["max_bytes"] is not None and found.bytes > file["max_bytes"]:
        yield f"report: at most {file['max_bytes']} bytes, found {found}"
    if found.ppi is None or (told.for_screen and found.format == "pdf"):
        return
    for at, key in enumerate(("tag_x", "tag_y")):
        tag = sheet[key][0] / sheet[key][1]
        if not _near(tag, found.ppi[at], found.step):
            yield f"report: {key} {tag}, found {found}"
    assert found.sides_mm is not None
    for at, key in enumerate(("width_mm", "height_mm")):
        if not _near(sheet[key], found.sides_mm[at], _error_mm(found, at)):
            yield f"report: {key} {sheet[key]}, found {found.sides_mm}"
    own = told.report["pixels"]
    for key, side, count in (
        ("tag_x", "width_mm", "width_px"),
        ("tag_y", "height_mm", "height_px"),
    ):
        mm = own[count] * own[key][1] / own[key][0] * 25.4
        if not _near(told.report["print"][side], mm, 1e-4):
            yield f"report: print {side} {told.report['print'][side]}, by pixels and tag {mm}"


def _foot(told: Told, found: Found) -> Iterator[str]:
    first, second = told.foot
    counts = pixels(first if told.for_screen else second)
    if counts != [(found.width, found.height)]:
        yield f"foot: {told.foot}, found {found}"
    kind = re.search(r"(TIFF|JPEG XL|JPEG|PNG|WebP|PDF)", second)
    if kind is None or KINDS[kind[1]] != found.format:
        yield f"foot: {second}, found {found}"
    depth = re.search(r"(\d+)-bit", second)
    if depth is not None and found.bits and int(depth[1]) != found.bits:
        yield f"foot: {second}, found {found}"
    if told.for_screen or found.ppi is None:
        return
    assert found.sides_mm is not None
    sizes = pairs(first)
    if not sizes:
        yield f"foot: no size in {first}"
        return
    wide, high, error = sizes[-1]  # the sheet, if there is one
    for at, side in enumerate((wide, high)):
        if not _near(side, found.sides_mm[at], error + _error_mm(found, at)):
            yield f"foot: {first}, found {found.sides_mm} mm"
    ((low, most),) = resolutions(first)
    if not low - found.step <= found.ppi[0] <= most + found.step:
        yield f"foot: {first}, found {found.ppi} ppi"


def _lines(told: Told, found: Found) -> Iterator[str]:
    decision, consequence = told.lines["file"]
    kind = re.match(r"(TIFF|JPEG XL|JPEG|PNG|WebP|PDF)", decision)
    if kind is None or KINDS[kind[1]] != found.format:
        yield f"File: {decision}, found {found}"
    limit = re.search(r"At most ([\d.]+) (kB|MB)", consequence)
    if limit is not None:
        most = (value_of(limit[1])[0] + value_of(limit[1])[1]) * {"kB": 1e3, "MB": 1e6}[limit[2]]
        if found.bytes > most:
            yield f"File: {consequence}, found {found}"
    grey = "Converted to grey" in consequence
    if grey and found.format not in ("webp", "pdf") and found.channels != 1:
        yield f"File: {consequence}, found {found}"
    decision, consequence = told.lines["pixels"]
    own, sheet = told.report["pixels"], told.report["sheet"]
    alone = (own["width_px"], own["height_px"]) == (sheet["width_px"], sheet["height_px"])
    wanted = (found.width, found.height) if alone else (own["width_px"], own["height_px"])
    if pixels(consequence)[:1] != [wanted]:
        yield f"Pixels: {consequence}, found {found}"
    if told.for_screen or found.ppi is None:
        return
    # on a sheet, whose sides are the exact ones, a picture is off by up to a pixel
    slack = found.step + (
        0 if alone else 1.6 * found.ppi[0] / min(own["width_px"], own["height_px"])
    )
    for low, high in resolutions(consequence):
        if not low - slack <= found.ppi[0] <= high + slack:
            yield f"Pixels: {consequence}, found {found.ppi}"
    scale = re.search(r"(?:nlarge|Reduce to) ([\d.]+) ×", decision)
    times, error = (1.0, 0.0) if scale is None else value_of(scale[1])
    if decision.startswith("Reduce to"):
        error = 0.0005
    low, high = resolutions(told.lines["size"][1])[0]
    if told.report["file"]["limited"] is not None:
        return  # the Size line then speaks of the limited file
    # a picture of few pixels is off by up to one of them
    slack = found.step + found.ppi[0] * 1.5 / min(own["width_px"], own["height_px"])
    if not low * (times - error) - slack <= found.ppi[0] <= high * (times + error) + slack:
        yield f"Size: {told.lines['size'][1]}, Pixels: {decision}, found {found.ppi}"


def _among_themselves(told: Told) -> Iterator[str]:
    grade = told.report["grade"]
    decision, consequence = told.lines["size"]
    if not consequence.lower().startswith(f"{grade}:"):
        yield f"Size: {consequence}, report: {grade}"
    if not told.for_screen:
        print_ = told.report["print"]
        # a long name stands behind the sides, a short one before them
        wide, high, error = pairs(decision)[0 if decision[:1].isdigit() else -1]
        if not (_near(wide, print_["width_mm"], error) and _near(high, print_["height_mm"], error)):
            yield f"Size: {decision}, report: {print_}"
        yield from _named(print_["label"], print_)
    crop = told.report["crop"]
    share = re.search(r"([\d.]+) % trimmed", told.lines["crop"][1])
    if share is not None and "Under" not in told.lines["crop"][1]:
        value, error = value_of(share[1])
        if not _near(value, crop["trimmed_share"] * 100, max(error, 0.5 if value >= 10 else 0.05)):
            yield f"Crop: {told.lines['crop'][1]}, report: {crop['trimmed_share']}"
    line = 1.5 / min(told.report["photo"][side] for side in ("width_px", "height_px"))
    if told.lines["crop"][1].startswith("Nothing") and crop["trimmed_share"] > max(0.002, line):
        yield f"Crop: {told.lines['crop'][1]}, report: {crop['trimmed_share']}"


def _named(label: str, print_: Mapping[str, Any]) -> Iterator[str]:
    """Check a label that names both sides, unless it names a box or a sheet to fit into."""
    if not label[:1].isdigit():
        return
    for wide, high, error in pairs(label)[:1]:
        wanted = print_["width_mm"], print_["height_mm"]
        if not all(
            _near(a, b, max(error, 0.06)) for a, b in zip((wide, high), wanted, strict=True)
        ):
            yield f"label: {label}, report: {wanted}"


def _pieces(told: Told, files: Sequence[Found]) -> Iterator[str]:
    each = told.report["pieces"]["each"]
    counted = re.search(r"in (\d+) pieces", told.foot[0] + told.foot[1])
    if len(each) != len(files) or (counted is not None and int(counted[1]) != len(files)):
        yield f"{len(each)} pieces, foot: {told.foot}, found {len(files)} files"
        return
    for piece, found in zip(each, files, strict=True):
        if piece["sheet_px"] != [found.width, found.height]:
            yield f"piece {piece['number']}: {piece['sheet_px']}, found {found}"
        if found.sides_mm is not None and not told.for_screen:
            for at in (0, 1):
                if not _near(piece["sheet_mm"][at], found.sides_mm[at], _error_mm(found, at)):
                    yield f"piece {piece['number']}: {piece['sheet_mm']} mm, found {found.sides_mm}"


def broken_name(path: Path, told: Told, rule: str | None) -> list[str]:
    """Return how the size in a file's name differs from its print's."""
    if rule not in (None, "{name}-{size}") or told.for_screen:
        return []
    print_ = told.report["print"]
    result = []
    for wide, high, error in pairs(path.stem.replace("_", " "))[-1:]:
        wanted = print_["width_mm"], print_["height_mm"]
        if not all(
            _near(a, b, max(error, 0.06)) for a, b in zip((wide, high), wanted, strict=True)
        ):
            result.append(f"name: {path.name}, report: {wanted}")
    return result


def broken_row(table: str, told: Told, found: Found, path: Path) -> list[str]:
    """Return how a batch's report (CSV, of one print) differs from the file."""
    (row,) = csv.DictReader(io.StringIO(table))
    sides = float(row["width_mm"]), float(row["height_mm"])
    print_ = told.report["print"]
    wrong = []
    if (int(row["width_px"]), int(row["height_px"])) != (found.width, found.height):
        wrong.append("pixels")
    if int(row["bytes"]) != found.bytes:
        wrong.append("bytes")
    if row["grade"] != told.report["grade"]:
        wrong.append("grade")
    if row["file"].lstrip("'") != path.name:
        wrong.append("file")
    if not all(
        _near(a, b, 1e-3)
        for a, b in zip(sides, (print_["width_mm"], print_["height_mm"]), strict=True)
    ):
        wrong.append("size")
    if found.ppi is not None and not told.for_screen:
        value, error = value_of(row["ppi"])
        if not _near(value, found.ppi[0], max(error, 0.05) + found.step):
            wrong.append("ppi")
    if not _near(float(row["trimmed_share"]), told.report["crop"]["trimmed_share"], 1e-3):
        wrong.append("trimmed")
    return [f"report's row: {', '.join(wrong)} in {dict(row)}, found {found}"] if wrong else []


def broken_notes(notes: str, told: Told, found: Found) -> list[str]:
    """Return how printing notes differ from the file."""
    rows = dict(re.findall(r"^(\w+(?: \w+)*)  +(.*)$", notes, re.MULTILINE))
    result = []
    print_ = told.report["print"]
    for label in ("Picture", "Check"):
        wide, high, error = pairs(rows[label])[0]
        if not (_near(wide, print_["width_mm"], error) and _near(high, print_["height_mm"], error)):
            result.append(f"notes: {label} {rows[label]}, report: {print_}")
    if found.sides_mm is not None:
        wide, high, error = pairs(rows["Paper size"])[0]
        for at, side in enumerate((wide, high)):
            if not _near(side, found.sides_mm[at], error + _error_mm(found, at)):
                result.append(f"notes: Paper size {rows['Paper size']}, found {found.sides_mm}")
    across = rows["Orientation"] == "across"
    if (
        found.sides_mm is not None
        and across != (found.sides_mm[0] > found.sides_mm[1])
        and (abs(found.sides_mm[0] - found.sides_mm[1]) > 0.01)
    ):
        result.append(f"notes: {rows['Orientation']}, found {found.sides_mm}")
    return result
