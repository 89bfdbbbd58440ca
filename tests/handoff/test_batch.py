"""Batches: whatever happens to one photo or to the batch, files are whole and made once."""

from __future__ import annotations

import base64
import csv
import hashlib
import io
import json
import os
import random
import re
import signal
import subprocess
import sys
import time
import unicodedata
from dataclasses import replace
from fractions import Fraction
from threading import Event, Thread

import numpy as np
import pytest
from PIL import Image

from tests.conftest import docket_of, photo_of
from zinc_margin.commands.program import main
from zinc_margin.docket import presets, store, versions
from zinc_margin.docket.docket import Docket, check_value
from zinc_margin.docket.presets import Preset
from zinc_margin.docket.versions import beside_or_fresh
from zinc_margin.handoff import make as making
from zinc_margin.handoff import names, report
from zinc_margin.handoff.batch import JOURNAL, Batch, Item, items_of, tally
from zinc_margin.handoff.delivery import deliver
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import BadRequest, Cancelled
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.endings import photos_in
from zinc_margin.plan.build import plan


def small(**known) -> Preset:
    docket = docket_of(
        "9x6cm", size={"ppi": Fraction(100)}, pixels={"choice": "resample"}, file={"format": "jpeg"}
    )
    return Preset("Small prints", "For the test", docket, **known)


@pytest.fixture
def folder(tmp_path, scene):
    photos = tmp_path / "photos"
    photos.mkdir()
    for n in range(6):
        shape = (300, 200) if n % 2 else (200, 300)
        Image.fromarray(scene(*shape, seed=n)).save(photos / f"kiln-{n}.jpg", quality=90)
    return photos


def made(folder, out, laid=None, **known):
    run = Batch(items_of(photos_in(folder), [laid or small()], beside_or_fresh), out, **known)
    run.work()
    return run.items


def test_every_photo_as_it_lies_and_a_report(folder, tmp_path):
    items = made(folder, tmp_path / "out")
    assert tally(items) == "6 made"
    sizes = set()
    for item in items:
        with Image.open(item.goal) as file:
            sizes.add(file.size)
            assert (file.width > file.height) == (item.plan.turned.width > item.plan.turned.height)
    assert sizes == {(354, 236), (236, 354)}
    page = report.write_report(items, tmp_path / "out", "Small prints").read_text("utf-8")
    assert page.count("data:image/jpeg;base64,") == 6 and "kiln-3.jpg" in page
    rows = list(csv.DictReader(io.StringIO((tmp_path / "out" / "report.csv").read_text("utf-8"))))
    assert len(rows) == 6 and {row["state"] for row in rows} == {"made"}
    for row, item in zip(rows, items, strict=True):
        assert row["sha256"] == hashlib.sha256(item.goal.read_bytes()).hexdigest()
        assert float(row["width_mm"]) in (90, 60)


def test_the_report_shows_prints_that_other_readers_cannot(folder, tmp_path):
    paged = replace(
        small(), docket=docket_of("9x6cm", size={"ppi": Fraction(100)}, file={"format": "pdf"})
    )
    items = made(folder, tmp_path / "out", paged)
    with pytest.raises(OSError):
        Image.open(items[0].goal)
    page = report.write_report(items, tmp_path / "out", "Pages").read_text("utf-8")
    pictures = re.findall(r"base64,([^\"]+)", page)
    sizes = [Image.open(io.BytesIO(base64.b64decode(each))).size for each in pictures]
    assert [width > height for width, height in sizes] == [
        item.plan.turned.width > item.plan.turned.height for item in items
    ]


