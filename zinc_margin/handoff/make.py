"""Make one file: whole or not at all, and never over the photo."""

from __future__ import annotations

import errno
import os
import shutil
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import BinaryIO, cast

from zinc_margin.handoff import conversion, fitting, names, pace
from zinc_margin.handoff.formats.registry import Writer
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.handoff.verification import differences_from_plan
from zinc_margin.keeping.files import digest_of
from zinc_margin.keeping.job import IDLE, Job, Journal
from zinc_margin.keeping.partials import partial_beside, record
from zinc_margin.keeping.settling import flush_folder, settle_new
from zinc_margin.measure.errors import CannotDo, ZincError
from zinc_margin.measure.words import size_in_bytes
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.model import PrintPlan


@dataclass(frozen=True)
class Written:
    """A finished file.

    Attributes
    ----------
    path : Path
    bytes : int
    seconds : float
    plan : PrintPlan
        The final plan; under a byte limit it may have fewer pixels or lower quality than planned.
    remark : str
        What else should be known, such as that the log could not be written; usually empty.
    """

    path: Path
    bytes: int
    seconds: float
    plan: PrintPlan
    remark: str = ""


def make_file(
    photo: Photo, plan: PrintPlan, out: Path, overwrite: bool = False, job: Job = IDLE
) -> Written:
    """Render a plan and write its file.

    Pixels go to a hidden partial file in the same folder, which gets the final name only once it is
    complete and on disk.

    Parameters
    ----------
    overwrite : bool
        Whether to replace an existing file (never the photo).

    Raises
    ------
    BadRequest, CannotDo, Cancelled
        The destination is then unchanged.
    """

    def write(part: Outgoing) -> PrintPlan:
        return _written_partial(part, photo, plan, job)

    return make_whole(photo, plan, out, overwrite, write, job)


def make_whole(
    photo: Photo,
    plan: PrintPlan,
    out: Path,
    overwrite: bool,
    write: Callable[[Outgoing], PrintPlan],
    job: Job = IDLE,
) -> Written:
    """Let `write` fill a partial file, then give it the final name.

    Parameters
    ----------
    overwrite : bool
        Whether to replace an existing file (never the photo).

    Raises
    ------
    BadRequest, CannotDo, Cancelled
        The destination is then unchanged.
    """
    started = time.monotonic()
    out = Path(os.path.abspath(out))
    # with a journal, another name is chosen if this one exists
    names.check_goal(photo.facts.path, out, overwrite or job.journal is not None)
    Writer(plan).check()
    _check_room(out, plan)
    part = partial_beside(out)
    try:
        with record(part) as note:
            with Outgoing(part, job) as file:
                plan = write(file)
                _check_written(file, plan)
            if overwrite:
                os.replace(part, out)
                flush_folder(out.parent)
            else:
                out = _settle(part, out, job.journal, note)
    except ZincError:
        raise
    except OSError as why:
        raise CannotDo(_sentence(why, out)) from why
    except MemoryError:
        raise CannotDo(
            f"The memory ran out while making {out.name}; nothing was written. Try a TIFF, "
            "which needs the least."
        ) from None
    seconds, size = time.monotonic() - started, out.stat().st_size
    pace.learn(plan, seconds)
    plan = replace(plan, file=replace(plan.file, written_bytes=size))
    return Written(out, size, seconds, plan)


def _written_partial(part: Outgoing, photo: Photo, plan: PrintPlan, job: Job) -> PrintPlan:
    if plan.file.max_bytes is not None:
        return fitting.write_within(part, photo, plan, job)
    result, icc = conversion.file_bands(photo, plan, job)
    Writer(plan).write(part, _flush(result, part, job), icc, photo.facts.path)
    return plan


_AT_ONCE = 64


def _flush(bands: Iterator[Codes], part: Outgoing, job: Job) -> Iterator[Codes]:
    """Pass bands on in slices, and start flushing while the next band is rendered.

    Slices let a cancellation take effect soon, even on a slow disk.
    """
    for band in bands:
        for top in range(0, len(band), _AT_ONCE):
            job.check()
            yield band[top : top + _AT_ONCE]
        part.let_go()


def _check_written(file: Outgoing, plan: PrintPlan) -> None:
    """Refuse a file that the disk did not store, that is incomplete, or that is not as planned."""
    file.check()
    if not Writer(plan).is_whole(cast(BinaryIO, file)):
        raise CannotDo(
            f"The {plan.file.format.upper()} came out incomplete; nothing was kept. Choose "
            "another format, and report this."
        )
    if file.received is None:  # pages of several prints: their writer knows no single plan
        return
    differs = differences_from_plan(cast(BinaryIO, file), plan, file.received)
    if differs:
        raise CannotDo(
            f"The {plan.file.format.upper()} is not as planned ({', '.join(differs)}); nothing "
            "was kept. This is a fault of the program: please report it."
        )


def _check_room(out: Path, plan: PrintPlan) -> None:
    # Only a TIFF's size is certain; for others, refuse only if far too little space is left.
    needed = plan.file.bytes_estimate * (1.0 if plan.file.format == "tiff" else 0.3)
    try:
        free = shutil.disk_usage(out.parent).free
    except OSError:
        return
    if needed > free:
        raise CannotDo(
            f"{out.name} needs {size_in_bytes(needed)}, but the disk has only "
            f"{size_in_bytes(free)} left; nothing was written. Make space, or choose another "
            "folder."
        )


def _settle(part: Path, out: Path, journal: Journal | None, note: Callable[[Path], None]) -> Path:
    """Give a finished partial its name, or another one if that was taken meanwhile."""
    digest = digest_of(part) if journal is not None else ""
    while True:
        if journal is not None:
            journal.note(out, digest)
        try:
            settle_new(part, out, note)
        except FileExistsError:
            if journal is None:
                raise CannotDo(
                    f"{out} appeared in the meantime and was kept. Choose another name."
                ) from None
            out = journal.another(out)
        else:
            return out


def _sentence(why: OSError, out: Path) -> str:
    if why.errno in (errno.ENOSPC, errno.EDQUOT):
        return (
            f"The disk is full; {out.name} was not written, and nothing else was changed. Make "
            "space, or choose another folder."
        )
    if why.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        return f"You don't have permission to write to {out.parent}. Choose another folder."
    if why.errno == errno.ENOENT:
        return f"The folder {out.parent} has disappeared; nothing was written."
    if why.errno == errno.EIO:
        return (
            f"The disk did not store {out.name} correctly, so it was removed; nothing else "
            "was changed. Write to another disk, and check this one."
        )
    if why.errno in (None, errno.ENOMEM):  # a library could not be loaded
        return f"There is not enough memory to make {out.name}; nothing was written."
    return f"{out.name} could not be written ({why.strerror or why}); nothing else was changed."
