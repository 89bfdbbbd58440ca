"""Deliver a print: its file, or the files of its pieces, and printing notes."""

from __future__ import annotations

import os
from contextlib import suppress
from dataclasses import replace
from pathlib import Path

from zinc_margin.handoff import names, print_log
from zinc_margin.handoff.make import Written, make_file
from zinc_margin.handoff.piece_files import make_pieces, make_pieces_pdf, slip_goal, write_slip
from zinc_margin.keeping.files import check_ours
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.formats import formats
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.file.name import subfolder
from zinc_margin.plan.model import PrintPlan
from zinc_margin.plan.text.printing_notes import SLIP_TITLE, slip_text


def in_folder(photo: Path, plan: PrintPlan, folder: Path) -> Path:
    """Return the path of a plan's file in a folder, named by rule; for pieces the folder itself."""
    if many_files(plan):
        return folder
    return names.goal(photo, plan, folder=folder)


def many_files(plan: PrintPlan) -> bool:
    """Return whether a plan makes several files: pieces, except as pages of a PDF."""
    return plan.pieces is not None and plan.file.format != "pdf"


def deliver(
    photo: Photo, plan: PrintPlan, goal: Path, overwrite: bool = False, job: Job = IDLE
) -> list[Written]:
    """Make all files of a plan.

    Parameters
    ----------
    goal : Path
        A file; for pieces a folder (created if missing) or a PDF.
    overwrite : bool
        Whether to replace an existing file (never the photo).
    """
    made_folders = _folders_by_rule(photo, plan, goal)
    try:
        return _deliver_files(photo, plan, goal, overwrite, job)
    except BaseException:
        for folder in made_folders:
            with suppress(OSError):  # keep the folder if it contains files
                os.rmdir(folder)
        raise


def _folders_by_rule(photo: Photo, plan: PrintPlan, goal: Path) -> list[Path]:
    """Create missing folders of the rule; return them, innermost first.

    The folder that contains them must exist: it belongs to the user.
    """
    parts = subfolder(photo.facts.path, plan).parts
    above = list(goal.parents)[: len(parts)]
    if tuple(folder.name for folder in reversed(above)) != parts:
        return []  # the file has a typed name, not a rule
    missing = [folder for folder in above if not folder.is_dir()]
    if missing and goal.parents[len(parts)].is_dir():
        try:
            missing[0].mkdir(parents=True, exist_ok=True)
        except OSError as why:
            raise CannotDo(
                f"The folder {missing[0]} could not be created: {why.strerror}; nothing was "
                "written."
            ) from None
    return missing


def _deliver_files(
    photo: Photo, plan: PrintPlan, goal: Path, overwrite: bool, job: Job
) -> list[Written]:
    if plan.file.printing_notes and not many_files(plan):
        check_ours(slip_goal(goal), SLIP_TITLE)  # before anything is made
    if many_files(plan):
        if _is_file_name(goal) and not goal.is_dir():
            raise BadRequest(
                f"{_count(plan)} pieces need a folder (DIR/) or a .pdf, not {goal.name}."
            )
        is_new = ready(goal)
        try:
            result = make_pieces(photo, plan, goal, overwrite, job)
        except BaseException:
            if is_new:
                with suppress(OSError):  # keep the folder if it contains pieces
                    os.rmdir(goal)
            raise
    elif plan.pieces is not None:
        result = [make_pieces_pdf(photo, plan, goal, overwrite, job)]
    else:
        result = [make_file(photo, plan, goal, overwrite, job)]
    if plan.file.printing_notes:
        told = plan if plan.pieces is not None else result[0].plan
        write_slip(result[0].path, slip_text(told, result[0].path.name, plan.units))
    return [replace(one, remark=print_log.note(photo.facts, one.plan, one.path)) for one in result]


def _is_file_name(goal: Path) -> bool:
    return any(goal.suffix.lower() in form.endings for form in formats().values())


def _count(plan: PrintPlan) -> int:
    return 1 if plan.pieces is None else len(plan.pieces.each)


def ready(folder: Path) -> bool:
    """Create a folder if it is missing; return whether it was created."""
    try:
        if folder.is_dir():
            return False
        folder.mkdir()
    except OSError as why:
        raise CannotDo(f"The folder {folder} could not be created: {why.strerror}.") from None
    return True