def test_one_bad_photo_stops_no_other(folder, tmp_path):
    (folder / "kiln-2.jpg").write_bytes(b"\xff\xd8\xff nothing more")
    (folder / "notes.txt").write_text("not a picture")
    items = made(folder, tmp_path / "out")
    assert tally(items) == "5 made, 1 failed"
    (failed,) = [item for item in items if item.state == "failed"]
    assert failed.photo.name == "kiln-2.jpg" and "damaged" in failed.remark
    Image.fromarray(np.zeros((200, 300, 3), np.uint8)).save(folder / "kiln-2.jpg")
    run = Batch(items, tmp_path / "out")
    run.retry()
    run.work()
    assert tally(items) == "6 made"


def test_a_second_run_makes_nothing_again_unless_something_changed(folder, tmp_path):
    out = tmp_path / "out"
    first = made(folder, out)
    times = {item.goal: item.goal.stat().st_mtime_ns for item in first}
    again = made(folder, out)
    assert tally(again) == "6 made before"
    assert {item.goal: item.goal.stat().st_mtime_ns for item in again} == times
    first[0].goal.write_bytes(b"touched")
    first[1].goal.unlink()
    with Image.open(folder / "kiln-3.jpg") as photo:
        photo.transpose(Image.Transpose.FLIP_LEFT_RIGHT).save(folder / "kiln-3.jpg")
    third = made(folder, out)
    assert tally(third) == "3 made, 3 made before"
    assert first[0].goal.read_bytes() == b"touched"  # what it does not know it leaves


def test_photos_that_do_not_suit_are_set_aside(folder, tmp_path, scene):
    Image.fromarray(scene(600, 150)).save(folder / "wide.jpg")
    items = made(folder, tmp_path / "out", small(most_trimmed=Fraction(1, 10)))
    (aside,) = [item for item in items if item.state == "skipped"]
    assert aside.photo.name == "wide.jpg" and "would lose" in aside.remark
    page = report.write_report(items, tmp_path / "out", "Small prints").read_text("utf-8")
    assert page.count("data:image/jpeg;base64,") == 7  # what it would have been is shown, too
    size = {"ppi": Fraction(40)}
    large = replace(
        small(too_small="skip"),
        docket=docket_of("60x40cm", size=size, pixels={"method": "lanczos"}),
    )
    assert {item.state for item in made(folder, tmp_path / "large", large)} == {"skipped"}
    grown = replace(large, too_small="enlarge")
    items = made(folder, tmp_path / "grown", grown)
    assert {item.plan.pixels.choice for item in items} == {"enlarge"}


def test_it_waits_when_asked_and_stops_when_asked(folder, tmp_path):
    seen: list[str] = []
    paused, third = Event(), Event()

    def changed(item):
        seen.append(item.state)
        if item.state == "made" and seen.count("made") == 2:
            batch.pause()
            paused.set()
        if item.state == "made" and seen.count("made") == 3:
            batch.job.cancel()
            third.set()

    items = items_of(photos_in(folder), [small()], beside_or_fresh)
    batch = Batch(items, tmp_path / "out", changed, jobs=1)

    def work():
        with pytest.raises(Cancelled):
            batch.work()

    worker = Thread(target=work)
    worker.start()
    assert paused.wait(120) and batch.paused
    # nothing was begun while it waited: the third begins after it was told to go on
    assert seen.count("making") == 2
    seen.append("continue")
    batch.go_on()
    assert third.wait(120)
    worker.join(120)
    assert not worker.is_alive()
    assert seen.index("continue") < [n for n, state in enumerate(seen) if state == "making"][2]
    assert all(item.state in ("made", "waiting") for item in batch.items)


def test_two_photos_of_one_name_get_two_files(tmp_path, scene):
    for place in ("a", "b"):
        (tmp_path / place).mkdir()
        Image.fromarray(scene(300, 200, seed=ord(place))).save(tmp_path / place / "kiln.jpg")
    photos = [tmp_path / place / "kiln.jpg" for place in ("a", "b")]
    run = Batch(items_of(photos, [small()], beside_or_fresh), tmp_path / "out")
    run.work()
    assert len({item.goal for item in run.items}) == 2


