"""Whatever is decided, a print's statements hold: they are compared with its files as others read
them.

``ZINC_PROMISES=500 pytest tests/promises`` runs so many cases of each kind.
"""

from __future__ import annotations

import contextlib
import io
import json
import os
import tempfile
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from tests.promises.cases import options, photos, small_dockets, write_photos
from tests.promises.promises import Told, broken, broken_name, broken_notes, broken_row
from tests.promises.reading import found_in
from zinc_margin.commands import main
from zinc_margin.commands.as_json import plan_report
from zinc_margin.facts.facts import Facts
from zinc_margin.handoff import checking, labs, print_log, report
from zinc_margin.handoff.batch import Batch, Item
from zinc_margin.handoff.machine import this_machine
from zinc_margin.handoff.piece_files import slip_goal
from zinc_margin.measure.errors import ZincError
from zinc_margin.measure.formats import formats
from zinc_margin.photo.header import read_header
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.ladder import Judge
from zinc_margin.plan.size.suitability import compare
from zinc_margin.plan.text.lines import entries, total

CASES = int(os.environ.get("ZINC_PROMISES", "40"))
many = settings(
    max_examples=CASES,
    suppress_health_check=[
        HealthCheck.too_slow,
        HealthCheck.filter_too_much,
        HealthCheck.function_scoped_fixture,
    ],
)
_MOST_PX = 500_000


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    return write_photos(tmp_path_factory.mktemp("photos"))


def told_of(facts: Facts, plan: Plan, units: str = "cm") -> Told:
    """What every screen and answer says of a plan."""
    lines = {
        name: (entry.decision, entry.consequence)
        for name, entry in entries(facts, plan, units).items()
    }
    return Told(json.loads(json.dumps(plan_report(facts, plan))), total(plan, units), lines)


def is_small(plan: Plan) -> bool:
    pieces = plan.pieces is None or len(plan.pieces.each) <= 6
    return pieces and plan.whole.width * plan.whole.height < _MOST_PX


def made_files(folder: Path, form: str) -> list[Path]:
    """The print's own files, without notes, reports and the map of pieces."""
    endings = formats()[form].endings
    paths = sorted(path for path in folder.rglob("*") if path.suffix in endings)
    return [path for path in paths if not path.stem.endswith("-map")]


def planned(facts: Facts, docket) -> Plan:
    try:
        result = make_plan(facts, docket, this_machine())
    except ZincError as why:
        assert str(why).endswith(".") and "\n" not in str(why)
        assume(False)
    assume(is_small(result))
    return result


@many
@given(st.sampled_from(sorted(photos())), small_dockets(), st.sampled_from(("cm", "in", "px/cm")))
def test_a_batch_keeps_its_promises(folder, name, docket, units):
    photo = read_photo(folder / name, page=docket.photo.page)
    before = planned(photo.facts, docket)
    with tempfile.TemporaryDirectory() as place:
        wrong = batch_of_one(Path(place), photo.facts, docket, before, units)
    assert not wrong, "\n".join(wrong)


def batch_of_one(place: Path, facts: Facts, docket, before: Plan, units: str) -> list[str]:
    """Make one photo as a batch; return all promises that were broken."""
    (item,) = Batch([Item(facts.path, docket)], place, jobs=1).work()
    if item.state != "made":
        assert item.state == "failed" and item.remark.endswith(".")
        assert "Something went wrong" not in item.remark and "fault" not in item.remark
        assert made_files(place, before.file.format) == []
        return []
    assert isinstance(item.plan, Plan) and item.goal is not None
    paths = made_files(place, before.file.format)
    if before.file.format == "pdf" and before.pieces is not None:
        return []  # its pages are checked with the pieces
    files = [found_in(path) for path in paths]
    told, after = told_of(facts, before, units), told_of(facts, item.plan, units)
    wrong = [] if told.uncertain else [f"before: {one}" for one in broken(told, files)]
    wrong += [f"after: {one}" for one in broken(after, files)]
    wrong += broken_list(facts, docket, before)
    if before.pieces is not None:
        return wrong
    (found,), (path,) = files, paths
    wrong += broken_row(report.table([item]), after, found, path)
    if docket.file.name is None:
        wrong += broken_name(path, after, docket.file.rule)
    if docket.file.printing_notes:
        wrong += broken_notes(slip_goal(path).read_text(), after, found)
    (logged,) = print_log.search(most=1)
    if (Path(logged.file).name, logged.bytes) != (path.name, found.bytes):
        wrong.append(f"log: {logged}, found {found}")
    if (
        found.ppi is not None
        and not after.for_screen
        and (abs(logged.ppi - found.ppi[0]) > found.step + 1e-3)
    ):
        wrong.append(f"log: {logged.ppi} ppi, found {found.ppi}")
    return wrong + broken_checks(item.plan, path)


