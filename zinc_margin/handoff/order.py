"""Orders: files and a manifest in a folder, handed over to a lab, which answers with a receipt.

Sending that was cut off goes on: what is there with the right digest is not copied again.
"""

from __future__ import annotations

import json
import os
import shutil
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from threading import Event
from typing import Any

from zinc_margin.handoff.batch import digest_of
from zinc_margin.handoff.checking import check, seen
from zinc_margin.handoff.labs import Lab, find
from zinc_margin.keeping.files import save_whole, write_whole
from zinc_margin.measure.errors import BadRequest, Cancelled, CannotDo
from zinc_margin.measure.sizes import PrintSize

MANIFEST, RECEIPT = "order.json", "receipt.json"


@dataclass(frozen=True)
class Line:
    """One file of an order."""

    file: Path
    size: PrintSize
    copies: int = 1


def send(
    lines: Sequence[Line], lab: Lab, box: Path,
    progress: Callable[[float], None] | None = None, cancel: Event | None = None,
) -> dict[str, Any]:  # fmt: skip
    """Write an order into a lab's drop box, and return its receipt.

    Parameters
    ----------
    lines : sequence of Line
    lab : Lab
    box : Path
        The lab's drop box, a folder.
    progress : callable or None
        Told the share that is done, 0 to 1.
    cancel : Event or None
        Set by whoever wants it to stop.

    Raises
    ------
    BadRequest, CannotDo, Cancelled
        What was copied already stays, and another sending goes on from there.
    """
    if not lab.takes_orders:
        raise BadRequest(f"{lab.name} is a device; print on it, or send to a lab's counter.")
    named = [line.file.name for line in lines]
    if len(set(named)) < len(named):
        raise BadRequest("Two files of the order have one name; rename one of them.")
    try:
        box.mkdir(parents=True, exist_ok=True)
        entries = []
        for done, line in enumerate(lines):
            if cancel is not None and cancel.is_set():
                raise Cancelled
            entries.append(_sent(line, box))
            if progress is not None:
                progress((done + 1) / len(lines))
        manifest = {"zinc_margin_order": 1, "counter": lab.key, "files": entries}
        write_whole(box / MANIFEST, _json(manifest))
    except OSError as why:
        raise CannotDo(f"The order could not be put into {box}: {why.strerror or why}.") from None
    return received(box, lab)


def _sent(line: Line, box: Path) -> dict[str, Any]:
    digest, goal = digest_of(line.file), box / line.file.name
    if not (goal.is_file() and digest_of(goal) == digest):
        part = goal.with_name(f".{goal.name}.part")
        try:
            shutil.copyfile(line.file, part)
            os.replace(part, goal)
        finally:
            with suppress(OSError):
                part.unlink()
    return {
        "name": goal.name, "sha256": digest, "bytes": goal.stat().st_size, "copies": line.copies,
        "width_mm": str(line.size.width_mm), "height_mm": str(line.size.height_mm),
    }  # fmt: skip


def received(box: Path, lab: Lab | None = None) -> dict[str, Any]:
    """Read an order as the lab does, by its own means; write and return the receipt.

    Parameters
    ----------
    box : Path
        The lab's drop box, a folder.
    lab : Lab or None

    Raises
    ------
    BadRequest
        When there is no order in the box.
    """
    try:
        manifest = json.loads((box / MANIFEST).read_text("utf-8"))
        lab = lab or find(manifest["counter"])
        entries = list(manifest["files"])
    except (OSError, ValueError, KeyError, TypeError):
        raise BadRequest(f"There is no readable order in {box}.") from None
    answers = [_answer(box, entry, lab) for entry in entries]
    receipt = {
        "zinc_margin_receipt": 1,
        "counter": lab.key,
        "accepted": all(answer["accepted"] for answer in answers),
        "files": answers,
    }
    save_whole(box / RECEIPT, _json(receipt))
    return receipt


def _answer(box: Path, entry: dict[str, Any], lab: Lab) -> dict[str, Any]:
    path = box / Path(str(entry.get("name", ""))).name
    answer: dict[str, Any] = {"name": path.name, "accepted": False}
    if not path.is_file():
        return answer | {"reasons": ["The file did not arrive."]}
    if digest_of(path) != entry.get("sha256"):
        return answer | {"reasons": ["The file did not arrive whole: its digest is another."]}
    size = PrintSize("", Fraction(entry["width_mm"]), Fraction(entry["height_mm"]))
    reasons = [finding.text for finding in check(path, lab, size)]
    if not reasons and path.suffix.lower() != ".pdf":
        file = seen(path)
        answer |= {"width_px": file.width, "height_px": file.height, "profile": file.profile}
    return answer | {"accepted": not reasons, "reasons": reasons}


def _json(value: object) -> bytes:
    return (json.dumps(value, ensure_ascii=False, indent=2) + "\n").encode("utf-8")