@pytest.mark.parametrize("kills", [4])
def test_killed_at_any_moment_it_goes_on(tmp_path, scene, kills):
    photos = tmp_path / "photos"
    photos.mkdir()
    for n in range(10):
        Image.fromarray(scene(500, 340, seed=n)).save(photos / f"p{n}.jpg")
    before = {path: path.read_bytes() for path in photos.iterdir()}
    laid = tmp_path / "small.json"
    presets.save(small(), laid)
    out = tmp_path / "out"
    command = [
        sys.executable,
        "-m",
        "zinc_margin.commands",
        "batch",
        str(photos),
        "--preset",
        str(laid),
        "--out",
        str(out),
    ]
    moments = random.Random(4)
    for _ in range(kills):
        process = subprocess.Popen(command, stderr=subprocess.DEVNULL, stdout=subprocess.DEVNULL)
        end = time.monotonic() + 1.2 + moments.random() * 2.5
        while time.monotonic() < end and process.poll() is None:
            time.sleep(0.02)
        if process.poll() is None:
            os.kill(process.pid, signal.SIGKILL)
        process.wait()
    assert subprocess.run(command, capture_output=True).returncode == 0
    files = sorted(out.glob("*.jpg"))
    assert len(files) == 10, "every file once"
    for path in files:
        with Image.open(path) as image:
            image.load()
    assert not list(out.glob(".*.part"))
    assert {path: path.read_bytes() for path in photos.iterdir()} == before


def test_killed_before_it_wrote_a_name_it_takes_no_other_file_for_its_own(folder, tmp_path):
    out = tmp_path / "out"
    items = made(folder, out)
    journal = json.loads((out / JOURNAL).read_text())
    for entry in journal["photos"].values():
        entry["done"] = False
    (out / JOURNAL).write_text(json.dumps(journal))
    # killed between the name and the journal: what has its digest is whole, and its own
    assert tally(made(folder, out)) == "6 made before"
    items[0].goal.write_bytes(items[1].goal.read_bytes())
    (out / JOURNAL).write_text(json.dumps(journal))
    again = made(folder, out)
    assert tally(again) == "1 made, 5 made before"
    assert again[0].goal != items[0].goal
    assert items[0].goal.read_bytes() == items[1].goal.read_bytes()


@pytest.mark.parametrize(
    "name", ["../outside.jpg", "{outside}", "link.jpg", "sub/../../outside.jpg"]
)
def test_the_names_in_a_journal_never_leave_its_folder(folder, tmp_path, name):
    out = tmp_path / "out"
    first = made(folder, out)[0]
    outside = tmp_path / "outside.jpg"
    outside.write_bytes(first.goal.read_bytes())
    first.goal.unlink()
    (out / "sub").mkdir()
    (out / "link.jpg").symlink_to(outside)
    text = (out / JOURNAL).read_text()
    named = name.replace("{outside}", str(outside))
    (out / JOURNAL).write_text(text.replace(first.goal.name, named))
    again = made(folder, out)
    assert tally(again) == "1 made, 5 made before"
    assert again[0].goal == first.goal and outside.exists()


@pytest.mark.parametrize(
    "spoil",
    [
        lambda entry: entry.update(files=[1]),
        lambda entry: entry.update(files="x", digests=None),
        lambda entry: entry.update(files=["a\0b"]),
        lambda entry: entry.pop("digests"),
        lambda entry: entry.clear(),
        lambda entry: entry.update(key=[]),
    ],
)
def test_an_entry_that_is_none_costs_one_making(folder, tmp_path, spoil):
    out = tmp_path / "out"
    made(folder, out)
    journal = json.loads((out / JOURNAL).read_text())
    spoil(next(iter(journal["photos"].values())))
    (out / JOURNAL).write_text(json.dumps(journal))
    assert tally(made(folder, out)) == "1 made, 5 made before"


