"""Orders: files and a manifest in a folder, given to a lab, which answers with a receipt.

Each order has its own folder in the lab's drop box, named after its contents. An interrupted order
can therefore be continued, with existing files recognised by digest, and orders cannot mix.
"""

from __future__ import annotations

import hashlib
import os
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from zinc_margin.gate.documents import document_text
from zinc_margin.gate.files import read_own
from zinc_margin.gate.values import length_from, list_of, name_from, text_from
from zinc_margin.gate.values import record as fields
from zinc_margin.handoff.checking import check, read_as_lab
from zinc_margin.handoff.labs import Lab, find
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.keeping.files import digest_of, save_whole, write_whole
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.keeping.partials import partial_beside, record
from zinc_margin.keeping.settling import flush_folder
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.sizes import PrintSize

_AT_ONCE = 1 << 20
MANIFEST, RECEIPT = "order.json", "receipt.json"
_ENTRY = fields(
    {"name": name_from, "sha256": text_from, "width_mm": length_from, "height_mm": length_from}
)
_ORDER = fields({"lab": text_from, "files": list_of(_ENTRY, most=10_000)})


@dataclass(frozen=True)
class Line:
    """One file of an order."""

    file: Path
    size: PrintSize
    copies: int = 1


def send(lines: Sequence[Line], lab: Lab, box: Path, job: Job = IDLE) -> dict[str, Any]:
    """Write an order into a lab's drop box, and return its receipt.

    Parameters
    ----------
    box : Path
        The lab's drop box; the order gets its own folder in it.

    Raises
    ------
    BadRequest, CannotDo, Cancelled
        Copied files stay, and sending again continues from there.
    """
    if not lab.takes_orders:
        raise BadRequest(
            f"{lab.name} is a device and accepts no orders. Print on it, or send to a lab."
        )
    named = [line.file.name for line in lines]
    if len(set(named)) < len(named):
        raise BadRequest("Two files of the order have the same name. Rename one of them.")
    try:
        digests = [digest_of(line.file) for line in lines]
        folder = box / order_name(lines, digests, lab)
        folder.mkdir(parents=True, exist_ok=True)
        if folder.is_symlink():
            raise CannotDo(f"{folder} is a link to another place; nothing was sent.")
        entries = []
        for done, (line, digest) in enumerate(zip(lines, digests, strict=True)):
            job.check()
            entries.append(_send_line(line, digest, folder))
            job.report((done + 1) / len(lines))
        manifest = {"zinc_margin_order": 1, "lab": lab.key, "files": entries}
        write_whole(folder / MANIFEST, _json(manifest))
    except OSError as why:
        raise CannotDo(f"The order could not be written to {box}: {why.strerror or why}.") from None
    return receive(folder, lab)


def order_name(lines: Sequence[Line], digests: Sequence[str], lab: Lab) -> str:
    """Return the name of an order's folder; the same order always has the same name.

    Parameters
    ----------
    digests : sequence of str
        SHA-256 of the files.
    """
    told = [lab.key, *(f"{digest} {line}" for line, digest in zip(lines, digests, strict=True))]
    return f"order-{hashlib.sha256(os.fsencode(chr(10).join(told))).hexdigest()[:12]}"


def _send_line(line: Line, digest: str, folder: Path) -> dict[str, Any]:
    goal = folder / line.file.name
    if goal.is_symlink() or not (goal.is_file() and digest_of(goal) == digest):
        _copy(line.file, goal, digest)
    return {
        "name": goal.name,
        "sha256": digest,
        "bytes": goal.stat().st_size,
        "copies": line.copies,
        "width_mm": str(line.size.width_mm),
        "height_mm": str(line.size.height_mm),
    }


def _copy(source: Path, goal: Path, digest: str) -> None:
    """Copy a file under an unpredictable name (against planted links), and verify its digest."""
    part = partial_beside(goal)
    with record(part):
        with source.open("rb") as given, Outgoing(part) as file:
            while piece := given.read(_AT_ONCE):
                file.write(piece)
            file.check()
        if digest_of(part) != digest:
            raise CannotDo(f"{source} changed while it was being sent. Send the order again.")
        os.replace(part, goal)
        flush_folder(goal.parent)


def receive(box: Path, lab: Lab | None = None) -> dict[str, Any]:
    """Read an order as the lab does, independently; write and return the receipt.

    Parameters
    ----------
    box : Path
        The order's folder.

    Raises
    ------
    BadRequest
        If there is no order in the box.
    """
    manifest = read_own(box / MANIFEST, _ORDER, None)
    if manifest is None:
        raise BadRequest(f"There is no readable order in {box}.")
    lab = lab or find(manifest["lab"])
    answers = [_answer(box, entry, lab) for entry in manifest["files"]]
    receipt = {
        "zinc_margin_receipt": 1,
        "folder": box.name,
        "lab": lab.key,
        "accepted": all(answer["accepted"] for answer in answers),
        "files": answers,
    }
    save_whole(box / RECEIPT, _json(receipt))
    return receipt


def _answer(box: Path, entry: dict[str, Any], lab: Lab) -> dict[str, Any]:
    path = box / Path(entry["name"]).name
    answer: dict[str, Any] = {"name": path.name, "accepted": False}
    if not path.is_file():
        return answer | {"reasons": ["The file did not arrive."]}
    if digest_of(path) != entry["sha256"]:
        return answer | {"reasons": ["The file arrived incomplete: its digest differs."]}
    size = PrintSize("", entry["width_mm"], entry["height_mm"])
    reasons = [finding.text for finding in check(path, lab, size)]
    if not reasons and path.suffix.lower() != ".pdf":
        file = read_as_lab(path)
        answer |= {"width_px": file.width, "height_px": file.height, "profile": file.profile}
    return answer | {"accepted": not reasons, "reasons": reasons}


def _json(value: object) -> bytes:
    return document_text(value).encode("utf-8")