def broken_list(facts: Facts, docket, plan: Plan) -> list[str]:
    """How the list of sizes and the comparison differ from the plan."""
    result = []
    row = compare([(facts, docket)], docket, this_machine())[0].plan
    if docket.crop.frame is None and (row.grade, row.pixels) != (plan.grade, plan.pixels):
        result.append(f"comparison: {row.grade}, {row.pixels}; plan: {plan.grade}, {plan.pixels}")
    if docket.size.size is None or docket.size.way is not None or docket.crop.frame is not None:
        return result
    if docket.finish.sheet is not None or plan.file.fit is not None:
        return result
    if docket.pixels.target is not None or docket.pixels.choice == "keep":
        return result
    rung = Judge(facts, docket, plan).fixed(docket.size.size)
    if rung.grade != plan.grade:
        result.append(f"list: {rung.grade}, plan: {plan.grade}")
    if abs(rung.trimmed_share - plan.trimmed_share) > 2 / min(facts.width, facts.height):
        result.append(f"list: {rung.trimmed_share}, plan: {plan.trimmed_share} trimmed")
    return result


def broken_checks(plan: Plan, path: Path) -> list[str]:
    """How what labs object to in the plan differs from what they object to in the file."""
    result = []
    size = plan.size
    if plan.sheet is not None and not plan.sheet.bleed_mm:
        size = replace(size, width_mm=plan.sheet.page.width_mm, height_mm=plan.sheet.page.height_mm)
    for lab in labs.every():
        first = {each.code for each in checking.check_plan(plan, path.stem, lab)}
        then = {each.code for each in checking.check(path, lab, size)}
        unsure = {"not-own-pixels", "bytes", "too-few-bytes"}
        if first - unsure != then - unsure:
            result.append(f"{lab.key}: plan {sorted(first)}, file {sorted(then)}")
    return result


@many
@given(st.sampled_from(sorted(photos())), options())
def test_the_command_line_keeps_its_promises(folder, name, typed):
    with tempfile.TemporaryDirectory() as place:
        wrong = by_command(folder / name, typed, Path(place))
    assert not wrong, "\n".join(wrong)


def run(*arguments: str) -> tuple[int, str, str]:
    said, errors = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(said), contextlib.redirect_stderr(errors):
        try:
            code = main(list(arguments))
        except SystemExit as end:
            code = int(end.code or 0)
    return code, said.getvalue(), errors.getvalue()


def by_command(photo: Path, typed: list[str], place: Path) -> list[str]:
    """Plan and make by the same options; return all promises that were broken."""
    code, said, errors = run("plan", str(photo), *typed, "--json")
    if code:
        assert code == 2 and errors.strip().endswith("."), errors
        assume(False)
    first = json.loads(said)
    sheet, pieces = first["sheet"], first["pieces"]
    assume(sheet["width_px"] * sheet["height_px"] < _MOST_PX)
    assume(pieces is None or len(pieces["each"]) <= 6)
    _, text, _ = run("plan", str(photo), *typed)
    code, said, errors = run("make", str(photo), *typed, "--out", f"{place}/", "--json")
    form = first["file"]["format"]
    if code:
        assert errors.strip().endswith(".") and "wrong" not in errors and "fault" not in errors
        assert made_files(place, form) == []
        return []
    if form == "pdf" and pieces is not None:
        return []
    paths = made_files(place, form)
    files = [found_in(path) for path in paths]
    then = json.loads(said)
    before = told_by(first, text)
    wrong = [] if before.uncertain else [f"plan: {one}" for one in broken(before, files)]
    after = replace(before, report=then)
    if not before.uncertain:
        wrong += [f"make: {one}" for one in broken(after, files)]
    written = then["written"] if isinstance(then["written"], list) else [then["written"]]
    if sorted((each["path"], each["bytes"]) for each in written) != [
        (str(path), found.bytes) for path, found in zip(paths, files, strict=True)
    ]:
        wrong.append(f"make: {written}, found {paths}, {files}")
    if pieces is None and not any(one.startswith("--name") for one in typed):
        wrong += broken_name(paths[0], after, None)
    return wrong


def told_by(answer: dict, text: str) -> Told:
    """Read the margin back from its text for a terminal."""
    rows = [row for row in text.splitlines() if not row.startswith(" " * 11 + "!")]
    names = ("photo", "size", "crop", "pixels", "sharpen", "finish", "file")
    lines = {name: (rows[2 * at][11:], rows[2 * at + 1][11:]) for at, name in enumerate(names)}
    return Told(answer, (rows[15], rows[16]), lines)


def test_a_canvas_of_few_pixels_states_its_files_resolution(folder, tmp_path):
    typed = ["--size", "6x4cm", "--wrap=8mm+4mm", "--wrap-own", "--ppi=36"]
    assert not by_command(folder / "worded.jpg", typed, tmp_path)


def test_the_photos_are_all_readable(folder):
    for name in photos():
        read_header(folder / name)