def test_two_batches_in_one_folder_keep_each_others_entries(tmp_path, scene):
    """Like-named photos of two folders, made at once: each file once, and each found again."""
    batches = []
    for place in ("a", "b"):
        (tmp_path / place).mkdir()
        for n in range(4):
            path = tmp_path / place / f"kiln-{n}.jpg"
            Image.fromarray(scene(300, 200, seed=n + ord(place))).save(path)
        photos = photos_in(tmp_path / place)
        batches.append(Batch(items_of(photos, [small()], beside_or_fresh), tmp_path / "out"))
    workers = [Thread(target=batch.work) for batch in batches]
    for worker in workers:
        worker.start()
    for worker in workers:
        worker.join(240)
    assert [tally(batch.items) for batch in batches] == ["4 made", "4 made"]
    goals = {item.goal: item.digest for batch in batches for item in batch.items}
    assert len(goals) == 8
    assert all(hashlib.sha256(path.read_bytes()).hexdigest() == sha for path, sha in goals.items())
    for batch in batches:
        again = Batch(
            [Item(item.photo, item.docket, item.preset) for item in batch.items], tmp_path / "out"
        )
        again.work()
        assert tally(again.items) == "4 made before"


def test_a_name_that_is_taken_while_a_file_is_made_is_counted_up(folder, tmp_path, monkeypatch):
    out = tmp_path / "out"
    rendered = making._written_partial

    def meanwhile(part, *arguments):
        result = rendered(part, *arguments)
        goal = part.path.with_name(part.path.name[1:].rsplit(".", 2)[0])
        if not goal.exists():
            goal.write_bytes(b"somebody else's")
        return result

    monkeypatch.setattr(making, "_written_partial", meanwhile)
    items = made(folder, out)
    assert tally(items) == "6 made"
    assert all(item.goal.stem.endswith("-2") for item in items)
    monkeypatch.undo()
    assert tally(made(folder, out)) == "6 made before"


def test_names_that_some_disks_take_for_one_are_told_apart(tmp_path, scene):
    photos = []
    for place, name in (("a", "Kiln"), ("b", "kiln"), ("c", "f\u00fcr"), ("d", "fu\u0308r")):
        (tmp_path / place).mkdir()
        photos.append(tmp_path / place / f"{name}.jpg")
        Image.fromarray(scene(300, 200, seed=ord(place))).save(photos[-1])
    run = Batch(items_of(photos, [small()], beside_or_fresh), tmp_path / "out")
    run.work()
    stems = {unicodedata.normalize("NFC", item.goal.name).casefold() for item in run.items}
    assert len(stems) == 4


def test_pieces_that_were_cut_off_are_made_anew(tmp_path, scene):
    (tmp_path / "photos").mkdir()
    Image.fromarray(scene(300, 200)).save(tmp_path / "photos" / "wall.jpg")
    finish = replace(small().docket.finish, pieces=parse_size("5x5cm"))
    laid = replace(small(), docket=replace(small().docket, finish=finish))
    out = tmp_path / "out"
    (whole,) = made(tmp_path / "photos", out, laid)
    assert whole.state == "made"
    held = sorted(path.name for path in whole.goal.parent.iterdir())
    journal = json.loads((out / JOURNAL).read_text())
    (entry,) = journal["photos"].values()
    assert len(entry["files"]) == len(entry["digests"]) > 1
    for path in whole.goal.parent.iterdir():
        if str(path.relative_to(out)) not in entry["files"][:1]:
            path.unlink()
    entry.update(done=False, files=entry["files"][:1], digests=entry["digests"][:1])
    (out / JOURNAL).write_text(json.dumps(journal))
    (again,) = made(tmp_path / "photos", out, laid)
    assert again.state == "made" and again.goal == whole.goal
    assert sorted(path.name for path in again.goal.parent.iterdir()) == held


def test_what_failed_keeps_its_name_when_it_is_tried_again(folder, tmp_path, monkeypatch):
    def full(part, *arguments):
        raise OSError(28, "full")

    monkeypatch.setattr(making, "_written_partial", full)
    run = Batch(items_of(photos_in(folder), [small()], beside_or_fresh), tmp_path / "out")
    run.work()
    assert tally(run.items) == "6 failed"
    monkeypatch.undo()
    run.retry()
    run.work()
    assert tally(run.items) == "6 made"
    assert not any(item.goal.stem.endswith("-2") for item in run.items)


def test_a_broken_journal_only_costs_time(folder, tmp_path):
    out = tmp_path / "out"
    made(folder, out)
    (out / JOURNAL).write_text("{ broken")
    items = made(folder, out)
    assert tally(items) == "6 made" and len(list(out.glob("*.jpg"))) == 12


# presets


def test_a_standing_docket_is_kept_found_and_handed_on(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    mine = small(too_small="skip", most_trimmed=Fraction(1, 5))
    assert presets.from_json(presets.to_json(mine)) == mine
    presets.keep(mine)
    assert presets.find("small prints") == mine and presets.own() == (mine,)
    (presets.usual_folder() / "broken.json").write_text("{")
    assert presets.own() == (mine,)
    with pytest.raises(BadRequest, match=r"Unknown preset .* Choose one of: Small prints; Album"):
        presets.find("nothing like it")
    with pytest.raises(BadRequest, match="most_trimmed"):
        presets.from_json(presets.to_json(mine).replace('"0.2"', '"2"'))
    with pytest.raises(BadRequest, match=r"size\.ppi"):
        presets.from_json(presets.to_json(mine).replace('"ppi": 100', '"ppi": -1'))


def test_the_shipped_set_can_be_laid_on_any_photo():
    from tests.conftest import facts_of
    from zinc_margin.plan.build import plan

    assert len(presets.shipped_presets()) >= 5
    for each in presets.shipped_presets():
        assert each.about
        for shape in ((6000, 4000), (3000, 4500), (900, 600)):
            plan(facts_of(*shape), each.docket_for())


def test_what_belongs_to_the_photo_stays():
    own = replace(Docket(), crop=replace(Docket().crop, turn=Fraction(2), mirror=True))
    laid = small().docket_for(own)
    assert laid.crop.turn == 2 and laid.crop.mirror and laid.size.size == parse_size("9x6cm")


def test_the_commands(folder, tmp_path, capsys, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    store.save(small().docket, tmp_path / "d.json")
    assert main(["preset", "--keep", "Mine", "--docket", str(tmp_path / "d.json")]) == 0
    assert main(["preset"]) == 0
    assert capsys.readouterr().out.count("Mine") == 1
    look = tmp_path / "look.html"
    asked = ["batch", str(folder), "--preset", "mine", "--out", str(tmp_path / "out")]
    assert main([*asked, "--look", str(look)]) == 0
    assert look.read_text().count("base64,") == 6 and not (tmp_path / "out").exists()
    assert main(asked) == 0
    assert "6 made. Report:" in capsys.readouterr().out
    (folder / "bad.png").write_bytes(b"\x89PNG\r\n\x1a\n")
    assert main(asked) == 1
    told = capsys.readouterr()
    assert "1 failed" in told.out and "bad.png  failed" in told.err
    assert main(["batch", str(tmp_path / "nowhere"), "--out", str(tmp_path / "o")]) == 2


def test_folders_by_rule_are_made_inside_the_runs_folder_and_stay_inside(folder, tmp_path):
    laid = small()
    ruled = replace(
        laid.docket.file,
        folder_rule="{project}/{size} {version}/..x/{author}",
        project="../Kiln: walls",
    )
    laid = replace(laid, docket=replace(laid.docket, file=ruled))
    out = tmp_path / "out"
    items = made(folder, out, laid)
    assert tally(items) == "6 made"
    inside = {str(item.goal.parent.relative_to(out)) for item in items}
    assert inside == {f"-Kiln- walls/{size} 9 × 6 cm/x" for size in ("9x6cm", "6x9cm")}
    # another day, everything is found where it lies
    assert tally(made(folder, out, laid)) == "6 made before"
    for wrong in ("{shutter}/x", "a/../b", "{name"):
        with pytest.raises(BadRequest, match=r"file\.folder_rule must be folders"):
            check_value("file", "folder_rule", wrong)


def test_a_folder_by_rule_goes_again_when_its_file_could_not_be_made(folder, tmp_path, capsys):
    words = ["make", str(folder / "kiln-1.jpg"), "--size", "9x6cm", "--format", "jpeg"]
    out = tmp_path / "out"
    assert main([*words, "--folders", "{size}", "--out", f"{out}/"]) == 0
    assert (out / "9x6cm" / "kiln-1-9x6cm.jpg").is_file()
    assert main([*words, "--folders", "taken/{size}", "--out", f"{out}/"]) == 0
    blocked = tmp_path / "blocked"
    blocked.mkdir()
    (blocked / "9x6cm").write_bytes(b"a file where a folder is wanted")
    assert main([*words, "--folders", "{size}/in", "--out", f"{blocked}/"]) == 1
    assert "could not be created" in capsys.readouterr().err
    assert (blocked / "9x6cm").read_bytes().startswith(b"a file")


def test_a_folder_by_rule_is_not_left_behind_by_a_file_that_was_stopped(tmp_path):
    photo = photo_of(np.zeros((60, 90, 3), np.uint8))
    stopped = Job()
    stopped.cancel()
    docket = docket_of(
        "9x6cm",
        size={"ppi": Fraction(100)},
        pixels={"choice": "resample"},
        file={"folder": str(tmp_path), "folder_rule": "a/{size}"},
    )
    made_plan = plan(photo.facts, docket)
    goal = names.goal(photo.facts.path, made_plan)
    assert goal.parent == tmp_path / "a" / "9x6cm"
    with pytest.raises(Cancelled):
        deliver(photo, made_plan, goal, False, stopped)
    assert list(tmp_path.iterdir()) == []


def test_every_file_of_a_run_can_be_held_against_a_counter(folder, tmp_path, capsys):
    out = tmp_path / "out"
    words = ["batch", str(folder), "--out", str(out), "--against", "lab:book-press"]
    presets.save(small(), tmp_path / "small.json")
    assert main([*words, "--preset", str(tmp_path / "small.json")]) == 1
    assert "Estuary book press would refuse 6 of them." in capsys.readouterr().out
    rows = list(csv.DictReader(io.StringIO((out / "report.csv").read_text())))
    assert all("accepts PDF or TIFF" in row["check"] for row in rows)
    assert "accepts PDF or TIFF" in (out / "report.html").read_text()
    # what is there and whole is not made again, but checked for another lab
    words[-1] = "device:projector"
    assert main([*words, "--preset", str(tmp_path / "small.json")]) == 0
    assert "6 made before" in capsys.readouterr().out
    assert (out / "report.html").read_text().count("The lab would accept it.") == 6


def test_looking_through_shows_each_version_its_own_crop(folder, tmp_path):
    docket = small().docket
    wide = replace(docket, version="wide", size=replace(docket.size, size=parse_size("12x3cm")))
    versions.save((docket, wide), store.beside(folder / "kiln-1.jpg"))
    page = tmp_path / "look.html"
    words = ["batch", str(folder / "kiln-1.jpg"), "--out", str(tmp_path / "o"), "--look", str(page)]
    assert main(words) == 0
    pictures = re.findall(r"base64,([^\"]+)", page.read_text())
    shapes = [Image.open(io.BytesIO(base64.b64decode(each))).size for each in pictures]
    assert [round(w / h, 1) for w, h in shapes] == [1.5, 4.0]
